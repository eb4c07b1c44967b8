import { mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';
import { voiceRanges } from '@/core/voice/voiceRanges';
import { sectionSeconds, type FrameRange } from '../sections';
import type { Clip, Id, Project, Source, Speech } from '../model';

/** Says when somebody speaks in a source; `null` forgets it. */
export function setSpeech(project: Project, sourceId: Id, speech: Source['speech']): Project {
  return {
    ...project,
    sources: project.sources.map((source) => (source.id === sourceId ? { ...source, speech } : source)),
  };
}

/** What the voice detector says of a source. @param certainty see `voiceRanges` */
export const foundSpeech = ({ frames, sampleRate }: Source, certainty: Uint8Array): Speech => ({
  from: 'the voice detector',
  by: 'detector',
  ranges: voiceRanges(certainty, frames / sampleRate),
});

/** What a hand makes of it: who said so first is kept. */
const byHand = (speech: Speech | null, ranges: readonly TimeRange[]): Speech => ({
  from: speech?.from ?? 'hand',
  by: 'hand',
  ranges: mergeRanges(ranges),
});

const without = (ranges: readonly TimeRange[], cut: TimeRange): TimeRange[] =>
  ranges.flatMap(({ from, to }) => [
    { from, to: Math.min(to, cut.from) },
    { from: Math.max(from, cut.to), to },
  ]);

/** Puts another range in the place of one, or takes it out. @param next seconds of the source; `null` takes it out */
export function changeSpeechRange(
  project: Project,
  sourceId: Id,
  index: number,
  next: TimeRange | null,
): Project {
  const speech = project.sources.find(({ id }) => id === sourceId)?.speech;
  if (!speech?.ranges[index]) return project;
  const ranges = speech.ranges.flatMap((range, i) => (i !== index ? [range] : next ? [next] : []));
  return setSpeech(project, sourceId, byHand(speech, ranges));
}

/**
 * Says that somebody speaks, or nobody does, in the part of clips that a range covers. Where nothing was known of a source, all
 * of it counted: so it is all of it but this, or this alone.
 */
export function markSpeech(
  project: Project,
  clips: readonly Clip[],
  range: FrameRange,
  spoken: boolean,
): Project {
  const { sampleRate } = project;
  return clips.reduce((edited, clip) => {
    const source = edited.sources.find(({ id }) => id === clip.sourceId);
    const part = sectionSeconds(clip, range, sampleRate);
    if (!source || part.to <= part.from) return edited;
    const begin = clip.sourceStart / sampleRate;
    const place = { from: begin + part.from, to: begin + part.to };
    const known = source.speech?.ranges ?? null;
    const ranges = spoken
      ? [...(known ?? []), place]
      : without(known ?? [{ from: 0, to: source.frames / source.sampleRate }], place);
    return setSpeech(edited, source.id, byHand(source.speech, ranges));
  }, project);
}
