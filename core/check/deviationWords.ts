import { figure } from '@/core/text/figures';
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
  const size = `${figure(Math.abs(deviation))} ${deviationUnit}`;
  if (tolerance === null && atLeast)
    return `${size} ${state === 'under' ? 'short of the limit' : 'over the least'}`;
  if (tolerance === null)
    return deviation > 0 && state === 'over' ? `${size} over the limit` : `${size} headroom`;
  if (Math.abs(deviation) < 0.05) return 'on target';
  return `${size} ${deviation > 0 ? 'over' : 'under'}${state === 'within' ? ', within tolerance' : ''}`;
}
