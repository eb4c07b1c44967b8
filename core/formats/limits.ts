import { MAX_CHANNELS } from '@/core/audio/layout';
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
 * @returns whole frames, and a warning when the file ends early
 * @throws AudioFileError when there are none
 */
export function framesThere(
  said: number,
  rest: number,
  stride: number,
  sampleRate: number,
): { frames: number; partial: boolean; warnings: string[] } {
  const frames = Math.floor(Math.max(0, Math.min(said, rest)) / stride);
  if (frames === 0)
    throw new AudioFileError('noSound', 'The file holds no sound: it is 0 s long.', EXPORT_AGAIN);
  const partial = said > rest;
  const missing = (said - rest) / stride / sampleRate;
  return {
    frames,
    partial,
    warnings: partial
      ? [`The file ends ${missing.toFixed(2)} s before it should; what is there was read.`]
      : [],
  };
}
