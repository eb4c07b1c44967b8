/**
 * Lowest and highest sample of bins, merged into what `low` and `high` hold already.
 * @param firstLength frames of the first bin (a chunk may begin within one); all others take `binLength`
 */
export function extremes(
  x: usize,
  frames: i32,
  firstLength: i32,
  binLength: i32,
  low: usize,
  high: usize,
): void {
  const end = x + ((<usize>frames) << 2);
  let binEnd = min(end, x + ((<usize>firstLength) << 2));
  while (x < end) {
    let least = load<f32>(low);
    let most = load<f32>(high);
    if (x + 16 <= binEnd) {
      let lows = v128.load(x);
      let highs = lows;
      x += 16;
      // Four at a time, so that one comparison need not wait for the one before.
      if (x + 64 <= binEnd) {
        let low1 = lows;
        let high1 = highs;
        for (; x + 64 <= binEnd; x += 64) {
          const a = v128.load(x);
          const b = v128.load(x, 16);
          const c = v128.load(x, 32);
          const d = v128.load(x, 48);
          lows = f32x4.pmin(lows, f32x4.pmin(a, b));
          highs = f32x4.pmax(highs, f32x4.pmax(a, b));
          low1 = f32x4.pmin(low1, f32x4.pmin(c, d));
          high1 = f32x4.pmax(high1, f32x4.pmax(c, d));
        }
        lows = f32x4.pmin(lows, low1);
        highs = f32x4.pmax(highs, high1);
      }
      for (; x + 16 <= binEnd; x += 16) {
        const v = v128.load(x);
        lows = f32x4.pmin(lows, v);
        highs = f32x4.pmax(highs, v);
      }
      const l = f32x4.pmin(lows, v128.shuffle<f32>(lows, lows, 2, 3, 0, 1));
      const h = f32x4.pmax(highs, v128.shuffle<f32>(highs, highs, 2, 3, 0, 1));
      least = min(least, min(f32x4.extract_lane(l, 0), f32x4.extract_lane(l, 1)));
      most = max(most, max(f32x4.extract_lane(h, 0), f32x4.extract_lane(h, 1)));
    }
    for (; x < binEnd; x += 4) {
      const v = load<f32>(x);
      least = min(least, v);
      most = max(most, v);
    }
    store<f32>(low, least);
    store<f32>(high, most);
    low += 4;
    high += 4;
    binEnd = min(end, binEnd + ((<usize>binLength) << 2));
  }
}

function total(v: v128): f64 {
  return (
    <f64>f32x4.extract_lane(v, 0) +
    <f64>f32x4.extract_lane(v, 1) +
    <f64>f32x4.extract_lane(v, 2) +
    <f64>f32x4.extract_lane(v, 3)
  );
}

/** Frames summed in single precision before they are taken over in double. */
const STRETCH: usize = 512 * 4;

/**
 * Sums over two channels: a, b, a², b², a·b; five f64 at `out`, added to what is there. For offset and correlation,
 * so single precision within 512 frames is enough.
 */
export function sums(a: usize, b: usize, frames: i32, out: usize): void {
  const bytes = (<usize>frames) << 2;
  let i: usize = 0;
  while (i < bytes) {
    const end = min(bytes, i + STRETCH);
    let sa = f32x4.splat(0);
    let sb = sa;
    let saa = sa;
    let sbb = sa;
    let sab = sa;
    for (; i + 32 <= end; i += 32) {
      const x = v128.load(a + i);
      const y = v128.load(b + i);
      const v = v128.load(a + i, 16);
      const w = v128.load(b + i, 16);
      sa = f32x4.add(sa, f32x4.add(x, v));
      sb = f32x4.add(sb, f32x4.add(y, w));
      saa = f32x4.add(saa, f32x4.add(f32x4.mul(x, x), f32x4.mul(v, v)));
      sbb = f32x4.add(sbb, f32x4.add(f32x4.mul(y, y), f32x4.mul(w, w)));
      sab = f32x4.add(sab, f32x4.add(f32x4.mul(x, y), f32x4.mul(v, w)));
    }
    let ta = total(sa);
    let tb = total(sb);
    let taa = total(saa);
    let tbb = total(sbb);
    let tab = total(sab);
    for (; i < end; i += 4) {
      const x = <f64>load<f32>(a + i);
      const y = <f64>load<f32>(b + i);
      ta += x;
      tb += y;
      taa += x * x;
      tbb += y * y;
      tab += x * y;
    }
    store<f64>(out, load<f64>(out) + ta);
    store<f64>(out, load<f64>(out, 8) + tb, 8);
    store<f64>(out, load<f64>(out, 16) + taa, 16);
    store<f64>(out, load<f64>(out, 24) + tbb, 24);
    store<f64>(out, load<f64>(out, 32) + tab, 32);
  }
}

/** Largest second difference of the samples that end at each of some frames; two samples lie before the first. */
function sharpest(x: usize, frames: i32): f32 {
  const end = x + ((<usize>frames) << 2);
  let most = f32x4.splat(0);
  for (; x + 16 <= end; x += 16) {
    const turn = f32x4.add(
      f32x4.sub(v128.load(x), v128.load(x - 4)),
      f32x4.sub(v128.load(x - 8), v128.load(x - 4)),
    );
    most = f32x4.pmax(most, f32x4.abs(turn));
  }
  const h = f32x4.pmax(most, v128.shuffle<f32>(most, most, 2, 3, 0, 1));
  let found = max(f32x4.extract_lane(h, 0), f32x4.extract_lane(h, 1));
  for (; x < end; x += 4) {
    const middle = load<f32>(x - 4);
    found = max(found, abs(load<f32>(x) - middle + (load<f32>(x - 8) - middle)));
  }
  return found;
}

/**
 * The same of cells that follow each other.
 * @param first frames at the start that are left out
 * @param ends where each cell ends, i32, from `x`
 * @param out one f32 per cell
 */
export function sharpestOf(x: usize, first: i32, ends: usize, cells: i32, out: usize): void {
  let from = first;
  for (let cell = 0; cell < cells; cell++) {
    const to = load<i32>(ends + ((<usize>cell) << 2));
    store<f32>(out + ((<usize>cell) << 2), to > from ? sharpest(x + ((<usize>from) << 2), to - from) : 0);
    if (to > from) from = to;
  }
}
