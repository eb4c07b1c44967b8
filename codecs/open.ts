import type { ByteSource } from '@/core/audio/byteSource';
import type { AudioReader } from '@/core/audio/reader';
import type { AudioStream } from '@/core/audio/stream';
import { holdsPcm, kindOf, openPcm } from '@/core/formats/openPcm';
import { AudioFileError } from '@/core/formats/errors';
import { CONVERT } from '@/core/formats/limits';
import { KIND_NAMES } from '@/core/formats/probe';

/** A sound as it lies in a file: plain samples that can be read in any order, or a stream to be decoded. */
export type Sound =
  | { readonly kind: 'pcm'; readonly reader: AudioReader }
  | { readonly kind: 'stream'; readonly stream: AudioStream };

/** Kinds of file that can hold several sounds. */
const SEVERAL: ReadonlySet<string> = new Set(['mp4', 'matroska', 'mpegTs']);

/**
 * Opens a file of any kind that is read (decoders are loaded when they are first needed); its content decides, not its name.
 * @param track which of its sounds, from 0
 * @throws AudioFileError when it cannot be used, or nothing here decodes it
 */
export async function openSound(source: ByteSource, track = 0): Promise<Sound> {
  const kind = await kindOf(source);
  if (track > 0 && !SEVERAL.has(kind))
    throw new AudioFileError(
      'noSuchTrack',
      `A ${KIND_NAMES[kind]} file has one sound only, and number ${track + 1} was asked for.`,
      'Leave the choice of a sound out.',
    );
  if (holdsPcm(kind)) return { kind: 'pcm', reader: await openPcm(source) };
  switch (kind) {
    case 'flac':
    case 'mp3':
    case 'ogg':
      return { kind: 'stream', stream: await (await import('./elementary')).openElementary(source, kind) };
    case 'mp4':
    case 'matroska':
    case 'mpegTs':
    case 'aac':
      return {
        kind: 'stream',
        stream: await (await import('./container')).openContainer(source, kind, track),
      };
    default:
      throw new AudioFileError(
        'unsupportedContainer',
        `This is a ${KIND_NAMES[kind]} file, which is not read.`,
        CONVERT,
      );
  }
}
