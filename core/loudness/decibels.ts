/** Amplitude ratio to decibels; `null` for zero and below, so that silence never becomes −Infinity in data. */
export function amplitudeToDb(amplitude: number): number | null {
  return amplitude > 0 ? 20 * Math.log10(amplitude) : null;
}

/** Decibels to amplitude ratio. */
export function dbToAmplitude(db: number): number {
  return 10 ** (db / 20);
}

/** Decibels to power ratio. */
export function dbToPower(db: number): number {
  return 10 ** (db / 10);
}

/** ITU-R BS.1770-5, Annex 1, eq. 2: the constant that makes a 997 Hz 0 dBFS sine in one front channel read −3.01 LKFS. */
const LOUDNESS_OFFSET = -0.691;

/** Under about −200 LUFS there is no sound, only what rings on in the filters after it. */
const NO_SOUND = 1e-20;

/**
 * Loudness of a weighted mean square.
 * @param meanSquare Σ G_i·z_i, full scale = 1; 0 or more
 * @returns LUFS, or `null` when there is no sound
 * Source: ITU-R BS.1770-5, Annex 1, eq. 2.
 */
export function meanSquareToLufs(meanSquare: number): number | null {
  return meanSquare > NO_SOUND ? LOUDNESS_OFFSET + 10 * Math.log10(meanSquare) : null;
}

/** The inverse of {@link meanSquareToLufs}. */
export function lufsToMeanSquare(lufs: number): number {
  return 10 ** ((lufs - LOUDNESS_OFFSET) / 10);
}
