import { withUnit } from '@/core/text/figures';
import type { LoudnessFigures } from './figures';

/** How far a written file may measure from what was predicted, LU and dB. */
const LOUDNESS_LU = 0.02;
const PEAK_DB = 0.1;
/** Where a figure is this near to having no value at all, rounding may take it: LUFS (the absolute gate) and dBTP. */
const FAINT_LUFS = -69.5;
const FAINT_DBTP = -110;

type Compared = Pick<LoudnessFigures, 'integratedLufs' | 'truePeakDbtp'>;

function differ(a: number | null, b: number | null, tolerance: number, faint: number): boolean {
  if (a === null || b === null) return Math.max(a ?? -Infinity, b ?? -Infinity) > faint;
  return Math.max(a, b) > faint && Math.abs(a - b) > tolerance;
}

/**
 * Says where a written file does not measure what was predicted: by more than 0.02 LU or 0.1 dB.
 * @returns `null` when it does, else a sentence
 */
export function disagreement(predicted: Compared, written: Compared): string | null {
  const parts = [
    ...(differ(predicted.integratedLufs, written.integratedLufs, LOUDNESS_LU, FAINT_LUFS)
      ? [
          `${withUnit(predicted.integratedLufs, 'LUFS', 2)} predicted, ${withUnit(written.integratedLufs, 'LUFS', 2)} in the file`,
        ]
      : []),
    ...(differ(predicted.truePeakDbtp, written.truePeakDbtp, PEAK_DB, FAINT_DBTP)
      ? [
          `${withUnit(predicted.truePeakDbtp, 'dBTP', 2)} predicted, ${withUnit(written.truePeakDbtp, 'dBTP', 2)} in the file`,
        ]
      : []),
  ];
  return parts.length === 0 ? null : `The file does not measure what was predicted: ${parts.join('; ')}.`;
}

/** Samples that were cut off at full scale, in a sentence; `null` when there were none. */
export function clippedNote(samples: number): string | null {
  if (samples === 0) return null;
  const what =
    samples === 1
      ? 'One sample went past full scale and was'
      : `${samples.toLocaleString('en')} samples went past full scale and were`;
  return `${what} cut off there.`;
}
