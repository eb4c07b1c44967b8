import type { GainRoom } from '@/core/programme/clipGain';
import { signed, withUnit } from '@/core/text/figures';

/** What a gain was limited by, if anything. */
export type GainLimit = 'ceiling' | 'gainRange' | null;

/** A change of gain that was wanted, and what of it can be given. */
export interface Held {
  /** dB. */
  readonly wantedDb: number;
  readonly changeDb: number;
  readonly limitedBy: GainLimit;
}

/**
 * What moves the whole programme stays so far under its ceiling, dB: gains and samples are rounded on the way to a file, and what is
 * promised has to hold there.
 */
export const CEILING_MARGIN_DB = 0.01;

/**
 * Holds a change of gain under a ceiling, and within what the gain can be.
 * @param toCeilingDb the largest change that stays under the ceiling, dB; infinite where it is ignored
 * @param room how far the gain can go from where it is
 */
export function held(wantedDb: number, toCeilingDb: number, { minDb, maxDb }: GainRoom): Held {
  const underCeiling = Math.min(wantedDb, toCeilingDb);
  const changeDb = Math.min(maxDb, Math.max(minDb, underCeiling));
  const limitedBy = changeDb !== underCeiling ? 'gainRange' : underCeiling < wantedDb ? 'ceiling' : null;
  return { wantedDb, changeDb, limitedBy };
}

/** The same change for several: as far as the one goes that stops first. @returns whose it is with it */
export function heldTogether<T>(all: readonly { readonly of: T; readonly held: Held }[]): {
  readonly of: T;
  readonly held: Held;
} {
  return all.reduce((first, next) => {
    const { wantedDb } = next.held;
    const short = (one: typeof next): number => Math.abs(wantedDb - one.held.changeDb);
    return short(next) > short(first) ? next : first;
  });
}

/** What stopped a change short, as a sentence without its full stop; `null` where nothing did. */
export function heldWords(
  { wantedDb, changeDb, limitedBy }: Held,
  told: {
    /** What reaches the ceiling: “the programme’s true peak”. */
    readonly peak: string;
    readonly ceilingDbtp: number;
    /** What can go no further: “a clip’s gain”. */
    readonly gain: string;
    /** Who is given the change, where it has to be said: “ on every clip”. */
    readonly to?: string;
  },
): string | null {
  if (limitedBy === null) return null;
  const given = `${signed(wantedDb)} dB wanted, ${signed(changeDb)} dB given${told.to ?? ''}`;
  return limitedBy === 'ceiling'
    ? `${given}: ${told.peak} reaches ${withUnit(told.ceilingDbtp, 'dBTP')} first`
    : `${given}: ${told.gain} goes no further`;
}
