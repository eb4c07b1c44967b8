/**
 * Whether the exact true peak has to be known before a gain is promised to keep a ceiling: its true peak by
 * BS.1770-5, Annex 2, comes so near that what that filter reads too little may matter.
 * @param truePeakAfterDbtp as the standard's filter reads it, with the gain; `null` for silence
 */
export const exactPeakMatters = (truePeakAfterDbtp: number | null, ceilingDbtp: number): boolean =>
  truePeakAfterDbtp !== null && truePeakAfterDbtp > ceilingDbtp - 3;

/** A difference between the two readings of a true peak that is worth showing, dB. */
const WORTH_SHOWING_DB = 0.1;

/** The exact true peak where it differs from the standard's figure by enough to be shown, else `null`. */
export const exactPeakToShow = (standard: number | null, exact: number | null): number | null =>
  standard !== null && exact !== null && Math.abs(exact - standard) > WORTH_SHOWING_DB ? exact : null;
