import { integrated } from '@/core/loudness/gating';
import { dbToPower } from '@/core/loudness/decibels';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import type { Clip } from '@/core/programme/model';
import { BLOCK_SECONDS, HOPS_PER_SECOND } from './clipReading';
import type { ClipMeasurement } from './measureClip';

/**
 * What a clip's gain curve does to its integrated loudness, LU: what it measures less what it would without the curve,
 * estimated block by block from the gain in the middle of each (within some tenths where the curve is steep).
 * @returns `null` where there is nothing to measure
 */
export function curveEffect(
  { blocks }: ClipMeasurement,
  { curve, sourceStart }: Pick<Clip, 'curve' | 'sourceStart'>,
  sampleRate: number,
): number | null {
  if (curve.length === 0) return 0;
  const flat = blocks.map((energy, k) => {
    const middle = sourceStart + (k / HOPS_PER_SECOND + BLOCK_SECONDS / 2) * sampleRate;
    const db = curveDbAt(curve, middle);
    return db <= SILENT_DB ? 0 : energy / dbToPower(db);
  });
  const [now, without] = [integrated(blocks), integrated(flat)];
  return now.integratedLufs === null || without.integratedLufs === null
    ? null
    : now.integratedLufs - without.integratedLufs;
}
