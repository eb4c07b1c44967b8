import type { ByteSource } from '@/core/audio/byteSource';
import type { AudioFormat, AudioReader } from '@/core/audio/reader';
import { readAiffHeader } from './aiff/header';
import { readCafHeader } from './caf/header';
import { AudioFileError } from './errors';
import { CONVERT, EXPORT_AGAIN } from './limits';
import { PcmReader, type PcmPlace } from './pcmReader';
import { KIND_NAMES, probe, PROBE_BYTES, type FileKind } from './probe';
import { readWavHeader } from './wav/header';

type ReadHeader = (source: ByteSource) => Promise<{ format: AudioFormat; place: PcmPlace }>;

const HEADERS: Partial<Record<FileKind, ReadHeader>> = {
  wav: readWavHeader,
  aiff: readAiffHeader,
  caf: readCafHeader,
};

/**
 * What kind of file this is, by its content.
 * @throws AudioFileError when it is empty or none that is known
 */
export async function kindOf(source: ByteSource): Promise<FileKind> {
  if (source.size === 0) throw new AudioFileError('empty', 'The file is empty.', EXPORT_AGAIN);
  const kind = probe(await source.read(0, PROBE_BYTES));
  if (kind) return kind;
  throw new AudioFileError(
    'notAudio',
    'This is not an audio file that is known here, whatever its name says.',
    CONVERT,
  );
}

/** Whether files of a kind hold plain samples, which {@link openPcm} reads. */
export const holdsPcm = (kind: FileKind): boolean => HEADERS[kind] !== undefined;

/**
 * Opens a WAV, AIFF or CAF file with plain samples; its content decides, not its name.
 * @throws AudioFileError when it cannot be used
 */
export async function openPcm(source: ByteSource): Promise<AudioReader> {
  const kind = await kindOf(source);
  const readHeader = HEADERS[kind];
  if (!readHeader) {
    throw new AudioFileError(
      'unsupportedContainer',
      `This is a ${KIND_NAMES[kind]} file; only WAV, AIFF and CAF are read here.`,
      CONVERT,
    );
  }
  const { format, place } = await readHeader(source);
  return new PcmReader(source, format, place);
}
