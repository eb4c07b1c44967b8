'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMemo, type RefObject } from 'react';
import { readClip } from '@/core/measuring/clipReading';
import { moveClips } from '@/core/programme/edits/clips';
import { groupDbOf, outermostOf } from '@/core/programme/groups';
import { programmeFrames, type Clip } from '@/core/programme/model';
import { clock, figure } from '@/core/text/figures';
import { Fold } from '../../ui/Fold';
import { FIGURE_ROWS } from '../../ui/figureRows';
import { LevelMark } from '../../ui/LevelMark';
import { reasonWords } from '@/core/proposals/reasonWords';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { clipLevel } from '@/core/check/clipLevel';
import { isAsRecorded } from '../ledger/columns';
import { gainText, levelWords } from '../clipLevel';
import { ClipLimiters } from '../limiter/LimiterBox';
import { CurveBox } from '../points/CurveBox';
import { ChannelBox } from './ChannelBox';
import { FadeBox } from './FadeBox';
import { JoinBox } from './JoinBox';
import { GainField } from '../../editing/GainField';
import { PlaceField } from '../../editing/PlaceField';
import { DuckButton } from '../duck/DuckButton';
import { SectionBox } from '../sections/SectionBox';
import { SetField } from './SetField';
import { openRide } from '../ride/openRide';
import { SpeechBox } from './SpeechBox';
import { SolveBox } from './SolveBox';
import { useGainActions } from './useGainActions';

function TrackField({ clip }: { clip: Clip }) {
  const session = useSession();
  const { tracks } = useProject();
  return (
    <TextField
      select
      label="Track"
      value={clip.trackId}
      onChange={(event) => {
        const trackId = event.target.value;
        session.do(`Move ${clip.name}`, (project) =>
          moveClips(project, new Set([clip.id]), 0, { clipId: clip.id, trackId }),
        );
      }}
      sx={{ flex: 1 }}
    >
      {tracks.map((track) => (
        <MenuItem key={track.id} value={track.id} dense>
          {track.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** How a clip's gain came about, and all that it sounds with. */
function GainTold({ clip }: { clip: Clip }) {
  const project = useProject();
  const trackDb = project.tracks.find(({ id }) => id === clip.trackId)?.gainDb ?? 0;
  const groupsDb = clip.groupId === null ? 0 : groupDbOf(project)(clip.groupId);
  const { gain, trimDb } = clip;
  const besides = [
    ...(trimDb !== 0 ? [`source trim ${gainText(trimDb)}`] : []),
    ...(groupsDb !== 0 ? [`group ${gainText(groupsDb)}`] : []),
    ...(trackDb !== 0 ? [`track ${gainText(trackDb)}`] : []),
  ];
  const bare = gain.reason.kind === 'asRecorded' && !isAsRecorded(clip, { trackDb, groupsDb });
  return (
    <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 0.5 }} data-gain-reason>
      {gainText(gain.db)}, last change {gainText(gain.lastChangeDb)};{' '}
      {bare ? 'no clip gain' : reasonWords(gain.reason)}.
      {besides.length > 0 &&
        ` Total ${gainText(gain.db + trimDb + groupsDb + trackDb)}, with ${besides.join(', ')}.`}
    </Box>
  );
}

/** Figures of one clip, before its gain (with what else lies on it) and with it. */
function Figures({ clip }: { clip: Clip }) {
  const session = useSession();
  const project = useProject();
  useSessionState((state) => state.clipMeasurements);
  const measurement = session.clipMeasurements(project)(clip);
  const level = clipLevel(measurement, clip.gain.db, project.target);
  const damage = project.sources.find(({ id }) => id === clip.sourceId)?.warnings ?? [];
  const track = project.tracks.find(({ id }) => id === clip.trackId);
  // What the clip goes through besides, and its own figures do not know.
  const besides = [
    ...(clip.limiter && !clip.limiter.bypassed ? ['These figures are before its limiter.'] : []),
    ...(track && track.curve.length > 0 ? ['The gain curve of its track is not in these figures.'] : []),
  ];
  if (!measurement) return <Box sx={{ color: 'text.secondary', py: 1 }}>Measuring …</Box>;
  // The last reading of a measurement is at hand: with the gain, which lists and lanes ask for, is read last.
  const before = readClip(measurement, 0);
  const after = readClip(measurement, clip.gain.db);
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, mb: 0.75 }} data-clip-level>
        <LevelMark standing={level.standing} />
        <span>{levelWords(level)}</span>
      </Box>
      {besides.map((note) => (
        <Box key={note} sx={{ color: 'text.secondary', fontSize: 12, mb: 0.5 }}>
          {note}
        </Box>
      ))}
      {damage.map((warning) => (
        <Box key={warning} sx={{ color: 'warning.main', fontSize: 12, mb: 0.5 }}>
          {warning}
        </Box>
      ))}
      <Box
        component="table"
        sx={{
          width: '100%',
          borderCollapse: 'collapse',
          fontSize: 12,
          '& td, & th': { py: 0.25, pl: 0.75, whiteSpace: 'nowrap', textAlign: 'right', fontWeight: 450 },
          '& th:first-of-type': { textAlign: 'left', pl: 0, color: 'text.secondary' },
        }}
      >
        <thead>
          <tr>
            <th />
            <Box component="th" scope="col" sx={{ color: 'text.secondary' }}>
              Before gain
            </Box>
            <Box component="th" scope="col" sx={{ color: 'text.secondary' }}>
              With gain
            </Box>
          </tr>
        </thead>
        <tbody>
          {FIGURE_ROWS.map(([key, label, unit]) => (
            <tr key={key}>
              <th scope="row">
                {label} ({unit})
              </th>
              <td>{figure(before[key])}</td>
              <Box
                component="td"
                sx={
                  key === 'truePeakDbtp' && level.overCeiling
                    ? { color: 'level.over', fontWeight: '650 !important' }
                    : { fontWeight: '600 !important' }
                }
              >
                {key === 'truePeakDbtp' && level.overCeiling ? '▲ ' : ''}
                {figure(after[key])}
              </Box>
            </tr>
          ))}
        </tbody>
      </Box>
    </>
  );
}

interface Props {
  readonly clip: Clip;
  readonly gainField: RefObject<HTMLInputElement | null>;
  readonly onOpenLevel: () => void;
  readonly onFindParts: () => void;
}

/** The groups a clip is nested in, and the way to all of the outermost. */
function GroupNote({ clip }: { clip: Clip }) {
  const session = useSession();
  const project = useProject();
  const group = outermostOf(project)(clip);
  if (!group) return null;
  return (
    <Box sx={{ fontSize: 12, display: 'flex', alignItems: 'center', gap: 1 }}>
      <span>
        In the group “{group.name}”{group.gain.db !== 0 && `, ${gainText(group.gain.db)}`}
      </span>
      <Button color="inherit" onClick={() => session.select([clip.id])}>
        Select all of it
      </Button>
    </Box>
  );
}

/** Where a clip begins, and on which track. */
function PlaceAndTrack({ clip }: { clip: Clip }) {
  const session = useSession();
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'start', mt: 0.5 }}>
      <PlaceField
        key={clip.start}
        label="Start"
        frame={clip.start}
        onPlace={(at) =>
          session.do(`Move ${clip.name}`, (state) =>
            at === clip.start ? state : moveClips(state, new Set([clip.id]), at - clip.start),
          )
        }
      />
      <TrackField clip={clip} />
    </Box>
  );
}

/** One selected clip: its figures before and after, its gain and where that came from, its place. */
export function ClipSheet({ clip, gainField, onOpenLevel, onFindParts }: Props) {
  const session = useSession();
  const project = useProject();
  const clips = useMemo(() => [clip], [clip]);
  const { enter, reset, remove } = useGainActions(clips);
  const end = programmeFrames(project) / project.sampleRate;
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <Box>
        <Typography variant="h2" sx={{ overflowWrap: 'anywhere' }}>
          {clip.name}
        </Typography>
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          {clock(clip.length / project.sampleRate)} long, of {clock(end)}
        </Box>
      </Box>
      <GroupNote clip={clip} />
      <Box>
        <Figures clip={clip} />
      </Box>
      <Box>
        <GainField label="Clip gain (dB)" value={clip.gain.db} inputRef={gainField} onEntry={enter} />
        <GainTold clip={clip} />
        <Box sx={{ display: 'flex', gap: 1, mt: 1, flexWrap: 'wrap' }}>
          <Button variant="outlined" onClick={onOpenLevel}>
            Level…
          </Button>
          <DuckButton clips={clips} />
          <Button variant="outlined" onClick={() => session.stage?.evenOut()}>
            Even out…
          </Button>
          <Button variant="outlined" onClick={() => openRide(session, { kind: 'clip', id: clip.id })}>
            Ride…
          </Button>
          <Button
            color="inherit"
            onClick={reset}
            disabled={clip.gain.db === 0 && clip.gain.reason.kind === 'asRecorded' && clip.curve.length === 0}
          >
            Reset gain
          </Button>
        </Box>
      </Box>
      <SectionBox clips={clips} onFindParts={onFindParts} />
      <CurveBox clip={clip} />
      <FadeBox clips={clips} />
      <JoinBox clip={clip} />
      <ClipLimiters ids={[clip.id]} who={clip.name} />
      <ChannelBox clip={clip} />
      <SpeechBox clip={clip} />
      <SolveBox clips={clips} />
      <Fold name="Place, track, set">
        <PlaceAndTrack clip={clip} />
        <SetField clips={clips} />
      </Fold>
      <Button color="inherit" onClick={remove} sx={{ alignSelf: 'start' }}>
        Remove clip
      </Button>
    </Box>
  );
}
