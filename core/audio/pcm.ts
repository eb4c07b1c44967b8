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
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read = sampleReader(format);
  let notFinite = 0;
  out.forEach((channel, c) => {
    if (format.kind !== 'float') {
      for (let i = 0, o = c * width; i < frames; i++, o += stride) channel[offset + i] = read(view, o);
      return;
    }
    for (let i = 0, o = c * width; i < frames; i++, o += stride) {
      // A float64 beyond float32 would turn infinite only when stored, so it is judged as stored.
      const stored = Math.fround(read(view, o));
      const finite = Math.abs(stored) <= LARGEST;
      if (!finite) notFinite++;
      channel[offset + i] = finite && Math.abs(stored) >= FLOAT_FLOOR ? stored : 0;
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
  const view = new DataView(bytes.buffer);
  const scale = 2 ** (width * 8 - 1);
  const [low, high] = bigEndian ? [width - 1, 0] : [0, width - 1];
  let clipped = 0;
  channels.forEach((channel, c) => {
    if (format === 'f32') {
      for (let i = 0, o = c * width; i < frames; i++, o += stride)
        view.setFloat32(o, channel[i]!, !bigEndian);
      return;
    }
    for (let i = 0, o = c * width; i < frames; i++, o += stride) {
      const exact = channel[i]! * scale;
      let value = Math.round(dither ? exact + dither.next() : exact);
      if (value > scale - 1 || value < -scale) {
        clipped++;
        value = value > 0 ? scale - 1 : -scale;
      }
      bytes[o + low] = value;
      if (width === 3) bytes[o + 1] = value >> 8;
      bytes[o + high] = value >> (8 * (width - 1));
    }
  });
  return { bytes, clipped };
}
