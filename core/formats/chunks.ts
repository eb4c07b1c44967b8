import type { ByteSource } from '@/core/audio/byteSource';

/** The ways in which files that are made of chunks differ. */
export interface ChunkStyle {
  readonly bigEndian: boolean;
  /** Chunks of odd size are followed by a pad byte. */
  readonly padded: boolean;
  /** Sizes take 8 bytes rather than 4. */
  readonly wide: boolean;
}

export interface Chunk {
  readonly id: string;
  /** Where its contents begin. */
  readonly offset: number;
  /** As the file says; may reach past its end. */
  readonly size: number;
}

/** A file may have this many chunks; more is a hostile header. */
const MAX_CHUNKS = 4096;

export const fourCc = (bytes: Uint8Array, offset: number): string =>
  String.fromCharCode(...bytes.subarray(offset, offset + 4));

export const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Whether four bytes can name a chunk. */
function isName(bytes: Uint8Array, offset: number): boolean {
  for (let i = offset; i < offset + 4; i++) if (!(bytes[i]! >= 32 && bytes[i]! <= 126)) return false;
  return true;
}

/** The size of a chunk as its header says. */
function sizeIn(header: Uint8Array, { bigEndian, wide }: ChunkStyle): number {
  const view = viewOf(header);
  return wide ? Number(view.getBigInt64(4, !bigEndian)) : view.getUint32(4, !bigEndian);
}

/** The header of the chunk that begins at a place; `null` where none can begin. */
async function headerAt(
  source: ByteSource,
  offset: number,
  { wide }: ChunkStyle,
): Promise<Uint8Array | null> {
  const size = wide ? 12 : 8;
  if (offset + size > source.size) return null;
  const header = await source.read(offset, size);
  return header.length === size && isName(header, 0) ? header : null;
}

/**
 * Walks a file's chunks from `offset` on, as far as there are any.
 * @param visit told of each; gives its true size where the file's own cannot be trusted, or `null` to stop
 * @returns where the last of them ends, its pad byte included: the end of the file where all of it is chunks; past that where a chunk
 *   is cut off; `null` where `visit` has stopped
 */
export async function walkChunks(
  source: ByteSource,
  offset: number,
  style: ChunkStyle,
  visit: (chunk: Chunk) => Promise<number | null>,
): Promise<number | null> {
  const headerSize = style.wide ? 12 : 8;
  for (let count = 0; count < MAX_CHUNKS; count++) {
    const header = await headerAt(source, offset, style);
    if (!header) return offset;
    const chunk = { id: fourCc(header, 0), offset: offset + headerSize, size: sizeIn(header, style) };
    const actual = await visit(chunk);
    if (actual === null || actual < 0) return null;
    offset = chunk.offset + actual;
    if (!style.padded || actual % 2 === 0) continue;
    // Some writers leave the pad byte out.
    const padless =
      (await headerAt(source, offset + 1, style)) === null && (await headerAt(source, offset, style));
    if (!padless && offset < source.size) offset++;
  }
  return offset;
}

/** Whether nothing but whole chunks lies between a place and the end of a file. */
export async function isAllChunks(source: ByteSource, offset: number, style: ChunkStyle): Promise<boolean> {
  return (await walkChunks(source, offset, style, ({ size }) => Promise.resolve(size))) === source.size;
}

/** Text up to the first zero byte, without white space around it; `null` when there is none. */
export function textIn(bytes: Uint8Array, offset: number, length: number): string | null {
  const part = bytes.subarray(offset, offset + length);
  const end = part.indexOf(0);
  let text = '';
  for (const byte of end < 0 ? part : part.subarray(0, end)) text += String.fromCharCode(byte);
  return text.trim() || null;
}

/** The same, read as UTF-8 where it is that. */
export function utf8In(bytes: Uint8Array): string | null {
  let text = '';
  let i = 0;
  while (i < bytes.length && bytes[i] !== 0) {
    const byte = bytes[i]!;
    const extra = byte < 0x80 ? 0 : byte >= 0xf0 ? 3 : byte >= 0xe0 ? 2 : byte >= 0xc0 ? 1 : -1;
    let code = extra === 0 ? byte : byte & (0x3f >> extra);
    let fits = extra >= 0;
    for (let k = 1; k <= extra; k++) {
      const next = bytes[i + k] ?? 0;
      if ((next & 0xc0) !== 0x80) fits = false;
      code = (code << 6) | (next & 0x3f);
    }
    text += fits && code <= 0x10ffff ? String.fromCodePoint(code) : String.fromCharCode(byte);
    i += fits ? extra + 1 : 1;
  }
  return text.trim() || null;
}
