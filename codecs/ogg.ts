import type { ByteSource } from '@/core/audio/byteSource';
import { AudioFileError } from '@/core/formats/errors';
import { CONVERT } from '@/core/formats/limits';

type OggCodec = 'Vorbis' | 'Opus' | 'FLAC';

/** What the first page of an Ogg file says. */
export interface OggFacts {
  readonly codec: OggCodec;
  /** Granule position at which the sound begins: for Opus its pre-skip. Source: RFC 7845, clause 4. */
  readonly delay: number;
}

function codecOf(name: string): OggCodec {
  if (name.startsWith('\x01vorbis')) return 'Vorbis';
  if (name === 'OpusHead') return 'Opus';
  if (name.startsWith('\x7fFLAC')) return 'FLAC';
  throw new AudioFileError('unsupportedCodec', 'The Ogg file holds a codec that is not read.', CONVERT);
}

/** Reads the facts. Source: RFC 3533, clause 6. */
export async function oggFacts(source: ByteSource): Promise<OggFacts> {
  const head = await source.read(0, 400);
  const body = 27 + (head[26] ?? 0);
  const codec = codecOf(String.fromCharCode(...head.subarray(body, body + 8)));
  return { codec, delay: codec === 'Opus' ? (head[body + 10] ?? 0) + 256 * (head[body + 11] ?? 0) : 0 };
}
