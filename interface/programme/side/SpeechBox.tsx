'use client';

import ClearIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useStore } from 'zustand';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { changeSpeechRange, setSpeech } from '@/core/programme/edits/speech';
import type { Clip, Source } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { clock } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { TypedCell } from '../../editing/TypedCell';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { Fold } from '../../ui/Fold';
import { markSpoken } from '../duck/speechActions';

/** One range of speech: where it begins and ends, in the programme. */
function SpeechRow({ clip, source, index }: { clip: Clip; source: Source; index: number }) {
  const session = useSession();
  const project = useProject();
  const range = source.speech!.ranges[index]!;
  const frame = (seconds: number): number => inProgramme(clip, seconds * project.sampleRate);
  const change = (next: TimeRange | null, what: string): void =>
    session.do(`${what} speech of ${source.name}`, (state) =>
      changeSpeechRange(state, source.id, index, next),
    );
  const edge = (which: 'from' | 'to') => {
    const shown = placeText(project, frame(range[which]), 2);
    return (
      <TypedCell
        label={`${which === 'from' ? 'Begin' : 'End'} of the speech at ${placeText(project, frame(range.from), 2)}`}
        shown={shown}
        take={(text) => {
          const place = parsePlace(project, text);
          if (typeof place !== 'number') return place.error;
          const next = { ...range, [which]: inSource(clip, place) / project.sampleRate };
          if (next.to <= next.from) return 'Speech ends after it begins';
          change(next, 'Change');
          return null;
        }}
      />
    );
  };
  return (
    <Box
      data-speech-range={index}
      sx={{ display: 'grid', gridTemplateColumns: '1fr 14px 1fr 24px', gap: 0.5, alignItems: 'center' }}
    >
      {edge('from')}
      <span>to</span>
      {edge('to')}
      <IconButton
        size="small"
        aria-label={`Nobody speaks at ${placeText(project, frame(range.from), 2)}`}
        onClick={() => change(null, 'Remove')}
        sx={{ p: 0.25 }}
      >
        <ClearIcon sx={{ fontSize: 15 }} />
      </IconButton>
    </Box>
  );
}

/** So many ranges are listed at once; the strip on the lanes shows all of them. */
const MOST_ROWS = 60;

/** When somebody speaks in a clip: as subtitles say, as it was found, as a hand corrected it. */
export function SpeechBox({ clip }: { clip: Clip }) {
  const session = useSession();
  const project = useProject();
  const range = useSessionState((state) => state.range);
  const finding = useStore(session.speech.store, (jobs) => jobs.size > 0);
  const source = project.sources.find(({ id }) => id === clip.sourceId);
  if (!source) return null;
  const { speech } = source;
  const [from, to] = [clip.sourceStart, clip.sourceStart + clip.length].map((at) => at / project.sampleRate);
  const here = (speech?.ranges ?? []).flatMap((one, index) =>
    one.to > from! && one.from < to! ? [index] : [],
  );
  const seconds = here.reduce((sum, index) => {
    const one = speech!.ranges[index]!;
    return sum + Math.min(to!, one.to) - Math.max(from!, one.from);
  }, 0);
  const covers = range !== null && range.from < clip.start + clip.length && range.to > clip.start;
  return (
    <Fold name={speech ? `Speech: ${clock(seconds)}` : 'Speech'} remember="Speech">
      {speech ? (
        <Box sx={{ color: 'text.secondary' }}>
          {count(here.length, 'range')}, by {speech.from}
          {speech.by === 'hand' && speech.from !== 'hand' ? ', corrected by hand' : ''}.
        </Box>
      ) : (
        <Box sx={{ color: 'text.secondary' }}>
          Not known: on a track for dialogue or narration all of it counts as speech.
        </Box>
      )}
      {here.length > 0 && (
        <Box
          role="group"
          aria-label={`Speech in ${clip.name}`}
          sx={{
            maxHeight: 168,
            overflow: 'auto',
            p: 0.25,
            display: 'flex',
            flexDirection: 'column',
            gap: 0.75,
          }}
        >
          {here.slice(0, MOST_ROWS).map((index) => (
            <SpeechRow key={index} clip={clip} source={source} index={index} />
          ))}
          {here.length > MOST_ROWS && <Box>and {here.length - MOST_ROWS} more</Box>}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
        {!speech && (
          <Button color="inherit" disabled={finding} onClick={() => void session.speech.find([source])}>
            {finding ? 'Finding speech…' : 'Find speech'}
          </Button>
        )}
        {([true, false] as const).map((spoken) => (
          <Button
            key={String(spoken)}
            color="inherit"
            disabled={!covers}
            title={covers ? undefined : 'Draw a range over the clip on the ruler first'}
            onClick={() => markSpoken(session, [clip], spoken)}
          >
            {spoken ? 'Range is speech' : 'Range is no speech'}
          </Button>
        ))}
        {speech && (
          <Button
            color="inherit"
            onClick={() =>
              session.do(`Forget speech of ${source.name}`, (state) => setSpeech(state, source.id, null))
            }
          >
            Forget
          </Button>
        )}
      </Box>
    </Fold>
  );
}
