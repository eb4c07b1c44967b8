/**
 * Samples at another rate: each is a sum of products of a row of the table with the samples around its place.
 * @param src the first sample that the first of them looks at; some bytes past the last must hold zeros
 * @param table rows of `taps` f32, a multiple of 4, one per phase
 * @param up, down the rates, as whole numbers without a common divisor; there are `up` rows
 * @param part of the first place, in 1/up of a sample
 * @param out `count` f32
 */
export function resample(
  src: usize,
  table: usize,
  taps: i32,
  up: i32,
  down: i32,
  part: i32,
  count: i32,
  out: usize,
): void {
  const row = (<usize>taps) << 2;
  const whole = down / up;
  const rest = down % up;
  let phase = part;
  for (let i = 0; i < count; i++) {
    const weights = table + <usize>phase * row;
    let a = f32x4.splat(0);
    let b = a;
    let k: usize = 0;
    for (; k + 32 <= row; k += 32) {
      a = f32x4.add(a, f32x4.mul(v128.load(src + k), v128.load(weights + k)));
      b = f32x4.add(b, f32x4.mul(v128.load(src + k, 16), v128.load(weights + k, 16)));
    }
    if (k < row) a = f32x4.add(a, f32x4.mul(v128.load(src + k), v128.load(weights + k)));
    a = f32x4.add(a, b);
    a = f32x4.add(a, v128.shuffle<f32>(a, a, 2, 3, 0, 1));
    store<f32>(out + 4 * i, f32x4.extract_lane(a, 0) + f32x4.extract_lane(a, 1));
    src += (<usize>whole) << 2;
    phase += rest;
    if (phase >= up) {
      phase -= up;
      src += 4;
    }
  }
}
