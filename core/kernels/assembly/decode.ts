// PCM bytes to planar float32, full scale = 1. Little-endian; `swapBytes` turns big-endian round first.
// `dst` is the place of the first channel; the others follow every `stride` bytes.

const S16_STEP: f32 = 1.0 / 32768.0;
const S32_STEP: f32 = 1.0 / 2147483648.0;
/** Under this a float sample is silence, and safe from denormals. */
const FLOAT_FLOOR: f32 = 1e-15;
/** Over this (+120 dBFS) it is no sound: it counts as infinite. Sums of squares stay within range. */
const LARGEST: f32 = 1048576;

/** Reverses the bytes of `count` samples of `width` bytes (2, 3, 4 or 8) in place. */
export function swapBytes(at: usize, count: i32, width: i32): void {
  const end = at + <usize>count * width;
  for (; at < end; at += width) {
    for (let low = at, high = at + width - 1; low < high; low++, high--) {
      const byte = load<u8>(low);
      store<u8>(low, load<u8>(high));
      store<u8>(high, byte);
    }
  }
}

/** 24-bit. Up to 4 bytes before and 16 bytes after the input are read, and ignored. */
export function decodeS24(src: usize, channels: i32, frames: i32, dst: usize, stride: usize): void {
  const step = f32x4.splat(S32_STEP);
  let i = 0;
  if (channels == 2) {
    // Two frames of 6 bytes, each sample moved to the upper three bytes of 32 bits, left before right.
    const order = i8x16(16, 0, 1, 2, 16, 6, 7, 8, 16, 3, 4, 5, 16, 9, 10, 11);
    const right = dst + stride;
    for (; i + 4 <= frames; i += 4) {
      const a = f32x4.mul(f32x4.convert_i32x4_s(v128.swizzle(v128.load(src), order)), step);
      const b = f32x4.mul(f32x4.convert_i32x4_s(v128.swizzle(v128.load(src, 12), order)), step);
      v128.store(dst + ((<usize>i) << 2), v128.shuffle<f32>(a, b, 0, 1, 4, 5));
      v128.store(right + ((<usize>i) << 2), v128.shuffle<f32>(a, b, 2, 3, 6, 7));
      src += 24;
    }
  } else if (channels == 1) {
    const order = i8x16(16, 0, 1, 2, 16, 3, 4, 5, 16, 6, 7, 8, 16, 9, 10, 11);
    for (; i + 4 <= frames; i += 4) {
      v128.store(
        dst + ((<usize>i) << 2),
        f32x4.mul(f32x4.convert_i32x4_s(v128.swizzle(v128.load(src), order)), step),
      );
      src += 12;
    }
  }
  for (; i < frames; i++) {
    let out = dst + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++) {
      store<f32>(out, <f32>(((<i32>load<u16>(src)) << 8) | ((<i32>load<i8>(src, 2)) << 24)) * S32_STEP);
      src += 3;
      out += stride;
    }
  }
}

/** 16-bit. */
export function decodeS16(src: usize, channels: i32, frames: i32, dst: usize, stride: usize): void {
  const step = f32x4.splat(S16_STEP);
  let i = 0;
  if (channels == 2) {
    const right = dst + stride;
    for (; i + 4 <= frames; i += 4) {
      const x = v128.load(src);
      // Left samples are the lower halves of 32 bits, right ones the upper.
      const left = i32x4.shr_s(i32x4.shl(x, 16), 16);
      v128.store(dst + ((<usize>i) << 2), f32x4.mul(f32x4.convert_i32x4_s(left), step));
      v128.store(right + ((<usize>i) << 2), f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_s(x, 16)), step));
      src += 16;
    }
  } else if (channels == 1) {
    for (; i + 4 <= frames; i += 4) {
      v128.store(dst + ((<usize>i) << 2), f32x4.mul(f32x4.convert_i32x4_s(v128.load_ext<i16>(src)), step));
      src += 8;
    }
  }
  for (; i < frames; i++) {
    let out = dst + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++) {
      store<f32>(out, <f32>load<i16>(src) * S16_STEP);
      src += 2;
      out += stride;
    }
  }
}

/** 32-bit integer. */
export function decodeS32(src: usize, channels: i32, frames: i32, dst: usize, stride: usize): void {
  for (let i = 0; i < frames; i++) {
    let out = dst + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++) {
      store<f32>(out, <f32>load<i32>(src) * S32_STEP);
      src += 4;
      out += stride;
    }
  }
}

/** 8-bit; `zero` is the byte that means silence: 128 where samples are unsigned, 0 where they are signed. */
export function decode8(src: usize, channels: i32, frames: i32, dst: usize, stride: usize, zero: i32): void {
  for (let i = 0; i < frames; i++) {
    let out = dst + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++) {
      const value = zero ? <i32>load<u8>(src) - zero : <i32>load<i8>(src);
      store<f32>(out, <f32>value / 128.0);
      src++;
      out += stride;
    }
  }
}

function cleaned(x: f32): f32 {
  const size = abs(x);
  // NaN fails every comparison, so it ends as silence as well.
  return size >= FLOAT_FLOOR && size <= LARGEST ? x : 0;
}

/** 32-bit float. @returns how many samples were NaN or infinite; they become silence */
export function decodeF32(src: usize, channels: i32, frames: i32, dst: usize, stride: usize): i32 {
  const floor = f32x4.splat(FLOAT_FLOOR);
  const largest = f32x4.splat(LARGEST);
  let odd = 0;
  let i = 0;
  if (channels == 2) {
    const right = dst + stride;
    for (; i + 4 <= frames; i += 4) {
      const a = v128.load(src);
      const b = v128.load(src, 16);
      const sizeA = f32x4.abs(a);
      const sizeB = f32x4.abs(b);
      const finiteA = f32x4.le(sizeA, largest);
      const finiteB = f32x4.le(sizeB, largest);
      const x = v128.and(a, v128.and(finiteA, f32x4.ge(sizeA, floor)));
      const y = v128.and(b, v128.and(finiteB, f32x4.ge(sizeB, floor)));
      v128.store(dst + ((<usize>i) << 2), v128.shuffle<f32>(x, y, 0, 2, 4, 6));
      v128.store(right + ((<usize>i) << 2), v128.shuffle<f32>(x, y, 1, 3, 5, 7));
      odd += popcnt<i32>(i32x4.bitmask(v128.not(finiteA))) + popcnt<i32>(i32x4.bitmask(v128.not(finiteB)));
      src += 32;
    }
  }
  for (; i < frames; i++) {
    let out = dst + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++) {
      const x = load<f32>(src);
      if (!(abs(x) <= LARGEST)) odd++;
      store<f32>(out, cleaned(x));
      src += 4;
      out += stride;
    }
  }
  return odd;
}

/** 64-bit float, judged as float32 stores it. @returns how many samples were NaN or infinite */
export function decodeF64(src: usize, channels: i32, frames: i32, dst: usize, stride: usize): i32 {
  let odd = 0;
  for (let i = 0; i < frames; i++) {
    let out = dst + ((<usize>i) << 2);
    for (let c = 0; c < channels; c++) {
      const x = <f32>load<f64>(src);
      if (!(abs(x) <= LARGEST)) odd++;
      store<f32>(out, cleaned(x));
      src += 8;
      out += stride;
    }
  }
  return odd;
}
