import { UNIT } from '@/core/measuring/clipReading';
import type { FigureVerdict } from '@/core/check/verdict';
import { figure } from '@/core/text/figures';
import type { GainReason, Role } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';

/** “3.4 LU under”, “on target”, “0.6 dB below the limit”. */
export function deviationWords({ deviation, deviationUnit, tolerance, state }: FigureVerdict): string {
  if (deviation === null) return 'nothing to measure';
  const size = `${figure(Math.abs(deviation))} ${deviationUnit}`;
  if (tolerance === null)
    return deviation > 0 && state === 'over' ? `${size} over the limit` : `${size} headroom`;
  if (Math.abs(deviation) < 0.05) return 'on target';
  return `${size} ${deviation > 0 ? 'over' : 'under'}${state === 'within' ? ', within tolerance' : ''}`;
}

/** How a gain came about, in a few words. */
export function reasonWords(reason: GainReason): string {
  if (reason.kind === 'asRecorded') return 'as recorded';
  if (reason.kind === 'byHand') return 'set by hand';
  const goal = withUnit(reason.goal, UNIT[reason.measure]);
  const how = {
    each: 'by itself',
    together: 'with others',
    programme: 'with the whole programme',
    plan: 'by the plan',
  }[reason.mode];
  return `levelled to ${goal} ${how}${reason.stoppedByCeiling ? ', stopped by the ceiling' : ''}`;
}

export const ROLE_NAMES: Readonly<Record<Role, string>> = {
  dialogue: 'Dialogue',
  narration: 'Narration',
  music: 'Music',
  effects: 'Effects',
  ambience: 'Ambience',
};
