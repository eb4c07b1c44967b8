import type { ByteSource } from '@/core/audio/byteSource';

const view = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const textAt = (bytes: Uint8Array, at: number, length: number): string =>
  String.fromCharCode(...bytes.subarray(at, at + length));

/**
 * Bytes of ID3v2 tags at the start of a file.
 * Source: ID3v2.4.0 structure, clause 3.1 (sizes are “syncsafe”: 7 bits a byte).
 */
async function tagBytes(source: ByteSource): Promise<number> {
  let at = 0;
  for (;;) {
    const head = await source.read(at, 10);
    if (head.length < 10 || textAt(head, 0, 3) !== 'ID3') return at;
    const size = [6, 7, 8, 9].reduce((sum, i) => sum * 128 + (head[i]! & 0x7f), 0);
    const footer = (head[5]! & 0x10) !== 0 ? 10 : 0;
    at += 10 + size + footer;
  }
}

/**
 * Frames that a FLAC file says it has; `null` when it does not say.
 * Source: RFC 9639, clause 8.2 (the last 36 bits of the second half of STREAMINFO).
 */
export async function flacFrames(source: ByteSource): Promise<number | null> {
  const bytes = await source.read(await tagBytes(source), 42);
  if (bytes.length < 42 || textAt(bytes, 0, 4) !== 'fLaC' || (bytes[4]! & 0x7f) !== 0) return null;
  const low = view(bytes).getUint32(8 + 14);
  const frames = (bytes[8 + 13]! & 0x0f) * 2 ** 32 + low;
  return frames > 0 ? frames : null;
}

/**
 * Bytes of a FLAC file before its first frame of sound.
 * Source: RFC 9639, clause 8.1 (each block says whether it is the last, and how long it is).
 */
export async function flacHeadBytes(source: ByteSource): Promise<number> {
  let at = (await tagBytes(source)) + 4;
  for (;;) {
    const head = await source.read(at, 4);
    if (head.length < 4) return Math.min(at, source.size);
    at += 4 + (view(head).getUint32(0) & 0xffffff);
    if ((head[0]! & 0x80) !== 0) return Math.min(at, source.size);
  }
}

/** Side information between an MPEG frame's header and its data, bytes: [MPEG-1, MPEG-2] by [stereo, mono]. */
const SIDE_INFO = [
  [32, 17],
  [17, 9],
] as const;

/** Bytes of a file in which its first MPEG frame is looked for. */
const SEARCHED = 64 * 1024;

/**
 * Bytes of an MPEG audio frame of layer III; `null` where none begins there.
 * Source: ISO/IEC 11172-3 and 13818-3, clause 2.4.1.3 (header), table B.1 (bit rates, kbit/s).
 */
function mp3FrameBytes(bytes: Uint8Array, at: number): number | null {
  const [a, b, c] = [bytes[at], bytes[at + 1], bytes[at + 2]];
  if (a !== 0xff || b === undefined || c === undefined || (b & 0xe0) !== 0xe0) return null;
  const [version, layer, rate, clock] = [(b >> 3) & 3, (b >> 1) & 3, c >> 4, (c >> 2) & 3];
  if (version === 1 || layer !== 1 || rate === 0 || rate === 15 || clock === 3) return null;
  const kilobits = (
    version === 3
      ? [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320]
      : [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160]
  )[rate]!;
  const hertz = [44_100, 48_000, 32_000][clock]! / (version === 3 ? 1 : version === 2 ? 2 : 4);
  return Math.floor(((version === 3 ? 144 : 72) * kilobits * 1_000) / hertz) + ((c >> 1) & 1);
}

/** Channels of an MP3 file: what its first two frames that follow each other say; 2 where there are none. */
export async function mp3Channels(source: ByteSource): Promise<1 | 2> {
  const bytes = await source.read(await tagBytes(source), SEARCHED);
  for (let at = 0; at + 4 <= bytes.length; at++) {
    const length = mp3FrameBytes(bytes, at);
    if (length === null) continue;
    const next = at + length;
    if (next + 4 <= bytes.length && mp3FrameBytes(bytes, next) === null) continue;
    return (bytes[at + 3]! & 0xc0) === 0xc0 ? 1 : 2;
  }
  return 2;
}

/**
 * Frames that an MP3 file has by what its first frame says, the encoder's delay and padding taken off (where it does not
 * give them, two frames of the codec for both); `null` when it does not say.
 * Sources: ISO/IEC 11172-3, clause 2.4.1.3 (header); the customary Xing/Info frame with its LAME extension.
 */
export async function mp3Frames(source: ByteSource): Promise<number | null> {
  const bytes = await source.read(await tagBytes(source), 256);
  if (bytes.length < 256 || bytes[0] !== 0xff || (bytes[1]! & 0xe6) !== 0xe2) return null;
  const mpeg1 = (bytes[1]! & 0x18) === 0x18;
  const mono = (bytes[3]! & 0xc0) === 0xc0;
  const at = 4 + SIDE_INFO[mpeg1 ? 0 : 1][mono ? 1 : 0];
  const name = textAt(bytes, at, 4);
  if (name !== 'Xing' && name !== 'Info') return null;
  const flags = view(bytes).getUint32(at + 4);
  if ((flags & 1) === 0) return null;
  const count = view(bytes).getUint32(at + 8);
  const perFrame = mpeg1 ? 1152 : 576;
  // Frames, bytes, table of contents and quality come before the extension, each where its flag is set.
  const fields = 8 + 4 + (flags & 2 ? 4 : 0) + (flags & 4 ? 100 : 0) + (flags & 8 ? 4 : 0);
  const packed = at + fields + 21;
  const trimmed =
    packed + 3 <= bytes.length && bytes[at + fields] !== 0
      ? (bytes[packed]! << 4) +
        (bytes[packed + 1]! >> 4) +
        ((bytes[packed + 1]! & 0x0f) << 8) +
        bytes[packed + 2]!
      : 2 * perFrame;
  return Math.max(0, count * perFrame - trimmed) || null;
}
