import type { Clip, Project } from '@/core/programme/model';

/** What the measurement of a stretch of sound in a programme depends on. */
interface Stretch {
  readonly audioKey: string;
  /** How its channels are said to stand. */
  readonly sourceLayoutId: string;
  /** Frames at the programme's rate. */
  readonly sourceStart: number;
  readonly length: number;
  readonly sampleRate: number;
  readonly layoutId: string;
  readonly fadeIn: number;
  readonly fadeOut: number;
}

/** That as a key; it begins with the audio key. */
export function stretchKey({
  audioKey,
  sourceLayoutId,
  sourceStart,
  length,
  sampleRate,
  layoutId,
  fadeIn,
  fadeOut,
}: Stretch): string {
  return [audioKey, sourceLayoutId, sourceStart, length, sampleRate, layoutId, fadeIn, fadeOut].join('/');
}

/** The key of a clip's own measurement; `null` when its source is gone. */
export function clipKey(
  { sources, sampleRate, layoutId }: Project,
  { sourceId, sourceStart, length, fadeIn, fadeOut }: Clip,
): string | null {
  const source = sources.find((candidate) => candidate.id === sourceId);
  if (!source) return null;
  const { audioKey, layout } = source;
  const fades = { fadeIn, fadeOut };
  return stretchKey({
    audioKey,
    sourceLayoutId: layout.id,
    sourceStart,
    length,
    sampleRate,
    layoutId,
    ...fades,
  });
}
