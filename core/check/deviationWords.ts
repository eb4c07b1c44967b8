import { figure, tellingDigits, withUnit } from '@/core/text/figures';
import type { FigureVerdict } from './verdict';

/** “3.4 LU under”, “on target”, “0.6 dB below the limit”. */
export function deviationWords({
  deviation,
  deviationUnit,
  tolerance,
  atLeast,
  state,
}: Omit<FigureVerdict, 'figure' | 'label' | 'value' | 'goal' | 'unit'>): string {
  if (deviation === null) return 'nothing to measure';
  const past = state === 'over' || state === 'under';
  // What misses never reads as if it did not, nor the other way round.
  const digits = tellingDigits(Math.abs(deviation), tolerance ?? 0, past || tolerance === null);
  const size = `${figure(Math.abs(deviation), past || tolerance !== null ? digits : 1)} ${deviationUnit}`;
  if (tolerance === null && atLeast)
    return `${size} ${state === 'under' ? 'short of the limit' : 'over the least'}`;
  if (tolerance === null)
    return deviation > 0 && state === 'over' ? `${size} over the limit` : `${size} headroom`;
  if (Math.abs(deviation) < 0.05) return 'on target';
  return `${size} ${deviation > 0 ? 'over' : 'under'}${state === 'within' ? ', within tolerance' : ''}`;
}

/** What a figure is held against, in words: “−23.0 LUFS ±0.5”, “at most −1.0 dBTP”. */
export const goalWords = ({ goal, tolerance, atLeast, unit }: FigureVerdict): string =>
  tolerance === null
    ? `${atLeast ? 'at least' : 'at most'} ${withUnit(goal, unit)}`
    : `${withUnit(goal, unit)} ±${figure(tolerance)}`;
