import { programmeLayout, wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { thresholdsOf } from '@/core/programme/edits/check';
import type { DeliveryFile } from '@/core/deliver/deliveryFiles';
import { saysLoudness, statedOf } from '@/core/deliver/fileSaid';
import { proofOf, speechInFile } from '@/core/deliver/proof';
import { loudnessBytes } from '@/core/formats/wav/bext';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { programmeFaults } from '@/core/programme/damagedSources';
import { isStems } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import { patched } from '@/engine/blobWriter';
import type { WrittenBlob } from '@/engine/deliverProtocol';
import { measurePool } from '@/engine/measurePool';
import type { Outcome } from '@/engine/protocol';
import type { DeliveredFile, MeasuredFile } from './fileLine';

const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, i) => byte === b[i]);

/** A file that was written, and what it is to measure. */
type Proved = WrittenBlob & { readonly predicted: LoudnessFigures };

/** Is told how a file stands that is read back. */
interface Told {
  readonly reading: (done: number) => void;
  readonly measured: (measured: MeasuredFile) => void;
  readonly hashing: (done: number) => void;
}

/**
 * Reads a file back from its first sample to its last, measures and judges it, writes its loudness into it where it has a place for
 * it, and takes its checksum: whether it meets its target may be known before.
 */
export async function readBack(
  file: DeliveryFile,
  project: Project,
  written: Proved,
  given: Pick<DeliveredFile, 'corrected' | 'gainDb'>,
  spoken: readonly TimeRange[],
  signal: AbortSignal,
  at: string,
  told: Told,
): Promise<Outcome<DeliveredFile>> {
  const { delivery } = file;
  const layout = programmeLayout(delivery.layoutId ?? project.layoutId);
  const choice = { ...WHOLE_FIRST_SOUND, as: wavChannels(layout).layout };
  const { loudnessAt, predicted, clippedSamples, sum } = written;
  const says = loudnessAt !== null && saysLoudness(file);
  /** The file as it is handed on: what it measures belongs to its checksum. */
  const stating = (figures: LoudnessFigures): Blob =>
    says
      ? patched(written.blob, [{ at: loudnessAt, bytes: loudnessBytes(statedOf(figures)) }])
      : written.blob;
  // Its checksum is taken meanwhile, of the file as it will be if it measures what was predicted.
  let [hashed, isMeasured] = [0, false];
  const early = measurePool().hash(stating(predicted), signal, (done) => {
    hashed = done;
    if (isMeasured) told.hashing(done);
  });
  const measured = await measurePool().fileToCheck(written.blob, signal, told.reading, choice);
  if (!('ok' in measured)) return measured;
  const { material } = measured.ok;
  const { figures } = material;
  const target = isStems(delivery) ? null : delivery.target;
  let verdict: DeliveredFile['verdict'] = null;
  if (target) {
    const speech = speechInFile(spoken, file, project.sampleRate);
    const judged = await measurePool().checkFile(
      {
        ...measured.ok,
        material: {
          ...material,
          speech: speech.length > 0 ? speech : null,
          // A file made of sound that is not whole is not whole either.
          integrity: [...programmeFaults(project), ...material.integrity],
        },
      },
      [target],
      thresholdsOf(project),
      null,
      signal,
    );
    if (!('ok' in judged)) return judged;
    verdict = judged.ok.check.verdicts[0]!;
  }
  const proof = proofOf(delivery, { predicted, file: figures, clippedSamples, sum });
  told.measured({ figures, verdict, ...proof });
  isMeasured = true;
  const blob = stating(figures);
  const asForeseen = !says || sameBytes(loudnessBytes(statedOf(figures)), loudnessBytes(statedOf(predicted)));
  told.hashing(asForeseen ? hashed : 0);
  const hash = await (asForeseen ? early : measurePool().hash(blob, signal, told.hashing));
  if (!('ok' in hash)) return hash;
  return {
    ok: {
      ...{ name: file.name, blob, bytes: blob.size, sha256: hash.ok, project, predicted, figures, verdict },
      ...given,
      ...proof,
      ...{ savedAs: null, at, receipts: [] },
    },
  };
}
