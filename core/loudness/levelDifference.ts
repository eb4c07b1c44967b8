import type { LevelTrack } from './sound';
import { PEAK_BLOCKS_PER_SECOND, SHORT_TERM_SUB_BLOCKS, SUB_BLOCKS_PER_SECOND } from './subBlocks';
import { everyHop, shortTermWindows } from './windows';
import { meanSquareToLufs } from './decibels';

/** What is quieter than this is not held against anything, LUFS: the absolute gate. */
const QUIET_LUFS = -70;
/** A window stands for its middle, seconds. */
const MIDDLE = SHORT_TERM_SUB_BLOCKS / SUB_BLOCKS_PER_SECOND / 2;
/** Places nearer to each other than this are one, seconds. */
const APART_SECONDS = 1;

/** Short-term loudness of two sounds on one axis: that of the first. */
export interface LevelDifference {
  /** Of the first, every 100 ms: each stands for the middle of its window; the first is at `middle`. NaN where it is silent. */
  readonly a: Float32Array;
  /** Of the second at the same places; NaN where it is silent, or not there. */
  readonly b: Float32Array;
  /** Seconds. */
  readonly middle: number;
  readonly perSecond: number;
}

type Energies = Pick<LevelTrack, 'energy' | 'sampleRate'>;

const levels = ({ energy, sampleRate }: Energies): Float32Array =>
  Float32Array.from(everyHop(shortTermWindows(energy, sampleRate)), (power) => {
    const lufs = meanSquareToLufs(power);
    return lufs === null || lufs < QUIET_LUFS ? NaN : lufs;
  });

/** Puts the short-term loudness of two sounds beside each other. @param offsetSeconds see `Alignment` */
export function levelDifference(a: Energies, b: Energies, offsetSeconds: number): LevelDifference {
  const [first, second] = [levels(a), levels(b)];
  const shift = Math.round(offsetSeconds * PEAK_BLOCKS_PER_SECOND);
  return {
    a: first,
    b: first.map((_, k) => second[k + shift] ?? NaN),
    ...{ middle: MIDDLE, perSecond: PEAK_BLOCKS_PER_SECOND },
  };
}

/** A place where two sounds differ. */
export interface DifferentPlace {
  /** Seconds of the first. */
  readonly from: number;
  readonly to: number;
  /** The largest difference, the second against the first, LU; `null` where one of them is silent. */
  readonly lu: number | null;
}

/** Louder, quieter, or silent. */
const sideOf = (lu: number | null): number | null => lu && Math.sign(lu);

/**
 * Where two sounds differ by more than so much, in order.
 * @param overLu how much, LU
 * @param shiftDb what is added to the second before it is held against the first, dB
 */
export function differentPlaces(
  { a, b, middle, perSecond }: LevelDifference,
  overLu: number,
  shiftDb: number,
): DifferentPlace[] {
  const found: { from: number; to: number; lu: number | null }[] = [];
  const step = 1 / perSecond;
  a.forEach((own, k) => {
    const other = b[k]! + shiftDb;
    const silent = Number.isNaN(own) !== Number.isNaN(other);
    if (Number.isNaN(own) && Number.isNaN(other)) return;
    const lu = silent ? null : other - own;
    if (lu !== null && Math.abs(lu) <= overLu) return;
    const at = middle + k * step;
    const last = found.at(-1);
    // Louder and quieter are places of their own.
    const same = last && at - last.to <= APART_SECONDS && sideOf(last.lu) === sideOf(lu);
    if (!last || !same) found.push({ from: at, to: at + step, lu });
    else {
      last.to = at + step;
      if (lu !== null && Math.abs(lu) > Math.abs(last.lu!)) last.lu = lu;
    }
  });
  return found;
}
