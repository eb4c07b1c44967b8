/** What a delivery must meet. All limits are compared unrounded. */
export interface Target {
  readonly id: string;
  readonly name: string;
  /** Where the figures come from: the standard's name, “common practice” or “your own”. */
  readonly source: string;
  /** Target loudness, LUFS (LKFS is the same unit). */
  readonly integratedLufs: number;
  /** How far integrated loudness may lie from the target, ± LU. */
  readonly toleranceLu: number;
  /** Highest true peak allowed, dBTP. */
  readonly maxTruePeakDbtp: number;
  /** Highest short-term loudness allowed, LUFS; `null` when not limited. */
  readonly maxShortTermLufs: number | null;
  /** Highest momentary loudness allowed, LUFS; `null` when not limited. */
  readonly maxMomentaryLufs: number | null;
  /** Largest loudness range allowed, LU; `null` when not limited. */
  readonly maxLoudnessRangeLu: number | null;
}
