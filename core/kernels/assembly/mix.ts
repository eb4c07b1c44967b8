/** Adds `frames` samples at `src`, times a gain, to those at `dst`; each product and each sum is rounded to float32. */
export function mix(src: usize, dst: usize, frames: i32, gain: f32): void {
  const gains = f32x4.splat(gain);
  const end = dst + ((<usize>frames) << 2);
  for (; dst + 16 <= end; dst += 16, src += 16)
    v128.store(dst, f32x4.add(v128.load(dst), f32x4.mul(v128.load(src), gains)));
  for (; dst < end; dst += 4, src += 4) store<f32>(dst, load<f32>(dst) + load<f32>(src) * gain);
}
