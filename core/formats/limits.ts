import { MAX_CHANNELS } from '@/core/audio/layout';
import type { IntegrityFault } from '@/core/audio/integrity';
import { AudioFileError } from './errors';

/** Lowest and highest sample rates that are measured, Hz. */
const MIN_SAMPLE_RATE = 8_000;
const MAX_SAMPLE_RATE = 384_000;

export const EXPORT_AGAIN = 'Export or copy the file again from where it came from.';
export const CONVERT = 'Convert it to WAV with PCM or float samples, then add it again.';

const whole = (n: number): string => n.toLocaleString('en');

/** @throws AudioFileError when no sound can have this many channels or this rate here */
export function checkSound(channels: number, sampleRate: number): void {
  if (channels === 0)
    throw new AudioFileError('damagedHeader', 'The file says it has no channels.', EXPORT_AGAIN);
  if (channels > MAX_CHANNELS) {
    throw new AudioFileError(
      'tooManyChannels',
      `The file has ${whole(channels)} channels; up to ${MAX_CHANNELS} can be measured.`,
      'Export the channels you need as files of their own.',
    );
  }
  if (!Number.isInteger(sampleRate) || sampleRate < MIN_SAMPLE_RATE || sampleRate > MAX_SAMPLE_RATE) {
    throw new AudioFileError(
      'unsupportedRate',
      `The file says ${whole(sampleRate)} Hz; whole numbers from ${whole(MIN_SAMPLE_RATE)} to ${whole(MAX_SAMPLE_RATE)} Hz can be measured.`,
      EXPORT_AGAIN,
    );
  }
}

/**
 * Frames that are really there.
 * @param said bytes of sound as the file says
 * @param rest bytes from the sound's start to the end of the file
 * @param stride bytes a frame
 * @returns whole frames, and a fault where the file ends early
 * @throws AudioFileError when there are none
 */
export function framesThere(
  said: number,
  rest: number,
  stride: number,
  sampleRate: number,
): { readonly frames: number; readonly faults: readonly IntegrityFault[] } {
  const frames = Math.floor(Math.max(0, Math.min(said, rest)) / stride);
  if (frames === 0)
    throw new AudioFileError('noSound', 'The file holds no sound: it is 0 s long.', EXPORT_AGAIN);
  const missing = (said - rest) / stride / sampleRate;
  if (said > rest) return { frames, faults: [endsEarly(missing)] };
  const left = said % stride;
  return {
    frames,
    faults:
      left === 0
        ? []
        : [
            {
              kind: 'lengthUncertain',
              sentence: `The sound ends within a sample: ${left} bytes of ${stride}.`,
            },
          ],
  };
}

/** The file ends before its sound does. @param seconds how much is missing; `null` where that is not known */
export const endsEarly = (seconds: number | null): IntegrityFault => ({
  kind: 'truncated',
  sentence:
    seconds === null
      ? 'The file ends before it should; what is there was read.'
      : `The file ends ${seconds < 0.01 ? 'some samples' : `${seconds.toFixed(2)} s`} before it should; what is there was read.`,
});

export const LENGTH_NOT_STATED: IntegrityFault = {
  kind: 'lengthUncertain',
  sentence: 'The file does not say how long its sound is; it was read to the end.',
};

/** The fault of bytes that no known part of the file accounts for. */
const unreadBytes = (bytes: number): IntegrityFault => ({
  kind: 'unread',
  sentence: `${whole(bytes)} ${bytes === 1 ? 'byte' : 'bytes'} of the file ${bytes === 1 ? 'is' : 'are'} not part of any chunk and ${bytes === 1 ? 'was' : 'were'} not read.`,
});

/**
 * What is wrong where the chunks of a file do not end with it.
 * @param end see `walkChunks`
 * @param soundEnd where its sound ends; one that is cut off is told as such
 */
export function endFaults(end: number | null, size: number, soundEnd: number): IntegrityFault[] {
  if (end === null || end === size) return [];
  if (end < size) return [unreadBytes(size - end)];
  return soundEnd > size ? [] : [endsEarly(null)];
}

/** A file holds sound twice; only the first is read. */
export const secondSound = (bytes: number): IntegrityFault => ({
  kind: 'unread',
  sentence: `The file holds a second part of sound (${whole(bytes)} bytes), which was not read.`,
});
