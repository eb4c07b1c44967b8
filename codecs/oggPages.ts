import type { ByteSource } from '@/core/audio/byteSource';
import { viewOf } from '@/core/formats/chunks';

/** The longest a page can be, bytes. Source: RFC 3533, clause 6. */
const LONGEST_PAGE = 27 + 255 + 255 * 255;
const READ_BYTES = 1 << 20;

const CONTINUED = 1;
const FIRST = 2;
const LAST = 4;

/** A page that is there whole. */
export interface OggPage {
  readonly bytes: Uint8Array;
  /** Where it begins in the file. */
  readonly at: number;
  readonly serial: number;
  readonly sequence: number;
  /** Samples up to the end of the last packet that ends on it; `null` when none does. */
  readonly granule: number | null;
  /** It goes on with a packet of the page before. */
  readonly continued: boolean;
  readonly first: boolean;
  readonly last: boolean;
  /** Its checksum holds. */
  readonly sound: boolean;
}

const TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let value = byte << 24;
  for (let bit = 0; bit < 8; bit++) value = (value << 1) ^ (value & 0x80000000 ? 0x04c11db7 : 0);
  return value >>> 0;
});

/** The checksum of a page, its own field taken as zero. Source: RFC 3533, clause 6 (polynomial 0x04c11db7). */
function checksum(page: Uint8Array): number {
  let value = 0;
  for (let i = 0; i < page.length; i++) {
    const byte = i >= 22 && i < 26 ? 0 : page[i]!;
    value = ((value << 8) ^ TABLE[(value >>> 24) ^ byte]!) >>> 0;
  }
  return value;
}

const isCapture = (bytes: Uint8Array, at: number): boolean =>
  bytes[at] === 0x4f && bytes[at + 1] === 0x67 && bytes[at + 2] === 0x67 && bytes[at + 3] === 0x53;

/** Length of the page that begins at `at`; 0 when its head is not there or none. */
function pageLength(bytes: Uint8Array, at: number): number {
  const segments = bytes[at + 26];
  if (segments === undefined || !isCapture(bytes, at) || bytes[at + 4] !== 0) return 0;
  if (at + 27 + segments > bytes.length) return 0;
  let length = 27 + segments;
  for (let i = 0; i < segments; i++) length += bytes[at + 27 + i]!;
  return length;
}

function pageAt(bytes: Uint8Array, at: number, length: number, offset: number): OggPage {
  const page = bytes.slice(at, at + length);
  const view = viewOf(page);
  const flags = page[5]!;
  const granule = view.getBigInt64(6, true);
  return {
    bytes: page,
    at: offset + at,
    serial: view.getUint32(14, true),
    sequence: view.getUint32(18, true),
    granule: granule < 0n || granule > BigInt(Number.MAX_SAFE_INTEGER) ? null : Number(granule),
    continued: (flags & CONTINUED) !== 0,
    first: (flags & FIRST) !== 0,
    last: (flags & LAST) !== 0,
    sound: view.getUint32(22, true) === checksum(page),
  };
}

/**
 * The pages of a file whose checksums hold, in order; bytes that belong to none are passed over. Of a page at the very
 * start the checksum may be wrong: without it nothing could be decoded.
 */
export async function* oggPages(source: ByteSource): AsyncGenerator<OggPage> {
  let buffer: Uint8Array = new Uint8Array(0);
  let offset = 0;
  let at = 0;
  for (;;) {
    if (buffer.length - at < LONGEST_PAGE && offset + buffer.length < source.size) {
      const more = await source.read(offset + buffer.length, READ_BYTES);
      const joined = new Uint8Array(buffer.length - at + more.length);
      joined.set(buffer.subarray(at));
      joined.set(more, buffer.length - at);
      offset += at;
      buffer = joined;
      at = 0;
      if (more.length === 0) return;
    }
    if (at + 27 > buffer.length) return;
    const length = pageLength(buffer, at);
    if (length > 0 && at + length <= buffer.length) {
      const page = pageAt(buffer, at, length, offset);
      if (page.sound || (offset + at === 0 && page.first)) {
        yield page;
        at += length;
        continue;
      }
    }
    const next = buffer.indexOf(0x4f, at + 1);
    at = next < 0 ? buffer.length : next;
  }
}

/** A page without the end of a packet whose beginning is lost; `null` when nothing else is on it. */
export function withoutContinued(page: OggPage): OggPage | null {
  if (!page.continued) return page;
  const segments = page.bytes[26]!;
  let skipped = 0;
  let length = 0;
  while (skipped < segments) {
    const lacing = page.bytes[27 + skipped]!;
    skipped++;
    length += lacing;
    if (lacing < 255) break;
  }
  if (skipped === segments) return null;
  const head = page.bytes.slice(0, 27);
  head[5]! &= ~CONTINUED;
  head[26] = segments - skipped;
  const bytes = Uint8Array.from([
    ...head,
    ...page.bytes.subarray(27 + skipped, 27 + segments),
    ...page.bytes.subarray(27 + segments + length),
  ]);
  viewOf(bytes).setUint32(22, checksum(bytes), true);
  return { ...page, bytes, continued: false };
}
