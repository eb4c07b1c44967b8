import { UNIT } from '@/core/measuring/clipReading';
import type { FigureVerdict } from '@/core/check/verdict';
import { figure } from '@/core/text/figures';
import type { FadeShape, GainReason, Role, SegmentShape } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';

/** “3.4 LU under”, “on target”, “0.6 dB below the limit”. */
export function deviationWords({
  deviation,
  deviationUnit,
  tolerance,
  atLeast,
  state,
}: FigureVerdict): string {
  if (deviation === null) return 'nothing to measure';
  const size = `${figure(Math.abs(deviation))} ${deviationUnit}`;
  if (tolerance === null && atLeast)
    return `${size} ${state === 'under' ? 'short of the limit' : 'over the least'}`;
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

/** “20 ms”, “1.25 s”. */
export const secondsText = (seconds: number): string =>
  seconds < 1 ? `${Number((seconds * 1000).toFixed(seconds < 0.1 ? 1 : 0))} ms` : `${seconds.toFixed(2)} s`;

/** What a fade is called by its shape. */
export const fadeShapeWords = (shape: FadeShape): string =>
  typeof shape === 'number'
    ? `by correlation ${shape.toFixed(2).replace('-', '−')}`
    : { equalPower: 'Equal power', straight: 'Straight', smooth: 'Smooth', exponential: 'Exponential' }[
        shape
      ];

/** What a segment of a curve is called by its shape. */
export const SEGMENT_WORDS: Readonly<Record<SegmentShape | 'straight', string>> = {
  straight: 'Straight',
  easeStart: 'Eased at start',
  easeEnd: 'Eased at end',
  ease: 'Eased',
  step: 'Step',
};

export const ROLE_NAMES: Readonly<Record<Role, string>> = {
  dialogue: 'Dialogue',
  narration: 'Narration',
  music: 'Music',
  effects: 'Effects',
  ambience: 'Ambience',
};
