import { dirname } from 'node:path';
import { saidByWav, wavChannels } from '@/core/audio/layout';
import { bytesPerSample, WRITTEN } from '@/core/audio/pcm';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { renderFile, type RenderSpec } from '@/core/deliver/renderFile';
import { FileError } from './files';
import { measureFile, type Measured } from './measureFile';
import { checkRoom, writeWhole, type Output } from './output';
import type { TaskPool } from './pool';
import { stateLoudness } from './stateLoudness';

/** Room for what stands around the samples, bytes. */
const HEADER_BYTES = 4096;

export interface Written {
  /** Measured from the file. */
  readonly sound: Measured;
  /** What is worth knowing of it, as full sentences. */
  readonly notes: readonly string[];
  readonly clippedSamples: number;
}

const FLOAT_HINT = 'Write float with --format float, which has room past full scale, or lower the level.';

/**
 * Writes a WAV file, measures it as its layout was declared, and only then puts it in its place: a file that does not
 * measure what was predicted is not left there.
 * @param predicted asked once all of it is made
 * @param onProgress told the part done of the writing and of the measuring, 0 to 1 each
 */
export async function writeSound(
  output: Output,
  spec: RenderSpec,
  make: (start: number, count: number) => Promise<Float32Array[]>,
  predicted: () => LoudnessFigures,
  pool: TaskPool,
  onProgress: (done: number) => void,
): Promise<Written> {
  const { layout, frames, format } = spec;
  const width = bytesPerSample(WRITTEN[format]);
  await checkRoom(dirname(output.path), frames * layout.labels.length * width + HEADER_BYTES);
  let clippedSamples = 0;
  let loudnessAt: number | null = null;
  const sound = await writeWhole(
    output,
    async (sink) => {
      const result = await renderFile(spec, make, sink, (done) => {
        onProgress(done);
        return true;
      });
      ({ clippedSamples, loudnessAt } = result!);
    },
    async (part) => {
      const as = wavChannels(layout).layout;
      const measured = await measureFile(part, { ...WHOLE_FIRST_SOUND, as }, pool, onProgress);
      const figures = figuresOf(measured.measured.history);
      const wrong = disagreement(predicted(), figures);
      if (wrong === null) {
        if (loudnessAt !== null) await stateLoudness(part, loudnessAt, figures);
        return measured;
      }
      const clipped = clippedNote(clippedSamples);
      throw new FileError(
        clipped ? 'clipped' : 'notAsPredicted',
        `${clipped ? `${clipped} ` : ''}${wrong} It was not left there.`,
        clipped ? FLOAT_HINT : 'Report this as a defect.',
      );
    },
  );
  const clipped = clippedNote(clippedSamples);
  return {
    sound,
    clippedSamples,
    notes: [
      ...(clipped ? [`${clipped} ${FLOAT_HINT}`] : []),
      ...(saidByWav(layout)
        ? []
        : [
            `A WAV file has no words for ${layout.name}: it was measured as such, and has to be declared where it is measured again.`,
          ]),
    ],
  };
}
