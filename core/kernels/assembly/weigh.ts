/** Below this a filter state is silence; left alone it would become denormal and slow everything down. */
const STATE_FLOOR: f64 = 1e-30;

function flushed(state: v128, floor: v128): v128 {
  return v128.and(state, f64x2.ge(f64x2.abs(state), floor));
}

/**
 * K-weighting of two channels side by side, in double precision, and the energy of each block.
 *
 * Both stages are scaled to a leading coefficient of 1 (the caller multiplies the energy by the square of what was
 * taken out) and written as y = x + s₁, s₁' = (b₁−a₁)·x + s₂ − a₁·s₁, s₂' = (b₂−a₂)·x − a₂·s₁: the same filter, but each
 * sample waits for one product and one sum of the sample before it only.
 * Source: ITU-R BS.1770-5, Annex 1.
 * @param ends i32 per block: where it ends, frames from `left`
 * @param k eight f64: b₁−a₁, b₂−a₂, −a₁, −a₂ of the shelf, then of the high-pass
 * @param state four v128, kept between calls
 * @param out per block the two sums of squares, f64
 */
export function weigh(
  left: usize,
  right: usize,
  ends: usize,
  blocks: i32,
  k: usize,
  state: usize,
  out: usize,
): void {
  weighing<Alone>(left, right, ends, blocks, k, state, out);
}

/** The same with the product of the two channels as well: per block two sums of squares and the sum of products, f64. */
export function weighBoth(
  left: usize,
  right: usize,
  ends: usize,
  blocks: i32,
  k: usize,
  state: usize,
  out: usize,
): void {
  weighing<Both>(left, right, ends, blocks, k, state, out);
}

/** Told apart by their size when this is compiled, so that the inner loop asks nothing. */
type Alone = u8;
type Both = u16;

function weighing<T>(
  left: usize,
  right: usize,
  ends: usize,
  blocks: i32,
  k: usize,
  state: usize,
  out: usize,
): void {
  const c1 = v128.load_splat<f64>(k);
  const c2 = v128.load_splat<f64>(k, 8);
  const a1 = v128.load_splat<f64>(k, 16);
  const a2 = v128.load_splat<f64>(k, 24);
  const e1 = v128.load_splat<f64>(k, 32);
  const e2 = v128.load_splat<f64>(k, 40);
  const d1 = v128.load_splat<f64>(k, 48);
  const d2 = v128.load_splat<f64>(k, 56);
  const floor = f64x2.splat(STATE_FLOOR);
  let s1 = v128.load(state);
  let s2 = v128.load(state, 16);
  let h1 = v128.load(state, 32);
  let h2 = v128.load(state, 48);
  let i: usize = 0;
  for (let block = 0; block < blocks; block++) {
    const end = (<usize>load<i32>(ends + ((<usize>block) << 2))) << 2;
    let sum = f64x2.splat(0);
    let product = sum;
    for (; i < end; i += 4) {
      const x = f64x2.promote_low_f32x4(v128.load_lane<f32>(right + i, v128.load_zero<f32>(left + i), 1));
      const y = f64x2.add(x, s1);
      const t1 = f64x2.add(f64x2.mul(c2, x), f64x2.mul(a2, s1));
      s1 = f64x2.add(f64x2.add(f64x2.mul(c1, x), s2), f64x2.mul(a1, s1));
      s2 = t1;
      const z = f64x2.add(y, h1);
      const t2 = f64x2.add(f64x2.mul(e2, y), f64x2.mul(d2, h1));
      h1 = f64x2.add(f64x2.add(f64x2.mul(e1, y), h2), f64x2.mul(d1, h1));
      h2 = t2;
      sum = f64x2.add(sum, f64x2.mul(z, z));
      if (sizeof<T>() == sizeof<Both>())
        product = f64x2.add(product, f64x2.mul(z, v128.shuffle<f64>(z, z, 1, 0)));
    }
    v128.store(out, sum);
    out += 16;
    if (sizeof<T>() == sizeof<Both>()) {
      store<f64>(out, f64x2.extract_lane(product, 0));
      out += 8;
    }
    s1 = flushed(s1, floor);
    s2 = flushed(s2, floor);
    h1 = flushed(h1, floor);
    h2 = flushed(h2, floor);
  }
  v128.store(state, s1);
  v128.store(state, s2, 16);
  v128.store(state, h1, 32);
  v128.store(state, h2, 48);
}
