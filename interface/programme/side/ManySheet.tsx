'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, type RefObject } from 'react';
import { renameGroup } from '@/core/programme/edits/groups';
import { GROUP_GAIN } from '@/core/programme/gainField';
import { wholeGroup } from '@/core/programme/groups';
import type { Clip, Group } from '@/core/programme/model';
import { figure } from '@/core/text/figures';
import { Later } from '../../ui/Later';
import { LevelMark, type Standing } from '../../ui/LevelMark';
import { commandOf } from '../../commands/commands';
import { NameField } from '../../editing/NameField';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { clipLevel } from '@/core/check/clipLevel';
import { gainText } from '../clipLevel';
import { GainField } from '../../editing/GainField';
import { ClipLimiters } from '../limiter/LimiterBox';
import { PasteButtons } from '../points/CurveBox';
import { FadeBox } from './FadeBox';
import { DuckButton } from '../duck/DuckButton';
import { SectionBox } from '../sections/SectionBox';
import { SetField } from './SetField';
import { SolveBox } from './SolveBox';
import { useGainActions } from './useGainActions';

const STANDINGS: readonly (readonly [Standing, string])[] = [
  ['over', 'over the target'],
  ['within', 'on the target'],
  ['under', 'under the target'],
  ['unknown', 'without loudness'],
];

/** How many are chosen; of a group its name, which can be changed, and the way out of it. */
function Heading({ clips, group }: { clips: readonly Clip[]; group: Group | null }) {
  const session = useSession();
  const run = (id: string): void => {
    const { selection: ids } = session.state;
    commandOf(id).run({ session, stage: session.stage, ids, focused: null, go: () => undefined });
  };
  return (
    <Box>
      {group && (
        <NameField
          label="Name of the group"
          name={group.name}
          most={60}
          onName={(name) =>
            session.do(`Rename group to ${name}`, (project) => renameGroup(project, group.id, name))
          }
          sx={{ fontWeight: 600, fontSize: 15, width: '100%' }}
        />
      )}
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Typography variant={group ? 'body2' : 'h2'} sx={{ flex: 1 }}>
          {group ? `Group of ${count(clips.length, 'clip')}` : `${count(clips.length, 'clip')} selected`}
        </Typography>
        <Button color="inherit" onClick={() => run(group ? 'ungroup' : 'group')}>
          {group ? 'Ungroup' : 'Group'}
        </Button>
      </Box>
    </Box>
  );
}

interface Props {
  readonly clips: readonly Clip[];
  readonly gainField: RefObject<HTMLInputElement | null>;
  readonly onOpenLevel: () => void;
  readonly onFindParts: () => void;
}

/** Several chosen clips: where they stand, and one figure for all of them. */
export function ManySheet({ clips, gainField, onOpenLevel, onFindParts }: Props) {
  const session = useSession();
  const project = useProject();
  const measurements = useSessionState((state) => state.clipMeasurements);
  const { enter, reset, remove } = useGainActions(clips);
  const levels = useMemo(
    () => {
      const measurementOf = session.clipMeasurements(project);
      return clips.map((clip) => clipLevel(measurementOf(clip), clip.gain.db, project.target));
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [clips, project, session, measurements],
  );
  const group = useMemo(() => wholeGroup(project, new Set(clips.map(({ id }) => id))), [project, clips]);
  const gains = clips.map((clip) => clip.gain.db);
  const [lowest, highest] = [Math.min(...gains), Math.max(...gains)];
  const loudness = levels.flatMap((level) => level.lufs ?? []);
  const overCeiling = levels.filter((level) => level.overCeiling).length;
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <Heading clips={clips} group={group} />
      <Box sx={{ fontSize: 13 }}>
        {STANDINGS.map(([standing, words]) => {
          const n = levels.filter((level) => level.standing === standing).length;
          return (
            n > 0 && (
              <Box key={standing} sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
                <LevelMark standing={standing} /> {n} {words}
              </Box>
            )
          );
        })}
        {loudness.length > 0 && (
          <Box sx={{ color: 'text.secondary', mt: 0.5 }}>
            From {figure(Math.min(...loudness))} to {figure(Math.max(...loudness))} LUFS
          </Box>
        )}
        {overCeiling > 0 && (
          <Box sx={{ color: 'level.over' }}>▲ {overCeiling} over the true-peak ceiling</Box>
        )}
      </Box>
      <Box>
        {group ? (
          <GainField
            key={group.id}
            label="Group gain (dB)"
            value={group.gain.db}
            range={GROUP_GAIN}
            inputRef={gainField}
            onEntry={enter}
          />
        ) : (
          <GainField
            label="Gain of each (dB)"
            value={lowest === highest ? lowest : null}
            inputRef={gainField}
            onEntry={enter}
          />
        )}
        <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 0.5 }}>
          {group && 'Its clips: '}
          {lowest === highest
            ? `all at ${gainText(lowest)}`
            : `from ${gainText(lowest)} to ${gainText(highest)}`}
        </Box>
        <Box sx={{ display: 'flex', gap: 1, mt: 1, flexWrap: 'wrap' }}>
          <Button variant="outlined" onClick={onOpenLevel}>
            Level…
          </Button>
          <DuckButton clips={clips} />
          <Button variant="outlined" onClick={() => session.stage?.evenOut()}>
            Even out…
          </Button>
          <Button color="inherit" onClick={reset}>
            Reset gain
          </Button>
        </Box>
      </Box>
      <Later>
        <SectionBox clips={clips} onFindParts={onFindParts} />
        <FadeBox clips={clips} />
        <PasteButtons clips={clips} />
        <ClipLimiters ids={clips.map(({ id }) => id)} who={count(clips.length, 'clip')} />
        <SolveBox clips={clips} />
        <SetField clips={clips} />
        <Button color="inherit" onClick={remove} sx={{ alignSelf: 'start' }}>
          Remove {count(clips.length, 'clip')}
        </Button>
      </Later>
    </Box>
  );
}
