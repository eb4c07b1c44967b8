import { integrated } from '@/core/loudness/gating';
import { dbToPower } from '@/core/loudness/decibels';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import type { Clip } from '@/core/programme/model';
import { BLOCK_SECONDS, HOPS_PER_SECOND } from './clipReading';
import type { ClipMeasurement } from './measureClip';

/** A gain over time, dB, by places on its curve. */
export type GainAt = (at: number) => number;

/**
 * By how much a loudness changes where one gain over time takes the place of another, LU: estimated block by block from the
 * gains in the middle of each (within some tenths where they are steep).
 * @param blocks gating blocks as measured with `from`
 * @param first place on the curves at which the first block begins
 * @returns `null` where there is nothing to measure
 */
export function loudnessChange(
  blocks: Float64Array,
  first: number,
  sampleRate: number,
  from: GainAt,
  to: GainAt,
): number | null {
  const changed = blocks.map((energy, k) => {
    const middle = first + (k / HOPS_PER_SECOND + BLOCK_SECONDS / 2) * sampleRate;
    const [before, after] = [from(middle), to(middle)];
    return before <= SILENT_DB || after <= SILENT_DB ? 0 : energy * dbToPower(after - before);
  });
  const [now, then] = [integrated(blocks).integratedLufs, integrated(changed).integratedLufs];
  return now === null || then === null ? null : then - now;
}

/**
 * What a clip's gain curve does to its integrated loudness, LU: what it measures less what it would without the curve, see
 * {@link loudnessChange}.
 */
export function curveEffect(
  { blocks }: ClipMeasurement,
  { curve, sourceStart }: Pick<Clip, 'curve' | 'sourceStart'>,
  sampleRate: number,
): number | null {
  if (curve.length === 0) return 0;
  const without = loudnessChange(
    blocks,
    sourceStart,
    sampleRate,
    (at) => curveDbAt(curve, at),
    () => 0,
  );
  return without === null ? null : -without;
}
