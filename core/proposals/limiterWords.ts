import type { Limiter } from '@/core/programme/model';
import { MUCH_OF_THE_TIME, MUCH_REDUCTION_DB } from '@/core/signal/limiter/presets';
import { clock, figure, withUnit } from '@/core/text/figures';
import type { LimitedGain } from './limitedGain';

const percent = (part: number): string =>
  part >= 0.095 ? `${Math.round(part * 100)} %` : `${figure(part * 100)} %`;

/** Whether it is more limiting than one would want. @param part of the time */
const isMuch = (maxReductionDb: number, part: number): boolean =>
  maxReductionDb > MUCH_REDUCTION_DB || part > MUCH_OF_THE_TIME;

/** What a limiter does to a sound, in full sentences. @param seconds how long the sound is */
export function limiterSentences(
  { ceilingDbtp }: Limiter,
  { work, after, fallsShort }: LimitedGain,
  seconds: number,
): string[] {
  if (work.maxReductionDb === 0) return ['The limiter has nothing to do.'];
  const part = work.workingSeconds / seconds;
  return [
    `The limiter takes up to ${figure(work.maxReductionDb)} dB off its peaks, at ${clock(work.maxAt ?? 0)}, works for ${percent(part)} of the time, and keeps them under ${withUnit(ceilingDbtp, 'dBTP')}.`,
    ...(isMuch(work.maxReductionDb, part) ? ['That is a lot of limiting: listen to it, or aim lower.'] : []),
    ...(fallsShort
      ? [`More gain makes it no louder: ${withUnit(after.integratedLufs, 'LUFS')} is as loud as it gets.`]
      : []),
  ];
}
