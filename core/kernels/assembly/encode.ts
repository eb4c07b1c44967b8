// Planar float32, full scale = 1, to interleaved little-endian bytes; see `encodePcm`, with which it agrees to the bit.
// `src` is the place of the first channel; the others follow every `stride` bytes. Up to 16 bytes behind the last are written over.

/** To the nearest whole number, halves upwards. */
function whole(v: v128): v128 {
  const low = f32x4.floor(v);
  const half = f32x4.ge(f32x4.sub(v, low), f32x4.splat(0.5));
  return f32x4.add(low, v128.and(half, f32x4.splat(1)));
}

function beyond(v: v128, scale: f32): i32 {
  const over = f32x4.gt(v, f32x4.splat(scale - 1));
  return popcnt<i32>(i32x4.bitmask(v128.or(over, f32x4.lt(v, f32x4.splat(-scale)))));
}

/** Whole numbers held at full scale; what is no number becomes silence. */
function held(v: v128, scale: f32): v128 {
  return i32x4.trunc_sat_f32x4_s(f32x4.max(f32x4.min(v, f32x4.splat(scale - 1)), f32x4.splat(-scale)));
}

/** One sample at a time: what vectors leave, and sound of other than two channels. @returns samples held at full scale */
function encodeRest(
  src: usize,
  stride: usize,
  channels: i32,
  first: i32,
  frames: i32,
  scale: f32,
  width: usize,
  dst: usize,
): i32 {
  let clipped = 0;
  for (let i = first; i < frames; i++) {
    let from = src + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++, from += stride, dst += width) {
      const v = load<f32>(from) * scale;
      const low = floor<f32>(v);
      const r: f32 = v - low >= 0.5 ? low + 1 : low;
      if (r > scale - 1 || r < -scale) clipped++;
      const value = r != r ? 0 : <i32>max<f32>(min<f32>(r, scale - 1), -scale);
      store<u16>(dst, <u16>value);
      if (width == 3) store<u8>(dst, <u8>(value >> 16), 2);
    }
  }
  return clipped;
}

/** @returns samples held at full scale */
export function encodeS24(src: usize, stride: usize, channels: i32, frames: i32, dst: usize): i32 {
  const scale: f32 = 8388608;
  let clipped = 0;
  let i = 0;
  if (channels == 2) {
    const by = f32x4.splat(scale);
    const packed = i8x16(0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 16, 16, 16, 16);
    for (; i + 4 <= frames; i += 4, dst += 24) {
      const at = src + ((<usize>i) << 2);
      const left = whole(f32x4.mul(v128.load(at), by));
      const right = whole(f32x4.mul(v128.load(at + stride), by));
      clipped += beyond(left, scale) + beyond(right, scale);
      const a = held(left, scale);
      const b = held(right, scale);
      v128.store(dst, v128.swizzle(v128.shuffle<i32>(a, b, 0, 4, 1, 5), packed));
      v128.store(dst, v128.swizzle(v128.shuffle<i32>(a, b, 2, 6, 3, 7), packed), 12);
    }
  }
  return clipped + encodeRest(src, stride, channels, i, frames, scale, 3, dst);
}

/** @returns samples held at full scale */
export function encodeS16(src: usize, stride: usize, channels: i32, frames: i32, dst: usize): i32 {
  const scale: f32 = 32768;
  let clipped = 0;
  let i = 0;
  if (channels == 2) {
    const by = f32x4.splat(scale);
    for (; i + 4 <= frames; i += 4, dst += 16) {
      const at = src + ((<usize>i) << 2);
      const left = whole(f32x4.mul(v128.load(at), by));
      const right = whole(f32x4.mul(v128.load(at + stride), by));
      clipped += beyond(left, scale) + beyond(right, scale);
      const both = i16x8.narrow_i32x4_s(held(left, scale), held(right, scale));
      v128.store(dst, v128.shuffle<i16>(both, both, 0, 4, 1, 5, 2, 6, 3, 7));
    }
  }
  return clipped + encodeRest(src, stride, channels, i, frames, scale, 2, dst);
}

/** 32-bit float, as it is. */
export function encodeF32(src: usize, stride: usize, channels: i32, frames: i32, dst: usize): i32 {
  let i = 0;
  if (channels == 2) {
    for (; i + 4 <= frames; i += 4, dst += 32) {
      const at = src + ((<usize>i) << 2);
      const a = v128.load(at);
      const b = v128.load(at + stride);
      v128.store(dst, v128.shuffle<f32>(a, b, 0, 4, 1, 5));
      v128.store(dst, v128.shuffle<f32>(a, b, 2, 6, 3, 7), 16);
    }
  }
  for (; i < frames; i++) {
    let from = src + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++, from += stride, dst += 4) store<f32>(dst, load<f32>(from));
  }
  return 0;
}
