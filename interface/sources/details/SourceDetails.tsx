'use client';

import PlayIcon from '@mui/icons-material/PlayArrow';
import StopIcon from '@mui/icons-material/Stop';
import SpeechIcon from '@mui/icons-material/Subtitles';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { DECLARABLE } from '@/core/audio/layout';
import { AudioFileError } from '@/core/formats/errors';
import { MOST_SUBTITLE_BYTES, speechFromSubtitles } from '@/core/formats/subtitles';
import { integratedWithin, type TimeRange } from '@/core/loudness/levelTrack';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { sourceFaults } from '@/core/programme/damagedSources';
import { declareLayout } from '@/core/programme/edits/project';
import { setSpeech } from '@/core/programme/edits/speech';
import type { Source } from '@/core/programme/model';
import { statedFigures } from '@/core/programme/fileSays';
import { clock, figure, withUnit } from '@/core/text/figures';
import { FailureNote } from '../../ui/FailureNote';
import { PickFiles } from '../../ui/PickFiles';
import { ProgressLine } from '../../ui/ProgressLine';
import { useProject, useSession } from '../../session/SessionContext';
import { Distribution } from './Distribution';
import { fileFacts, saidFacts, soundFacts, type Fact } from './facts';
import { LevelTrace } from './LevelTrace';
import { PartFigures } from './PartFigures';
import { PlaceList } from './PlaceList';
import { placesOf } from './places';
import { useExactPeak } from './useExactPeak';

/** Heard before a place, so that one knows what comes. */
const LEAD_SECONDS = 1;

const heading = { fontSize: 12, color: 'text.secondary', mb: 0.5 } as const;

function Facts({ facts }: { facts: readonly Fact[] }) {
  return (
    <Box
      component="dl"
      sx={{ m: 0, display: 'grid', gridTemplateColumns: 'max-content 1fr', columnGap: 1.5 }}
    >
      {facts.map(([label, value]) => (
        <Box key={label} sx={{ display: 'contents' }}>
          <Box component="dt" sx={{ color: 'text.secondary' }}>
            {label}
          </Box>
          <Box component="dd" data-fact={label} sx={{ m: 0, whiteSpace: 'nowrap' }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

function ChannelPeaks({ sound }: { sound: SoundMeasurement }) {
  return (
    <Box
      component="table"
      aria-label="Peaks by channel"
      sx={{
        borderCollapse: 'collapse',
        fontSize: 12.5,
        height: 'fit-content',
        '& th, & td': { textAlign: 'right', px: 1, py: 0.1, fontWeight: 450 },
        '& th:first-of-type': { textAlign: 'left', pl: 0 },
        '& thead th': { color: 'text.secondary', fontSize: 12 },
      }}
    >
      <thead>
        <tr>
          <th scope="col">Channel</th>
          <th scope="col">True peak, dBTP</th>
          <th scope="col">Sample peak, dBFS</th>
        </tr>
      </thead>
      <tbody>
        {sound.figures.channelPeaks.map(({ label, truePeakDbtp, samplePeakDbfs }, index) => (
          <tr key={index} data-channel={label}>
            <th scope="row">{label}</th>
            <td>{figure(truePeakDbtp)}</td>
            <td>{figure(samplePeakDbfs)}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}

function LayoutChoice({ source }: { source: Source }) {
  const session = useSession();
  const fitting = DECLARABLE.filter((layout) => layout.labels.length === source.layout.labels.length);
  const known = fitting.some((layout) => layout.id === source.layout.id);
  const assumed = sourceFaults(source).some(({ kind }) => kind === 'layoutAssumed');
  if (fitting.length < (known && !assumed ? 2 : 1)) return null;
  return (
    <TextField
      select
      label="Channel layout"
      // What is only assumed is not chosen: choosing the same confirms it.
      value={assumed ? '' : source.layout.id}
      error={assumed}
      helperText={assumed ? `Taken as ${source.layout.name}: confirm or change it.` : undefined}
      sx={{ minWidth: 190 }}
      onChange={(event) => {
        const layout = fitting.find(({ id }) => id === event.target.value);
        if (layout)
          session.do(`Declare ${source.name} ${layout.name}`, (project) =>
            declareLayout(project, source.id, layout),
          );
      }}
    >
      {!known && !assumed && (
        <MenuItem value={source.layout.id}>{source.layout.name}, as the file says</MenuItem>
      )}
      {fitting.map((layout) => (
        <MenuItem key={layout.id} value={layout.id}>
          {layout.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Loudness while somebody speaks, by a subtitle file. */
function SpeechLine({ source, sound }: { source: Source; sound: SoundMeasurement }) {
  const session = useSession();
  const [failure, setFailure] = useState<{ message: string; hint: string } | null>(null);
  const take = async ([file]: File[]): Promise<void> => {
    try {
      const ranges = speechFromSubtitles(await file!.slice(0, MOST_SUBTITLE_BYTES).text());
      setFailure(null);
      session.do(`Speech of ${source.name} from ${file!.name}`, (project) =>
        setSpeech(project, source.id, { from: file!.name, ranges }),
      );
    } catch (error) {
      if (!(error instanceof AudioFileError)) throw error;
      setFailure({ message: `${file!.name}: ${error.message}`, hint: error.hint });
    }
  };
  const finding = useStore(session.speech.store, (jobs) => jobs.size > 0);
  const found = source.speech && integratedWithin(sound, source.speech.ranges);
  return (
    <>
      <PickFiles
        label={source.speech ? 'Other subtitles…' : 'Speech from subtitles…'}
        multiple={false}
        variant="text"
        accept=".srt,.vtt"
        icon={<SpeechIcon />}
        onFiles={(files) => void take(files)}
      />
      {!source.speech && (
        <Button disabled={finding} onClick={() => void session.speech.find([source])}>
          {finding ? 'Finding speech…' : 'Find speech'}
        </Button>
      )}
      {found && (
        <Box data-speech>
          <strong>{figure(found.integratedLufs)} LUFS</strong> while somebody speaks ({clock(found.seconds)},
          by {source.speech!.from})
          <Button
            color="inherit"
            onClick={() =>
              session.do(`Forget speech of ${source.name}`, (project) => setSpeech(project, source.id, null))
            }
          >
            Remove
          </Button>
        </Box>
      )}
      {failure && <FailureNote {...failure} />}
    </>
  );
}

function ExactPeakLine({ source, sound }: { source: Source; sound: SoundMeasurement }) {
  const session = useSession();
  const { peak, failure, done, start, cancel } = useExactPeak(
    session.engine.audioOf(source.audioKey),
    sound.truePeaks,
  );
  if (done !== null) {
    return (
      <Box sx={{ width: 440 }}>
        <ProgressLine label="Exact true peak" done={done} onCancel={cancel} />
      </Box>
    );
  }
  return (
    <>
      {peak ? (
        <Box data-exact-peak={peak.truePeakDbtp ?? ''}>
          Exact true peak <strong>{figure(peak.truePeakDbtp, 2)} dBTP</strong>
          {peak.atSeconds !== null && ` at ${clock(peak.atSeconds, 2)}, channel ${peak.channel}`}
        </Box>
      ) : (
        <Button color="inherit" onClick={start}>
          Exact true peak
        </Button>
      )}
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
    </>
  );
}

/** What the file says of itself; a loudness figure that disagrees with ours is marked. */
function Stated({ source, sound }: { source: Source; sound: SoundMeasurement }) {
  const facts = saidFacts(source);
  const stated = source.says ? statedFigures(source.says, sound.figures) : [];
  if (facts.length === 0 && stated.length === 0) return null;
  return (
    <Box data-file-says sx={{ maxWidth: 300 }}>
      <Box sx={heading}>The file says</Box>
      <Facts facts={facts} />
      {stated.map(({ name, unit, stated: value, measured, disagrees }) => (
        <Box
          key={name}
          data-stated={name}
          data-disagrees={disagrees}
          sx={{ color: disagrees ? 'warning.main' : undefined }}
        >
          {disagrees ? '⚠ ' : ''}
          {name} {withUnit(value, unit)}
          {disagrees && `; measured ${withUnit(measured, unit)}`}
        </Box>
      ))}
    </Box>
  );
}

/** Everything that is known of a source. */
export function SourceDetails({ source, sound }: { source: Source; sound: SoundMeasurement | undefined }) {
  const session = useSession();
  const { target } = useProject();
  const box = useRef<HTMLDivElement>(null);
  // What was opened at the lower edge is brought into sight.
  useEffect(() => {
    box.current?.scrollIntoView({ block: 'nearest' });
  }, []);
  const [part, setPart] = useState<TimeRange | null>(null);
  const [moving, setMoving] = useState(false);
  const takePart = (next: TimeRange | null, held: boolean): void => {
    setPart(next);
    setMoving(held);
  };
  const playing = useStore(session.listening.audition.store, (state) => state.heardId === source.id);
  const position = useCallback(() => session.listening.audition.position(source), [session, source]);
  const places = useMemo(() => (sound ? placesOf(sound.details) : []), [sound]);
  const marks = useMemo(() => places.filter(({ bad }) => bad).map(({ at }) => at), [places]);
  const seconds = source.frames / source.sampleRate;
  const play = (from: number, to?: number): void => void session.listening.audition.play(source, from, to);
  return (
    <Box ref={box} data-details={source.name} sx={{ pl: '44px', pr: 1.5, pb: 1.5, fontSize: 12.5 }}>
      {source.warnings.map((warning) => (
        <Box key={warning} sx={{ color: 'warning.main', mb: 0.5 }}>
          {warning}
        </Box>
      ))}
      {sound ? (
        <>
          <Box sx={{ display: 'flex', gap: 2 }}>
            <Box sx={{ flex: 1, minWidth: 0 }}>
              <Box sx={heading}>
                Loudness over time against {target.name}; line: short-term, surface: momentary
              </Box>
              <LevelTrace
                name={source.name}
                sound={sound}
                seconds={seconds}
                horizon={target.integratedLufs}
                marks={marks}
                part={part}
                onPart={takePart}
                position={position}
                playing={playing}
              />
            </Box>
            <Box>
              <Box sx={heading}>Time at each loudness, LUFS; dashed: its range</Box>
              <Distribution
                sound={sound}
                horizon={target.integratedLufs}
                low={sound.details.loudnessRangeLowLufs}
                high={sound.details.loudnessRangeHighLufs}
              />
            </Box>
          </Box>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
            <Button
              variant="outlined"
              color="inherit"
              startIcon={playing ? <StopIcon /> : <PlayIcon />}
              onClick={() => (playing ? session.listening.audition.stop() : play(part?.from ?? 0, part?.to))}
              sx={{ mt: 1, minWidth: 108 }}
            >
              {playing ? 'Stop' : part ? 'Play part' : 'Play'}
            </Button>
            <PartFigures
              source={source}
              sound={sound}
              seconds={seconds}
              part={part}
              moving={moving}
              onPart={setPart}
            />
          </Box>
          <Box sx={{ display: 'flex', gap: 3, mt: 1.25, alignItems: 'flex-start' }}>
            <Facts facts={[...fileFacts(source), ...soundFacts(sound).slice(0, 4)]} />
            <Stated source={source} sound={sound} />
            <Facts facts={soundFacts(sound).slice(4)} />
            <ChannelPeaks sound={sound} />
            <Box sx={{ flex: 1, minWidth: 240 }}>
              <PlaceList places={places} onPlay={(at) => play(Math.max(0, at - LEAD_SECONDS))} />
            </Box>
          </Box>
          <Box sx={{ display: 'flex', gap: 2, mt: 1.25, alignItems: 'center', flexWrap: 'wrap' }}>
            <LayoutChoice source={source} />
            <ExactPeakLine key={`${source.audioKey} ${source.layout.id}`} source={source} sound={sound} />
            <SpeechLine source={source} sound={sound} />
          </Box>
        </>
      ) : (
        <Facts facts={fileFacts(source)} />
      )}
    </Box>
  );
}
