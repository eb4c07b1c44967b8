import type { Verdict } from '@/core/check/verdict';
import type { LoudnessFigures } from '@/core/loudness/figures';

/** A file that was mended, measured from what was written. */
export interface MendedFile {
  readonly name: string;
  /** `null` once it is saved to a folder: then it is not kept here. */
  readonly blob: Blob | null;
  readonly gainDb: number;
  /** The most the limiter takes off, dB; `null` without one. */
  readonly limitedDb: number | null;
  readonly figures: LoudnessFigures;
  readonly verdict: Verdict;
  /** What was done, full sentences. */
  readonly sentence: string;
  /** Where it does not measure what was worked out, and what was cut off, as full sentences; empty when all is well. */
  readonly wrong: readonly string[];
}
