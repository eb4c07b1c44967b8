import { isPeak } from '@/core/measuring/clipReading';
import type { LevelMeasure } from '@/core/programme/model';
import type { Target } from '@/core/check/target';

/** What one would usually bring a measure to: the target's own figure for it. */
export function usualGoal(measure: LevelMeasure, target: Target): number {
  if (isPeak(measure)) return target.maxTruePeakDbtp;
  if (measure === 'maxShortTerm') return target.maxShortTermLufs ?? target.integratedLufs;
  if (measure === 'maxMomentary') return target.maxMomentaryLufs ?? target.integratedLufs;
  return target.integratedLufs;
}
