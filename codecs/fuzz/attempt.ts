import { bytesSource } from '@/core/audio/byteSource';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { AudioFileError } from '@/core/formats/errors';
import { detailsOf } from '@/core/loudness/details';
import { figuresOf } from '@/core/loudness/figures';
import { joinSlices, measureSlice, type SliceMeasurement } from '@/core/loudness/measureReader';
import { beginSound, openChosen } from '../measureSound';

/** Longer than this for a file of a few kilobytes is a hang, ms. */
export const HANG_MS = 30_000;
/** The least that a coded second takes, bytes: what claims more sound than this was not decoded but made up. */
const LEAST_BYTES_A_SECOND = 8;

/** What became of a damaged file. */
export type Fate = 'measured' | 'partial' | 'refused';

function checkNumbers(value: unknown, path: string): void {
  if (typeof value === 'number' && !Number.isFinite(value)) throw new Error(`${path} is ${value}`);
  if (ArrayBuffer.isView(value)) return;
  if (typeof value === 'object' && value !== null)
    for (const [key, inner] of Object.entries(value)) checkNumbers(inner, `${path}.${key}`);
}

async function measure(bytes: Uint8Array): Promise<Fate> {
  const source = bytesSource(bytes);
  const begun = (await beginSound(source, WHOLE_FIRST_SOUND, () => true))!;
  const { format } = begun;
  let measured;
  if (begun.kind === 'done') ({ measured } = begun);
  else {
    const sound = await openChosen(source, WHOLE_FIRST_SOUND);
    if (sound.kind !== 'pcm') throw new Error('Compressed sound was cut');
    const parts: SliceMeasurement[] = [];
    for (let i = 1; i < begun.cuts.length; i++)
      parts.push((await measureSlice(sound.reader, begun.cuts[i - 1]!, begun.cuts[i]!, () => true))!);
    measured = joinSlices(parts, format);
  }
  checkNumbers([figuresOf(measured.history), detailsOf(measured)], 'figures');
  checkNumbers(format, 'format');
  if (format.frames !== measured.history.frames)
    throw new Error('The length measured is not the length stated');
  if (format.frames / format.sampleRate > bytes.length / LEAST_BYTES_A_SECOND)
    throw new Error(`${bytes.length} bytes cannot hold ${format.frames} frames`);
  return format.partial ? 'partial' : 'measured';
}

/**
 * Opens and measures a file that may be anything.
 * @throws Error for everything but a figure or a refusal with a reason: a crash, a hang, a figure that is no number
 */
export async function attempt(bytes: Uint8Array): Promise<Fate> {
  let watch: NodeJS.Timeout | undefined;
  const hang = new Promise<never>((_, reject) => {
    watch = setTimeout(() => reject(new Error('It hangs')), HANG_MS);
  });
  try {
    return await Promise.race([measure(bytes), hang]);
  } catch (error) {
    if (!(error instanceof AudioFileError)) throw error;
    if (!/\S.*[.!?]$/.test(error.message) || !/\S.*[.!?]$/.test(error.hint))
      throw new Error(`No full sentence: “${error.message}” “${error.hint}”`, { cause: error });
    return 'refused';
  } finally {
    clearTimeout(watch);
  }
}
