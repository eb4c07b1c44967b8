import { largest } from './vectors';

/** Frames in one cell: what is bounded, and evaluated or left out, as a whole. */
const CELL: usize = 16;
const CELL_BYTES: usize = CELL << 2;
/** Room for rounding in single precision, so that no cell is left out that could hold the peak. */
const CARE: f32 = 1.000002;
/** Cells that cannot exceed this (−400 dB) hold no sound. */
const NOTHING: f32 = 1e-20;

/** Largest of each of four vectors, as one vector. */
function largestOfEach(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = f32x4.pmax(v128.shuffle<f32>(a, b, 0, 4, 1, 5), v128.shuffle<f32>(a, b, 2, 6, 3, 7));
  const cd = f32x4.pmax(v128.shuffle<f32>(c, d, 0, 4, 1, 5), v128.shuffle<f32>(c, d, 2, 6, 3, 7));
  return f32x4.pmax(v128.shuffle<f32>(ab, cd, 0, 1, 4, 5), v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
}

/** Magnitudes of the second differences that end at the four samples at `at`. */
function bends(at: usize, v: v128): v128 {
  const before = v128.load(at - 4);
  return f32x4.abs(f32x4.sub(f32x4.add(v, v128.load(at - 8)), f32x4.add(before, before)));
}

function smallestOfEach(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = f32x4.pmin(v128.shuffle<f32>(a, b, 0, 4, 1, 5), v128.shuffle<f32>(a, b, 2, 6, 3, 7));
  const cd = f32x4.pmin(v128.shuffle<f32>(c, d, 0, 4, 1, 5), v128.shuffle<f32>(c, d, 2, 6, 3, 7));
  return f32x4.pmin(v128.shuffle<f32>(ab, cd, 0, 1, 4, 5), v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
}

/**
 * Largest interpolated magnitude at the 16 outputs from `x` on; the 11 samples before must be there.
 * @param taps 24 f32: even and odd parts of the first mirrored pair of phases, then of the second
 */
function cellPeak(x: usize, taps: usize): f32 {
  let most = f32x4.splat(0);
  const end = x + CELL_BYTES;
  for (; x < end; x += 32) {
    let s = f32x4.add(v128.load(x), v128.load(x - 44));
    let d = f32x4.sub(v128.load(x), v128.load(x - 44));
    let t = f32x4.add(v128.load(x, 16), v128.load(x - 28));
    let e = f32x4.sub(v128.load(x, 16), v128.load(x - 28));
    let tap = v128.load_splat<f32>(taps);
    let even0 = f32x4.mul(s, tap);
    let even2 = f32x4.mul(t, tap);
    tap = v128.load_splat<f32>(taps, 24);
    let odd0 = f32x4.mul(d, tap);
    let odd2 = f32x4.mul(e, tap);
    tap = v128.load_splat<f32>(taps, 48);
    let even1 = f32x4.mul(s, tap);
    let even3 = f32x4.mul(t, tap);
    tap = v128.load_splat<f32>(taps, 72);
    let odd1 = f32x4.mul(d, tap);
    let odd3 = f32x4.mul(e, tap);
    for (let k: usize = 4; k < 24; k += 4) {
      const a = v128.load(x - k);
      const b = v128.load(x - 44 + k);
      s = f32x4.add(a, b);
      d = f32x4.sub(a, b);
      const c = v128.load(x - k, 16);
      const f = v128.load(x - 28 + k);
      t = f32x4.add(c, f);
      e = f32x4.sub(c, f);
      tap = v128.load_splat<f32>(taps + k);
      even0 = f32x4.add(even0, f32x4.mul(s, tap));
      even2 = f32x4.add(even2, f32x4.mul(t, tap));
      tap = v128.load_splat<f32>(taps + k, 24);
      odd0 = f32x4.add(odd0, f32x4.mul(d, tap));
      odd2 = f32x4.add(odd2, f32x4.mul(e, tap));
      tap = v128.load_splat<f32>(taps + k, 48);
      even1 = f32x4.add(even1, f32x4.mul(s, tap));
      even3 = f32x4.add(even3, f32x4.mul(t, tap));
      tap = v128.load_splat<f32>(taps + k, 72);
      odd1 = f32x4.add(odd1, f32x4.mul(d, tap));
      odd3 = f32x4.add(odd3, f32x4.mul(e, tap));
    }
    const p = f32x4.pmax(
      f32x4.add(f32x4.abs(even0), f32x4.abs(odd0)),
      f32x4.add(f32x4.abs(even1), f32x4.abs(odd1)),
    );
    const q = f32x4.pmax(
      f32x4.add(f32x4.abs(even2), f32x4.abs(odd2)),
      f32x4.add(f32x4.abs(even3), f32x4.abs(odd3)),
    );
    most = f32x4.pmax(most, f32x4.pmax(p, q));
  }
  return largest(most);
}

/** The same for any number of outputs, in double precision. */
function exactPeak(x: usize, end: usize, taps: usize): f64 {
  let most: f64 = 0;
  for (; x < end; x += 4) {
    let even0: f64 = 0;
    let odd0: f64 = 0;
    let even1: f64 = 0;
    let odd1: f64 = 0;
    for (let k: usize = 0; k < 6; k++) {
      const a = <f64>load<f32>(x - (k << 2));
      const b = <f64>load<f32>(x - 44 + (k << 2));
      const tap = taps + (k << 2);
      even0 += (a + b) * <f64>load<f32>(tap);
      odd0 += (a - b) * <f64>load<f32>(tap, 24);
      even1 += (a + b) * <f64>load<f32>(tap, 48);
      odd1 += (a - b) * <f64>load<f32>(tap, 72);
    }
    most = max(most, max(abs(even0) + abs(odd0), abs(even1) + abs(odd1)));
  }
  return most;
}

/**
 * Sample peak and true peak of each block of one channel.
 *
 * A block is looked at in cells of 16 samples. What a cell can reach is bounded in two ways, by what it and the cell
 * before it hold: by the lowest and highest sample, and (which is closer where the sound is smooth) by the largest
 * magnitude and the largest second difference. The most promising cell is evaluated first, and cells whose bound
 * cannot pass what has been found are left out. The cell that holds the peak is evaluated once more in double
 * precision.
 * Source: ITU-R BS.1770-5, Annex 2.
 * @param x the first sample; 16 samples before it must be there
 * @param ends i32 per block: where it ends, frames from `x`
 * @param taps see `cellPeak`
 * @param gains four f32: what a constant, a deviation from it, a magnitude and a second difference can grow to
 * @param bounds room for one f32 per cell of the longest block, and 4 more
 * @param out per block: true peak f32, sample peak f32 (both linear), cells of digital silence i32, cells i32
 */
export function peaks(
  x: usize,
  ends: usize,
  blocks: i32,
  taps: usize,
  gains: usize,
  bounds: usize,
  out: usize,
): void {
  const ofMid = v128.load_splat<f32>(gains);
  const ofHalf = v128.load_splat<f32>(gains, 4);
  const ofSize = v128.load_splat<f32>(gains, 8);
  const ofBend = v128.load_splat<f32>(gains, 12);
  const half = f32x4.splat(0.5);
  const zero = f32x4.splat(0);
  let from = x;
  for (let block = 0; block < blocks; block++, out += 16) {
    const to = x + ((<usize>load<i32>(ends + ((<usize>block) << 2))) << 2);
    // The cell before the block, in the last lane.
    let a = v128.load(from - 64);
    let b = v128.load(from - 48);
    let c = v128.load(from - 32);
    let d = v128.load(from - 16);
    let lowBefore = f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
    let highBefore = f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d));
    lowBefore = smallestOfEach(lowBefore, lowBefore, lowBefore, lowBefore);
    highBefore = largestOfEach(highBefore, highBefore, highBefore, highBefore);
    // The filter reaches back 11 samples, and so to second differences that end 9 samples back.
    let bendBefore = f32x4.pmax(f32x4.pmax(bends(from - 48, b), bends(from - 32, c)), bends(from - 16, d));
    bendBefore = largestOfEach(bendBefore, bendBefore, bendBefore, bendBefore);
    let lowest = zero;
    let highest = zero;
    let mostBound = zero;
    let silent = 0;
    let bound = bounds;
    let at = from;
    for (; at + 4 * CELL_BYTES <= to; at += 4 * CELL_BYTES) {
      a = v128.load(at);
      b = v128.load(at, 16);
      c = v128.load(at, 32);
      d = v128.load(at, 48);
      const low0 = f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
      const high0 = f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d));
      const bend0 = f32x4.pmax(
        f32x4.pmax(bends(at, a), bends(at + 16, b)),
        f32x4.pmax(bends(at + 32, c), bends(at + 48, d)),
      );
      a = v128.load(at, 64);
      b = v128.load(at, 80);
      c = v128.load(at, 96);
      d = v128.load(at, 112);
      const low1 = f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
      const high1 = f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d));
      const bend1 = f32x4.pmax(
        f32x4.pmax(bends(at + 64, a), bends(at + 80, b)),
        f32x4.pmax(bends(at + 96, c), bends(at + 112, d)),
      );
      a = v128.load(at, 128);
      b = v128.load(at, 144);
      c = v128.load(at, 160);
      d = v128.load(at, 176);
      const low2 = f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
      const high2 = f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d));
      const bend2 = f32x4.pmax(
        f32x4.pmax(bends(at + 128, a), bends(at + 144, b)),
        f32x4.pmax(bends(at + 160, c), bends(at + 176, d)),
      );
      a = v128.load(at, 192);
      b = v128.load(at, 208);
      c = v128.load(at, 224);
      d = v128.load(at, 240);
      const low3 = f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
      const high3 = f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d));
      const bend3 = f32x4.pmax(
        f32x4.pmax(bends(at + 192, a), bends(at + 208, b)),
        f32x4.pmax(bends(at + 224, c), bends(at + 240, d)),
      );
      const low = smallestOfEach(low0, low1, low2, low3);
      const high = largestOfEach(high0, high1, high2, high3);
      const bend = largestOfEach(bend0, bend1, bend2, bend3);
      lowest = f32x4.pmin(lowest, low);
      highest = f32x4.pmax(highest, high);
      silent += popcnt<i32>(i32x4.bitmask(v128.and(f32x4.eq(low, zero), f32x4.eq(high, zero))));
      const reachLow = f32x4.pmin(low, v128.shuffle<f32>(lowBefore, low, 3, 4, 5, 6));
      const reachHigh = f32x4.pmax(high, v128.shuffle<f32>(highBefore, high, 3, 4, 5, 6));
      const mid = f32x4.abs(f32x4.mul(f32x4.add(reachHigh, reachLow), half));
      const spread = f32x4.mul(f32x4.sub(reachHigh, reachLow), half);
      const reachBend = f32x4.pmax(bend, v128.shuffle<f32>(bendBefore, bend, 3, 4, 5, 6));
      const size = f32x4.pmax(reachHigh, f32x4.neg(reachLow));
      const most = f32x4.pmin(
        f32x4.add(f32x4.mul(ofMid, mid), f32x4.mul(ofHalf, spread)),
        f32x4.add(f32x4.mul(ofSize, size), f32x4.mul(ofBend, reachBend)),
      );
      v128.store(bound, most);
      bound += 16;
      mostBound = f32x4.pmax(mostBound, most);
      lowBefore = low;
      highBefore = high;
      bendBefore = bend;
    }
    // What is left is under 64 samples: evaluated as it is.
    const rest = at;
    let sample = max(largest(highest), largest(f32x4.neg(lowest)));
    let cells = <i32>((rest - from) / CELL_BYTES);
    for (; at < to; at += CELL_BYTES) {
      let size: f32 = 0;
      const end = min(at + CELL_BYTES, to);
      for (let i = at; i < end; i += 4) size = max(size, abs(load<f32>(i)));
      if (size == 0) silent++;
      sample = max(sample, size);
      cells++;
    }
    let peak: f64 = sample;
    let holder: usize = 0;
    const promise = largest(mostBound);
    if (promise * CARE > sample && promise > NOTHING) {
      // The most promising cell first.
      let first = bounds;
      while (load<f32>(first) < promise) first += 4;
      let found = cellPeak(from + (first - bounds) * CELL, taps);
      let best = sample;
      if (found > best) {
        best = found;
        holder = from + (first - bounds) * CELL;
      }
      for (let group = bounds; group < bound; group += 16) {
        const open = i32x4.bitmask(
          f32x4.gt(f32x4.mul(v128.load(group), f32x4.splat(CARE)), f32x4.splat(best)),
        );
        if (open == 0) continue;
        for (let lane: usize = 0; lane < 4; lane++) {
          const cell = group + (lane << 2);
          if (cell == first || load<f32>(cell) * CARE <= best) continue;
          found = cellPeak(from + (cell - bounds) * CELL, taps);
          if (found > best) {
            best = found;
            holder = from + (cell - bounds) * CELL;
          }
        }
      }
      if (holder != 0) peak = max(peak, exactPeak(holder, holder + CELL_BYTES, taps));
    }
    if (rest < to) peak = max(peak, exactPeak(rest, to, taps));
    store<f32>(out, <f32>peak);
    store<f32>(out, sample, 4);
    store<i32>(out, silent, 8);
    store<i32>(out, cells, 12);
    from = to;
  }
}
