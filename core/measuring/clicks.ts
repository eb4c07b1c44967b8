import { amplitudeToDb } from '@/core/loudness/decibels';

/** How sharply a sound turns at a place. */
export interface Click {
  /** The turn itself: the second difference of its samples at the place, dBFS. */
  readonly dbfs: number;
  /** Over the sharpest turn of the sound around it, dB; infinite where that has none. */
  readonly overDb: number;
}

/** What is looked at on either side of a place, seconds, and how near to it counts as the place, frames. */
export const AROUND_SECONDS = 0.012;
const AT_FRAMES = 2;

/** Largest second difference of frames [from, to), over all channels. */
function sharpest(samples: readonly Float32Array[], from: number, to: number): number {
  let most = 0;
  for (const channel of samples)
    for (let i = Math.max(1, from); i < Math.min(to, channel.length - 1); i++)
      most = Math.max(most, Math.abs(channel[i + 1]! - 2 * channel[i]! + channel[i - 1]!));
  return most;
}

/**
 * The sharpest turn of the sound on both sides of a place, but not at it.
 * @param samples per channel
 * @param at index of the first sample after the place
 */
export const usualTurn = (samples: readonly Float32Array[], at: number): number =>
  Math.max(
    sharpest(samples, 0, at - AT_FRAMES - 1),
    sharpest(samples, at + AT_FRAMES + 1, samples[0]?.length ?? 0),
  );

/**
 * The click at a place where clips begin or end: a step or a kink bends the wave far more sharply than the sound itself does just
 * before and after, and a second difference shows it whatever the sound's level and pitch.
 * @param samples per channel
 * @param at index of the first sample after the place
 * @param usual what it is compared with, see {@link usualTurn}
 * @returns `null` where nothing turns there
 */
export function clickAt(samples: readonly Float32Array[], at: number, usual: number): Click | null {
  const turn = sharpest(samples, at - AT_FRAMES, at + AT_FRAMES);
  const dbfs = amplitudeToDb(turn);
  if (dbfs === null) return null;
  return { dbfs, overDb: usual > 0 ? dbfs - amplitudeToDb(usual)! : Infinity };
}
