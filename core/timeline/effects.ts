import type { GainReason } from '@/core/programme/model';
import { SILENT_DB } from '@/core/programme/curve';
import type { CutPoint } from './cut';
import { reasonIn } from './ours';
import { isObject, nameOf, type Json } from './otioJson';
import { gainPointsIn } from './overTime';

/** Under this name in a gain's metadata stands what it is over time: points of time in the media, and dB. */
export const GAIN_POINTS = 'dengung_points';
/** A gain of nothing: the clip is there, and not heard. */
const SILENT: readonly CutPoint[] = [{ seconds: 0, db: SILENT_DB }];
const GAIN = /^(audio.?)?(gain|volume)$/i;

/** The effects of an item: its gain in dB (`gain_db`, or `gain` as a factor, in the effect's metadata), and the others. */
export function effectsOf(item: Json): {
  readonly gainDb: number;
  readonly curve: readonly CutPoint[];
  readonly reason: GainReason | null;
  readonly others: readonly Json[];
} {
  let gainDb = 0;
  let curve: readonly CutPoint[] = [];
  let reason: GainReason | null = null;
  const others: Json[] = [];
  for (const effect of Array.isArray(item['effects']) ? item['effects'].filter(isObject) : []) {
    const metadata = isObject(effect['metadata']) ? effect['metadata'] : {};
    const { gain_db: inDb, gain: factor } = metadata;
    if (GAIN.test(effectName(effect)) && typeof inDb === 'number' && Number.isFinite(inDb)) {
      gainDb += inDb;
      reason = reasonIn(metadata) ?? reason;
      if (GAIN_POINTS in metadata) curve = gainPointsIn(metadata[GAIN_POINTS]);
    } else if (GAIN.test(effectName(effect)) && typeof factor === 'number' && factor > 0)
      gainDb += 20 * Math.log10(factor);
    else if (GAIN.test(effectName(effect)) && factor === 0) curve = SILENT;
    else others.push(effect);
  }
  return { gainDb, curve, reason, others };
}

export const effectName = (effect: Json): string =>
  typeof effect['effect_name'] === 'string' ? effect['effect_name'] : nameOf(effect);
