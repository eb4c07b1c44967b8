import { noiseFloor } from '@/core/loudness/details';
import { loudnessRangeOf } from '@/core/loudness/range';
import { PEAK_BLOCKS_PER_SECOND, SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { everyHop, gatingBlocks, momentaryWindows, shortTermWindows } from '@/core/loudness/windows';
import type { CheckMaterial } from './material';

/** What one wants to know of a sound beside what is limited. Places are seconds, of windows where they begin; `null` for none. */
export interface CheckDetails {
  readonly maxMomentaryAt: number | null;
  readonly maxShortTermAt: number | null;
  readonly truePeakAt: number | null;
  readonly samplePeakAt: number | null;
  readonly rangeLowLufs: number | null;
  readonly rangeHighLufs: number | null;
  /** True peak over integrated loudness, LU. */
  readonly peakToLoudnessLu: number | null;
  readonly noiseFloorLufs: number | null;
  /** Of the first two channels over all of it, −1 to 1; `null` for mono and for silence. */
  readonly correlation: number | null;
  /** Mean of the samples by channel, full scale = 1. */
  readonly dcOffset: readonly number[];
}

/** Where the largest of some values lies, seconds. */
function placeOf(values: ArrayLike<number>, perSecond: number): number | null {
  let [best, at] = [0, -1];
  for (let k = 0; k < values.length; k++) if (values[k]! > best) [best, at] = [values[k]!, k];
  return at < 0 ? null : at / perSecond;
}

const totalOf = (values: Float32Array): number => values.reduce((sum, value) => sum + value, 0);

/** Works them out. */
export function checkDetails(material: CheckMaterial): CheckDetails {
  const { energy, sampleRate, figures, signal, seconds, truePeaks, samplePeak } = material;
  const shortTerm = shortTermWindows(energy, sampleRate);
  const range = loudnessRangeOf(everyHop(shortTerm));
  const { truePeakDbtp, integratedLufs } = figures;
  const [a, b] = signal.power.map(totalOf);
  const product = totalOf(signal.product);
  const largestSample = samplePeak[0]!.map((_, k) =>
    samplePeak.reduce((most, channel) => Math.max(most, channel[k]!), 0),
  );
  return {
    maxMomentaryAt: placeOf(momentaryWindows(energy, sampleRate), SUB_BLOCKS_PER_SECOND),
    maxShortTermAt: placeOf(shortTerm, SUB_BLOCKS_PER_SECOND),
    truePeakAt: placeOf(truePeaks, PEAK_BLOCKS_PER_SECOND),
    samplePeakAt: placeOf(largestSample, PEAK_BLOCKS_PER_SECOND),
    rangeLowLufs: range?.lowLufs ?? null,
    rangeHighLufs: range?.highLufs ?? null,
    peakToLoudnessLu: truePeakDbtp === null || integratedLufs === null ? null : truePeakDbtp - integratedLufs,
    noiseFloorLufs: noiseFloor(gatingBlocks(energy, sampleRate)),
    correlation:
      b !== undefined && a! > 0 && b > 0 && signal.product.length > 0
        ? Math.max(-1, Math.min(1, product / Math.sqrt(a! * b)))
        : null,
    dcOffset: signal.sum.map((sum) => (seconds > 0 ? totalOf(sum) / (seconds * sampleRate) : 0)),
  };
}
