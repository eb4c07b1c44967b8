import type { ByteSource } from '@/core/audio/byteSource';
import { AudioFileError } from '@/core/formats/errors';
import { CONVERT } from '@/core/formats/limits';

type OggCodec = 'Vorbis' | 'Opus' | 'FLAC';

/** The longest a page can be, and some more. Source: RFC 3533, clause 6. */
const TAIL = 2 * (27 + 255 + 255 * 255);
const END_OF_STREAM = 4;

/** What an Ogg file's first and last pages say. */
export interface OggFacts {
  readonly codec: OggCodec;
  /** Frames up to the end of the last page that is there whole; `null` when no such page is found. */
  readonly frames: number | null;
  /** The last page says that it is the last. */
  readonly complete: boolean;
}

function codecOf(name: string): OggCodec {
  if (name.startsWith('\x01vorbis')) return 'Vorbis';
  if (name === 'OpusHead') return 'Opus';
  if (name.startsWith('\x7fFLAC')) return 'FLAC';
  throw new AudioFileError('unsupportedCodec', 'The Ogg file holds a codec that is not read.', CONVERT);
}

/** Length of the page at `at`, or 0 when it is not there whole. */
function pageLength(bytes: Uint8Array, at: number): number {
  const segments = bytes[at + 26];
  if (segments === undefined || at + 27 + segments > bytes.length) return 0;
  let length = 27 + segments;
  for (let i = 0; i < segments; i++) length += bytes[at + 27 + i]!;
  return at + length <= bytes.length ? length : 0;
}

/**
 * Reads the facts from a file's first and last pages: decoders make up sound when the last page is torn.
 * Sources: RFC 3533 (pages); RFC 7845, clause 4 (Opus: the pre-skip comes off the granule position).
 */
export async function oggFacts(source: ByteSource): Promise<OggFacts> {
  const head = await source.read(0, 128);
  const body = 27 + (head[26] ?? 0);
  const codec = codecOf(String.fromCharCode(...head.subarray(body, body + 8)));
  const preSkip = codec === 'Opus' ? (head[body + 10] ?? 0) + 256 * (head[body + 11] ?? 0) : 0;
  const from = Math.max(0, source.size - TAIL);
  const tail = await source.read(from, TAIL);
  for (let at = tail.length - 27; at >= 0; at--) {
    if (tail[at] !== 0x4f || tail[at + 1] !== 0x67 || tail[at + 2] !== 0x67 || tail[at + 3] !== 0x53)
      continue;
    if (tail[at + 4] !== 0 || pageLength(tail, at) === 0) continue;
    const granule = new DataView(tail.buffer, tail.byteOffset + at + 6, 8).getBigInt64(0, true);
    if (granule < 0n) continue;
    return {
      codec,
      frames: Math.max(0, Number(granule) - preSkip),
      complete: (tail[at + 5]! & END_OF_STREAM) !== 0,
    };
  }
  return { codec, frames: null, complete: false };
}
