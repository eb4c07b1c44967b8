import { programmeLayout, wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { thresholdsOf } from '@/core/programme/edits/check';
import type { DeliveryFile } from '@/core/deliver/deliveryFiles';
import { isLossy } from '@/core/deliver/fileKinds';
import { saysLoudness, statedOf } from '@/core/deliver/fileSaid';
import { loudnessBytes } from '@/core/formats/wav/bext';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { isStems } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import { signed, withUnit } from '@/core/text/figures';
import { patched } from '@/engine/blobWriter';
import type { DeliverEngine } from '@/engine/deliverEngine';
import type { WrittenBlob } from '@/engine/deliverProtocol';
import { measurePool } from '@/engine/measurePool';
import type { Outcome } from '@/engine/protocol';
import type { DeliveredFile } from './fileLine';

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

/**
 * Reads a file back from its first sample to its last, measures and judges it, writes its loudness into it where it has a place for
 * it, and takes its checksum.
 */
export async function readBack(
  file: DeliveryFile,
  project: Project,
  written: WrittenBlob,
  given: Pick<DeliveredFile, 'corrected' | 'gainDb'>,
  spoken: readonly TimeRange[],
  engine: DeliverEngine,
  signal: AbortSignal,
  at: string,
  onProgress: (done: number) => void,
): Promise<Outcome<DeliveredFile>> {
  const { delivery } = file;
  const layout = programmeLayout(delivery.layoutId ?? project.layoutId);
  const choice = { ...WHOLE_FIRST_SOUND, as: wavChannels(layout).layout };
  const patches = written.loudnessAt !== null && saysLoudness(file);
  const [measured, early] = await Promise.all([
    measurePool().fileToCheck(written.blob, signal, (done) => onProgress(0.8 * done), choice),
    // What is written into it once it is measured belongs to its checksum.
    patches ? null : engine.hash(written.blob, signal, () => undefined),
  ]);
  if (!('ok' in measured)) return measured;
  const { material } = measured.ok;
  const { figures } = material;
  const target = isStems(delivery) ? null : delivery.target;
  let verdict: DeliveredFile['verdict'] = null;
  if (target) {
    const speech = speechInFile(spoken, file, project.sampleRate);
    const judged = await measurePool().checkFile(
      { ...measured.ok, material: { ...material, speech: speech.length > 0 ? speech : null } },
      [target],
      thresholdsOf(project),
      null,
      signal,
    );
    if (!('ok' in judged)) return judged;
    verdict = judged.ok.check.verdicts[0]!;
  }
  const { loudnessAt, predicted, clippedSamples } = written;
  const blob = patches
    ? patched(written.blob, [{ at: loudnessAt!, bytes: loudnessBytes(statedOf(figures)) }])
    : written.blob;
  const hash = early ?? (await engine.hash(blob, signal, (done) => onProgress(0.8 + 0.2 * done)));
  if (!('ok' in hash)) return hash;
  const lossy = isLossy(delivery.format);
  const differs = lossy ? codedOtherwise(predicted, figures) : disagreement(predicted, figures);
  return {
    ok: {
      ...{ name: file.name, blob, bytes: blob.size, sha256: hash.ok, project, predicted, figures, verdict },
      ...given,
      wrong: [clippedNote(clippedSamples), differs].filter((said) => said !== null),
      codecOver: lossy && target ? overByCoding(target.maxTruePeakDbtp, predicted, figures) : null,
      ...{ savedAs: null, at },
    },
  };
}
