import { bytesPerSample, encodePcm, WRITTEN } from '@/core/audio/pcm';
import { ALIGN, aligned, giveInstance, growTo, moduleOrNull, takeInstance } from './wasmModule';

const ENCODERS = { s24: 'encodeS24', s16: 'encodeS16', f32: 'encodeF32' } as const;

/**
 * Planar float to interleaved bytes: the same as `encodePcm` to the bit, several times as fast where WebAssembly has vectors.
 * @param frames at most as many as the shortest channel has
 */
export const encodeSamples: typeof encodePcm = (
  channels,
  frames,
  format,
  dither = null,
  bigEndian = false,
) => {
  const compiled = moduleOrNull();
  if (!compiled || dither || bigEndian) return encodePcm(channels, frames, format, dither, bigEndian);
  const exports = takeInstance(compiled);
  const src = aligned(exports.heapBase());
  const stride = aligned(frames * 4 + ALIGN);
  const dst = src + stride * channels.length;
  const length = frames * channels.length * bytesPerSample(WRITTEN[format]);
  growTo(exports, dst + length + ALIGN);
  const { buffer } = exports.memory;
  channels.forEach((channel, c) =>
    new Float32Array(buffer, src + c * stride, frames).set(channel.subarray(0, frames)),
  );
  const clipped = exports[ENCODERS[format]](src, stride, channels.length, frames, dst);
  const bytes = new Uint8Array(buffer, dst, length).slice() as Uint8Array<ArrayBuffer>;
  giveInstance(exports);
  return { bytes, clipped };
};
