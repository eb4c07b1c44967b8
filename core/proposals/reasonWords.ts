import { UNIT } from '@/core/measuring/clipReading';
import type { GainReason } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';

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
