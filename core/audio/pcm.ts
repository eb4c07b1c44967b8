import type { Dither } from './dither';

/** How one sample is stored. */
export interface SampleEncoding {
  readonly kind: 'signed' | 'unsigned' | 'float';
  readonly bits: 8 | 16 | 24 | 32 | 64;
  readonly bigEndian: boolean;
}

const encoding = (kind: SampleEncoding['kind'], bits: SampleEncoding['bits']): SampleEncoding => ({
  kind,
  bits,
  bigEndian: false,
});

export const U8 = encoding('unsigned', 8);
export const S16 = encoding('signed', 16);
export const S24 = encoding('signed', 24);
export const S32 = encoding('signed', 32);
export const F32 = encoding('float', 32);
export const F64 = encoding('float', 64);

export const bytesPerSample = ({ bits }: SampleEncoding): number => bits / 8;

/** “PCM 24-bit”, “PCM 20-in-24-bit”, “float 32-bit”. */
export function encodingName({ kind, bits }: SampleEncoding, validBits: number = bits): string {
  if (kind === 'float') return `float ${bits}-bit`;
  return validBits < bits ? `PCM ${validBits}-in-${bits}-bit` : `PCM ${bits}-bit`;
}

/** Under this a float sample is silence: −300 dBFS, and safe from denormals. */
const FLOAT_FLOOR = 1e-15;
/** Over this (+120 dBFS) it is no sound: it counts as infinite. */
const LARGEST = 2 ** 20;

type ReadSample = (view: DataView, offset: number) => number;

/** Reads one sample of an encoding, full scale = 1. */
function sampleReader({ kind, bits, bigEndian }: SampleEncoding): ReadSample {
  const little = !bigEndian;
  if (kind === 'float') {
    return bits === 32 ? (view, o) => view.getFloat32(o, little) : (view, o) => view.getFloat64(o, little);
  }
  if (bits === 8) {
    return kind === 'unsigned'
      ? (view, o) => (view.getUint8(o) - 128) / 128
      : (view, o) => view.getInt8(o) / 128;
  }
  if (bits === 16) return (view, o) => view.getInt16(o, little) / 32768;
  if (bits === 24) {
    return bigEndian
      ? (view, o) => ((view.getInt8(o) << 24) | (view.getUint16(o + 1) << 8)) / 2147483648
      : (view, o) => ((view.getUint16(o, true) << 8) | (view.getInt8(o + 2) << 24)) / 2147483648;
  }
  return (view, o) => view.getInt32(o, little) / 2147483648;
}

/** Where the samples of a channel lie among interleaved bytes. */
interface Lane {
  readonly bytes: Uint8Array;
  /** Of the first, and from one to the next. */
  readonly at: number;
  readonly stride: number;
  readonly frames: number;
}

/** A float sample as it counts; `null` where it is no sound. */
function soundOf(value: number): number | null {
  // A float64 beyond float32 would turn infinite only when stored, so it is judged as stored.
  const stored = Math.fround(value);
  if (!(Math.abs(stored) <= LARGEST)) return null;
  return Math.abs(stored) >= FLOAT_FLOOR ? stored : 0;
}

/** A loop for each of what nearly all files have: a single one for all is several times slower. @returns samples that are no sound */
function take16(channel: Float32Array, offset: number, { bytes, at, stride, frames }: Lane): number {
  for (let i = 0, o = at; i < frames; i++, o += stride)
    channel[offset + i] = (((bytes[o + 1]! << 24) >> 16) | bytes[o]!) / 32768;
  return 0;
}

function take24(channel: Float32Array, offset: number, { bytes, at, stride, frames }: Lane): number {
  for (let i = 0, o = at; i < frames; i++, o += stride)
    channel[offset + i] = (((bytes[o + 2]! << 24) >> 8) | (bytes[o + 1]! << 8) | bytes[o]!) / 8388608;
  return 0;
}

function takeFloat(channel: Float32Array, offset: number, { bytes, at, stride, frames }: Lane): number {
  // A copy begins where numbers may; a slice of a Buffer is none.
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : new Uint8Array(bytes);
  const floats = new Float32Array(aligned.buffer, aligned.byteOffset, Math.floor(aligned.length / 4));
  let notFinite = 0;
  for (let i = 0, o = at / 4; i < frames; i++, o += stride / 4) {
    const value = floats[o]!;
    const size = Math.abs(value);
    if (size <= LARGEST) channel[offset + i] = size >= FLOAT_FLOOR ? value : 0;
    else {
      notFinite++;
      channel[offset + i] = 0;
    }
  }
  return notFinite;
}

const TAKE: Readonly<Record<string, typeof take16 | undefined>> = {
  'signed 16': take16,
  'signed 24': take24,
  'float 32': takeFloat,
};

/**
 * Interleaved bytes to planar float32 at an offset of the arrays given, one per channel.
 * @param frames how many whole frames of `bytes` to take
 * @returns how many samples were NaN or infinite; they become silence
 */
export function decodeInto(
  bytes: Uint8Array,
  format: SampleEncoding,
  frames: number,
  out: readonly Float32Array[],
  offset: number,
): number {
  const width = bytesPerSample(format);
  const stride = width * out.length;
  const take = format.bigEndian ? undefined : TAKE[`${format.kind} ${format.bits}`];
  if (take)
    return out.reduce(
      (sum, channel, c) => sum + take(channel, offset, { bytes, at: c * width, stride, frames }),
      0,
    );
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read = sampleReader(format);
  let notFinite = 0;
  out.forEach((channel, c) => {
    for (let i = 0, o = c * width; i < frames; i++, o += stride) {
      const value = read(view, o);
      const kept = format.kind === 'float' ? soundOf(value) : value;
      if (kept === null) notFinite++;
      channel[offset + i] = kept ?? 0;
    }
  });
  return notFinite;
}

/** The same into new arrays. */
export function decodePcm(
  bytes: Uint8Array,
  format: SampleEncoding,
  channels: number,
  frames: number,
): { channels: Float32Array[]; notFinite: number } {
  const out = Array.from({ length: channels }, () => new Float32Array(frames));
  return { channels: out, notFinite: decodeInto(bytes, format, frames, out, 0) };
}

/** The sample formats a file can be written in. */
export type WriteFormat = 's16' | 's24' | 'f32';

/** How they are stored. */
export const WRITTEN: Readonly<Record<WriteFormat, SampleEncoding>> = { s16: S16, s24: S24, f32: F32 };

/** A loop for each width: a single one for all is four times slower. @returns samples held at full scale */
function put16(channel: Float32Array, { bytes, at, stride, frames }: Lane): number {
  let clipped = 0;
  for (let i = 0, o = at; i < frames; i++, o += stride) {
    let value = Math.round(channel[i]! * 32768);
    if (value > 32767 || value < -32768) {
      clipped++;
      value = value > 0 ? 32767 : -32768;
    }
    bytes[o] = value;
    bytes[o + 1] = value >> 8;
  }
  return clipped;
}

function put24(channel: Float32Array, { bytes, at, stride, frames }: Lane): number {
  let clipped = 0;
  for (let i = 0, o = at; i < frames; i++, o += stride) {
    let value = Math.round(channel[i]! * 8388608);
    if (value > 8388607 || value < -8388608) {
      clipped++;
      value = value > 0 ? 8388607 : -8388608;
    }
    bytes[o] = value;
    bytes[o + 1] = value >> 8;
    bytes[o + 2] = value >> 16;
  }
  return clipped;
}

function putFloat(channel: Float32Array, { bytes, at, stride, frames }: Lane): number {
  const view = new DataView(bytes.buffer);
  for (let i = 0, o = at; i < frames; i++, o += stride) view.setFloat32(o, channel[i]!, true);
  return 0;
}

const PUT: Readonly<Record<WriteFormat, typeof put16>> = { s16: put16, s24: put24, f32: putFloat };

/** Turns the bytes of every sample round. */
function turn(bytes: Uint8Array, width: number): void {
  for (let o = 0; o < bytes.length; o += width) bytes.subarray(o, o + width).reverse();
}

/**
 * Planar float to interleaved bytes. Integers are rounded to nearest and held at full scale.
 * @param dither put under integers; without it nothing is (the step of 24 bits lies at −138 dBFS)
 * @param bigEndian the most significant byte first
 * @returns the bytes, and how many samples had to be held at full scale
 */
export function encodePcm(
  channels: readonly Float32Array[],
  frames: number,
  format: WriteFormat,
  dither: Dither | null = null,
  bigEndian = false,
): { bytes: Uint8Array<ArrayBuffer>; clipped: number } {
  const width = bytesPerSample(WRITTEN[format]);
  const stride = width * channels.length;
  const bytes = new Uint8Array(frames * stride);
  const step = 2 ** (1 - width * 8);
  let clipped = 0;
  channels.forEach((channel, c) => {
    const sound = dither && format !== 'f32' ? channel.map((x) => x + step * dither.next()) : channel;
    clipped += PUT[format](sound, { bytes, at: c * width, stride, frames });
  });
  if (bigEndian) turn(bytes, width);
  return { bytes, clipped };
}
