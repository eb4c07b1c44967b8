'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, type RefObject } from 'react';
import type { Clip } from '@/core/programme/model';
import { figure } from '@/core/text/figures';
import { LevelMark, type Standing } from '../parts/LevelMark';
import { count } from '../parts/words';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { clipLevel, gainText } from './clipLevel';
import { GainField } from './GainField';
import { SolveBox } from './SolveBox';
import { useGainActions } from './useGainActions';

const STANDINGS: readonly (readonly [Standing, string])[] = [
  ['over', 'over the target'],
  ['within', 'on the target'],
  ['under', 'under the target'],
  ['unknown', 'without loudness'],
];

interface Props {
  readonly clips: readonly Clip[];
  readonly gainField: RefObject<HTMLInputElement | null>;
  readonly onOpenLevel: () => void;
}

/** Several chosen clips: where they stand, and one figure for all of them. */
export function ManySheet({ clips, gainField, onOpenLevel }: Props) {
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
  const gains = clips.map((clip) => clip.gain.db);
  const [lowest, highest] = [Math.min(...gains), Math.max(...gains)];
  const loudness = levels.flatMap((level) => level.lufs ?? []);
  const overCeiling = levels.filter((level) => level.overCeiling).length;
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <Typography variant="h2">{count(clips.length, 'clip')} chosen</Typography>
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
        <GainField
          label="Gain of each (dB)"
          value={lowest === highest ? lowest : null}
          inputRef={gainField}
          onEntry={enter}
        />
        <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 0.5 }}>
          {lowest === highest
            ? `All at ${gainText(lowest)}`
            : `From ${gainText(lowest)} to ${gainText(highest)}`}
        </Box>
        <Box sx={{ display: 'flex', gap: 1, mt: 1, flexWrap: 'wrap' }}>
          <Button variant="outlined" onClick={onOpenLevel}>
            Level…
          </Button>
          <Button color="inherit" onClick={reset}>
            Reset to as recorded
          </Button>
        </Box>
      </Box>
      <SolveBox clips={clips} />
      <Button color="inherit" onClick={remove} sx={{ alignSelf: 'start' }}>
        Remove {count(clips.length, 'clip')}
      </Button>
    </Box>
  );
}
