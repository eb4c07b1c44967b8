import type { ByteSource } from '@/core/audio/byteSource';

const SEGMENT = 0x18538067;
const CLUSTER = 0x1f43b675;
/** What a segment consists of. Source: RFC 9559, clause 5.1 (elements of level 1). */
const LEVEL_1 = new Set([
  0x114d9b74,
  0x1549a966,
  CLUSTER,
  0x1654ae6b,
  0x1c53bb6b,
  0x1941a469,
  0x1043a770,
  0x1254c367,
]);
const VOID = 0xec;
/** How far the container's reader looks for something to go on with. */
const SEARCH_BYTES = 10 * 2 ** 20;
const SEARCH_SLICE = 2 ** 16;
/** It never looks at the last bytes of what it searches. */
const SEARCH_MARGIN = 9;

interface Element {
  readonly id: number;
  readonly start: number;
  readonly dataStart: number;
  /** `null` when it is not known beforehand, as in a live stream. */
  readonly size: number | null;
}

/** Length of a variable-size number by its first byte (RFC 8794, clause 4); 0 when there is none. */
const widthOf = (first: number): number => (first === 0 ? 0 : Math.clz32(first) - 23);

function numberAt(bytes: Uint8Array, at: number, width: number, mask: number): number {
  let value = bytes[at]! & mask;
  for (let i = 1; i < width; i++) value = value * 256 + bytes[at + i]!;
  return value;
}

async function elementAt(source: ByteSource, start: number): Promise<Element | null> {
  const bytes = await source.read(start, 16);
  const idWidth = bytes.length > 0 ? widthOf(bytes[0]!) : 0;
  if (idWidth === 0 || idWidth >= bytes.length) return null;
  const width = widthOf(bytes[idWidth]!);
  if (width === 0 || idWidth + width > bytes.length) return null;
  const mask = 0xff >> width;
  const size = numberAt(bytes, idWidth, width, mask);
  const unknown = size === 2 ** (7 * width) - 1;
  return {
    id: numberAt(bytes, 0, idWidth, 0xff),
    start,
    dataStart: start + idWidth + width,
    size: unknown ? null : size,
  };
}

/** Next place at which an element of level 1 may begin. */
async function nextLevel1(source: ByteSource, from: number, until: number): Promise<number | null> {
  const end = Math.min(until, from + SEARCH_BYTES, source.size) - SEARCH_MARGIN;
  for (let at = from; at < end; at += SEARCH_SLICE) {
    const bytes = await source.read(at, SEARCH_SLICE + 4);
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    for (let i = 0; i < Math.min(SEARCH_SLICE, bytes.length - 3, end - at); i++) {
      if (LEVEL_1.has(view.getUint32(i))) return at + i;
    }
  }
  return null;
}

/** Elements of level 1 that say nothing and end a file: where nothing else is found, one of them is. */
const END_MARKS = Uint8Array.from(
  Array.from({ length: 8 }, () => [0x12, 0x54, 0xc3, 0x67, 0x84, 0, 0, 0, 0]).flat(),
);

/**
 * A Matroska or WebM file as its reader can bear it. Where a file is damaged the reader searches for the next element of
 * a segment, and searches without end when there is none in the segment; so what cannot be followed is cut off, the
 * segment is said to be open-ended, and elements that say nothing are put at its very end, or, where its last element is cut short,
 * where that would have ended.
 * @returns the file, and whether something was cut off
 */
export async function bearable(source: ByteSource): Promise<{ source: ByteSource; torn: boolean }> {
  const size = await soundPart(source);
  const open = await openEnd(source, size);
  const reached = await endReached({ size, read: (at, length) => readWithin(source, size, at, length) });
  // Further off than the marks are long, the reader is past the end before it can search.
  const marksAt = reached > size && reached < size + END_MARKS.length ? reached : size;
  const whole = marksAt + END_MARKS.length;
  const overlay = (bytes: Uint8Array, at: number, patch: Uint8Array, place: number): void => {
    for (let i = 0; i < patch.length; i++) {
      const target = place + i - at;
      if (target >= 0 && target < bytes.length) bytes[target] = patch[i]!;
    }
  };
  return {
    torn: size < source.size,
    source: {
      size: whole,
      async read(at, length) {
        const end = Math.min(at + length, whole);
        const bytes = new Uint8Array(Math.max(0, end - at));
        bytes.set(await readWithin(source, size, at, bytes.length));
        overlay(bytes, at, END_MARKS, marksAt);
        if (open) overlay(bytes, at, open.bytes, open.at);
        return bytes;
      },
    },
  };
}

/** What to write over the first segment's size so that it ends with the file; `null` where it must stay as it is. */
async function openEnd(source: ByteSource, size: number): Promise<{ bytes: Uint8Array; at: number } | null> {
  let at = 0;
  while (at < size) {
    const top = await elementAt(source, at);
    if (!top || (top.id !== SEGMENT && top.size === null)) return null;
    if (top.id === SEGMENT) {
      const width = top.dataStart - top.start - 4;
      const bytes = new Uint8Array(width).fill(0xff);
      bytes[0] = 0xff >> (width - 1);
      // Of widths between one and eight the reader takes the largest size for a size like any other.
      return width > 1 && width < 8 && 2 ** (7 * width) < size ? null : { bytes, at: top.start + 4 };
    }
    at = top.dataStart + top.size!;
  }
  return null;
}

/**
 * The part of a file that hangs together: up to the first place where a segment holds something that cannot be part of it
 * and nothing after it can be recognised.
 * @returns bytes from the start of the file
 */
async function soundPart(source: ByteSource): Promise<number> {
  let { size } = source;
  for (;;) {
    const kept = size;
    const torn = await firstTear({ size: kept, read: (at, length) => readWithin(source, kept, at, length) });
    // What an earlier gap was bridged to may now be cut off, so what is left is looked at again.
    if (torn === null) return size;
    size = torn;
  }
}

function readWithin(source: ByteSource, size: number, at: number, length: number): Promise<Uint8Array> {
  return source.read(at, Math.max(0, Math.min(length, size - at)));
}

async function firstTear(source: ByteSource): Promise<number | null> {
  let at = 0;
  while (at < source.size) {
    const top = await elementAt(source, at);
    if (!top) return null;
    if (top.id === SEGMENT) {
      const end = top.size === null ? Infinity : top.dataStart + top.size;
      const torn = await tornAt(source, top.dataStart, end);
      if (torn !== null || end === Infinity) return torn;
    }
    if (top.size === null) return null;
    at = top.dataStart + top.size;
  }
  return null;
}

/** Where the last element of the last segment ends, by what it says of itself; that may lie behind the end of the file. */
async function endReached(source: ByteSource): Promise<number> {
  let at = 0;
  let reached = source.size;
  while (at < source.size) {
    const top = await elementAt(source, at);
    if (!top) break;
    if (top.id === SEGMENT) reached = (await follow(source, top.dataStart, Infinity)).at;
    if (top.size === null || top.id === SEGMENT) break;
    at = top.dataStart + top.size;
  }
  return reached;
}

/** Where a segment's elements cannot be followed any further; `null` when they can be to its end. */
async function tornAt(source: ByteSource, from: number, end: number): Promise<number | null> {
  const { torn, at } = await follow(source, from, end);
  return torn ? at : null;
}

/** Goes from one element of a segment to the next. @returns where they cannot be followed any further, or the last of them ends */
async function follow(
  source: ByteSource,
  from: number,
  end: number,
): Promise<{ readonly torn: boolean; readonly at: number }> {
  let at = from;
  while (at < Math.min(end, source.size)) {
    const element = await elementAt(source, at);
    if (element && (LEVEL_1.has(element.id) || element.id === VOID)) {
      if (element.size !== null) {
        at = element.dataStart + element.size;
        continue;
      }
      // A cluster of a live stream ends where the next one begins.
      const next = await nextLevel1(source, element.dataStart, end);
      if (next === null) return { torn: false, at: source.size };
      at = next;
      continue;
    }
    const next = await nextLevel1(source, at, end);
    if (next === null || next === at) return { torn: true, at };
    at = next;
  }
  return { torn: false, at };
}
