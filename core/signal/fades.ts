import { fadeAt } from '@/core/programme/fadeLaw';
import type { Clip, FadeShape } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
import { samplesOf } from './piece';
import { joined, plainStation } from './station';

type Faded = Pick<Clip, 'length' | 'fadeIn' | 'fadeOut' | 'fadeInShape' | 'fadeOutShape'>;

/** Whether a fade reaches into frames [from, to) of a clip. */
export function fadesWithin({ length, fadeIn, fadeOut }: Faded, from: number, to: number): boolean {
  return from < fadeIn || to > length - fadeOut;
}

/** What a fade is unless another shape is asked for. */
const USUAL: FadeShape = 'equalPower';

/** Fades of the same length and shape come by the hundred: the gains of the last few are kept, up to so many frames each. */
const KEPT_FRAMES = 200_000;
const KEPT = 8;
const kept = new Map<string, Float64Array>();

/** The gains of a fade at `count` frames from frame `first` on, counted from its silent end. */
function gainsOf(frames: number, shape: FadeShape | undefined, first: number, count: number): Float64Array {
  const gainsFrom = (from: number, length: number): Float64Array => {
    const gains = new Float64Array(length);
    for (let i = 0; i < length; i++) gains[i] = fadeAt((from + i + 0.5) / frames, shape);
    return gains;
  };
  if (frames > KEPT_FRAMES) return gainsFrom(first, count);
  const key = `${frames}/${shape}`;
  const whole = kept.get(key) ?? gainsFrom(0, frames);
  if (!kept.has(key) && kept.size >= KEPT) kept.delete(kept.keys().next().value!);
  kept.set(key, whole);
  return whole.subarray(first, first + count);
}

/** Applies a clip's fades to its samples, in place. @param from frame of the clip at which they begin */
export function applyFades(samples: readonly Float32Array[], clip: Faded, from: number): void {
  const { length, fadeIn, fadeOut, fadeInShape, fadeOutShape } = clip;
  const frames = samples[0]?.length ?? 0;
  /** Frames before the clip's start, and the first after its end: silence, as at the end of a fade. */
  const lead = Math.min(frames, Math.max(0, -from));
  const end = Math.max(0, Math.min(frames, length - from));
  for (const channel of samples) channel.fill(0, 0, lead).fill(0, end);
  const rising = Math.min(frames, fadeIn - from) - lead;
  if (rising > 0) {
    const gains = gainsOf(fadeIn, fadeInShape, from + lead, rising);
    for (const channel of samples) for (let i = 0; i < rising; i++) channel[lead + i]! *= gains[i]!;
  }
  const falling = end - Math.max(lead, length - fadeOut - from);
  if (falling > 0) {
    const gains = gainsOf(fadeOut, fadeOutShape, length - from - end, falling);
    for (const channel of samples) for (let i = 0; i < falling; i++) channel[end - 1 - i]! *= gains[i]!;
  }
}

/** The fades at a clip's start and end. */
export const fades = plainStation<ClipSound>({
  name: 'fades',
  key({ clip: { fadeIn, fadeOut, fadeInShape, fadeOutShape } }) {
    if (fadeIn === 0 && fadeOut === 0) return [];
    const shapes = [fadeIn === 0 ? USUAL : fadeInShape, fadeOut === 0 ? USUAL : fadeOutShape];
    return [fadeIn, fadeOut, ...(shapes.every((shape) => shape === USUAL) ? [] : shapes)];
  },
  difference({ clip: a }, { clip: b }) {
    const [fadeIn, fadeOut] = [Math.max(a.fadeIn, b.fadeIn), Math.max(a.fadeOut, b.fadeOut)];
    const sameStart = a.fadeIn === b.fadeIn && (fadeIn === 0 || a.fadeInShape === b.fadeInShape);
    const sameEnd = a.fadeOut === b.fadeOut && (fadeOut === 0 || a.fadeOutShape === b.fadeOutShape);
    const start = sameStart ? null : { from: 0, to: fadeIn };
    const end = sameEnd ? null : { from: a.length - fadeOut, to: a.length };
    return joined(start, end);
  },
  changes: ({ clip: { length, fadeIn, fadeOut } }) => [
    { from: 0, to: fadeIn },
    { from: length - fadeOut, to: length },
  ],
  apply(piece, { clip }, at) {
    if (!fadesWithin(clip, at, at + piece.frames)) return piece;
    const samples = samplesOf(piece);
    applyFades(samples, clip, at);
    return { ...piece, sound: samples };
  },
});
