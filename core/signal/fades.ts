import type { Clip } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
import { samplesOf } from './piece';
import { joined, plainStation } from './station';

type Faded = Pick<Clip, 'length' | 'fadeIn' | 'fadeOut'>;

/** Whether a fade reaches into frames [from, to) of a clip. */
export function fadesWithin({ length, fadeIn, fadeOut }: Faded, from: number, to: number): boolean {
  return from < fadeIn || to > length - fadeOut;
}

/**
 * The amplitude of a fade, `part` of its way from silence: constant power, so that two that cross are together as loud as
 * each alone where their sounds have nothing in common.
 */
export function fadeAt(part: number): number {
  return Math.sin((Math.PI / 2) * Math.min(1, Math.max(0, part)));
}

/** Applies a clip's fades to its samples, in place. @param from frame of the clip at which they begin */
export function applyFades(samples: readonly Float32Array[], clip: Faded, from: number): void {
  const { length, fadeIn, fadeOut } = clip;
  for (const channel of samples) {
    for (let i = 0; i < channel.length && from + i < fadeIn; i++)
      channel[i]! *= fadeAt((from + i + 0.5) / fadeIn);
    for (let i = Math.max(0, length - fadeOut - from); i < channel.length; i++)
      channel[i]! *= fadeAt((length - from - i - 0.5) / fadeOut);
  }
}

/** The fades at a clip's start and end. */
export const fades = plainStation<ClipSound>({
  name: 'fades',
  key: ({ clip: { fadeIn, fadeOut } }) => (fadeIn === 0 && fadeOut === 0 ? [] : [fadeIn, fadeOut]),
  difference({ clip: a }, { clip: b }) {
    const start = a.fadeIn === b.fadeIn ? null : { from: 0, to: Math.max(a.fadeIn, b.fadeIn) };
    const end =
      a.fadeOut === b.fadeOut ? null : { from: a.length - Math.max(a.fadeOut, b.fadeOut), to: a.length };
    return joined(start, end);
  },
  apply(piece, { clip }, at) {
    if (!fadesWithin(clip, at, at + piece.frames)) return piece;
    const samples = samplesOf(piece);
    applyFades(samples, clip, at);
    return { ...piece, sound: samples };
  },
});
