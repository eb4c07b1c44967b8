import { clippedNote, disagreement } from '@/core/loudness/agreement';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { isStems, type Delivery } from '@/core/programme/delivery';
import { signed, withUnit } from '@/core/text/figures';
import type { DeliveryFile } from './deliveryFiles';
import { isLossy } from './fileKinds';
import { stemSumWords, type StemSumResult } from './stemSum';

/** Coding with loss may change loudness by so much without a word, LU. */
const CODED_LU = 0.2;

/** Says where a file that is coded with loss is not as loud as what went in. */
function codedOtherwise(predicted: LoudnessFigures, file: LoudnessFigures): string | null {
  const [a, b] = [predicted.integratedLufs, file.integratedLufs];
  return a !== null && b !== null && Math.abs(a - b) > CODED_LU
    ? `Coding has changed its loudness by ${signed(b - a, 2)} LU.`
    : null;
}

/** Says that the true peak is over the ceiling after coding though it was not before. */
function overByCoding(ceilingDbtp: number, predicted: LoudnessFigures, file: LoudnessFigures): string | null {
  const [before, after] = [predicted.truePeakDbtp, file.truePeakDbtp];
  if (before === null || after === null || before > ceilingDbtp || after <= ceilingDbtp) return null;
  const lower = Math.ceil((after - ceilingDbtp) * 10) / 10;
  return `Coding raises the true peak from ${withUnit(before, 'dBTP')} to ${withUnit(after, 'dBTP')}, ${withUnit(after - ceilingDbtp, 'dB', 2)} over the ceiling: ${withUnit(lower, 'dB')} less, or a higher bit rate, would avoid it.`;
}

/** When somebody speaks in a file, seconds of it. */
export function speechInFile(
  spoken: readonly TimeRange[],
  { from, to, delivery }: DeliveryFile,
  sampleRate: number,
): TimeRange[] {
  const [start, end] = [from / sampleRate, to / sampleRate];
  return spoken
    .filter((range) => range.to > start && range.from < end)
    .map((range) => ({
      from: Math.max(range.from, start) - start + delivery.headSeconds,
      to: Math.min(range.to, end) - start + delivery.headSeconds,
    }));
}

/** What is wrong with a file that was read back. */
export interface Proof {
  /** Where it does not measure what was worked out, and what was cut off, full sentences; empty when all is well. */
  readonly wrong: readonly string[];
  /** Its true peak is over the ceiling only after coding, a full sentence with what would avoid it. */
  readonly codecOver: string | null;
  /** That it adds up to the mix with the other stems of its delivery, a full sentence; `null` where they are not all of it. */
  readonly sum: string | null;
}

/** What is known of a file that was read back. */
export interface ReadBack {
  /** What was worked out, and what is measured from the file. */
  readonly predicted: LoudnessFigures;
  readonly file: LoudnessFigures;
  readonly clippedSamples: number;
  /** Of the stems it belongs to; `null` where they are not all of the mix. */
  readonly sum: StemSumResult | null;
}

/** Holds a file against what was worked out. */
export function proofOf(delivery: Delivery, { predicted, file, clippedSamples, sum }: ReadBack): Proof {
  const added = sum && stemSumWords(sum, delivery);
  const lossy = isLossy(delivery.format);
  const differs = lossy ? codedOtherwise(predicted, file) : disagreement(predicted, file);
  const { target } = delivery;
  return {
    wrong: [clippedNote(clippedSamples), differs, added && !added.addsUp ? added.sentence : null].filter(
      (said) => said !== null,
    ),
    codecOver:
      lossy && target && !isStems(delivery) ? overByCoding(target.maxTruePeakDbtp, predicted, file) : null,
    sum: added?.addsUp ? added.sentence : null,
  };
}
