import { larger, largest } from './vectors';

/** Intervals worked out at a time, and samples around them whose neighbours' middles are needed; see `plainNearPeaks`. */
const CHUNK: i32 = 64;
const AROUND: i32 = 7;
const CELL: i32 = 16;
/** Samples from the first place of the first group to the first sample, and groups around a chunk; see `nearBounds`. */
const EDGE_BEFORE: i32 = 560;
const EDGE_GROUPS: i32 = 18;
const EDGE_CELLS: i32 = 36;

/**
 * Magnitudes at four outputs of the standard's filter from `x` on; the 11 samples before must be there.
 * @param taps see `peaks`
 */
function standardAt(x: usize, taps: usize): v128 {
  let even0 = f32x4.splat(0);
  let odd0 = even0;
  let even1 = even0;
  let odd1 = even0;
  for (let k: usize = 0; k < 24; k += 8) {
    const near = v128.load(x - k);
    const far = v128.load(x - 44 + k);
    const s = f32x4.add(near, far);
    const d = f32x4.sub(near, far);
    const nearNext = v128.load(x - 4 - k);
    const farNext = v128.load(x - 40 + k);
    const sNext = f32x4.add(nearNext, farNext);
    const dNext = f32x4.sub(nearNext, farNext);
    const at = taps + k;
    even0 = f32x4.add(even0, f32x4.mul(s, v128.load_splat<f32>(at)));
    odd0 = f32x4.add(odd0, f32x4.mul(d, v128.load_splat<f32>(at, 24)));
    even1 = f32x4.add(even1, f32x4.mul(s, v128.load_splat<f32>(at, 48)));
    odd1 = f32x4.add(odd1, f32x4.mul(d, v128.load_splat<f32>(at, 72)));
    even0 = f32x4.add(even0, f32x4.mul(sNext, v128.load_splat<f32>(at, 4)));
    odd0 = f32x4.add(odd0, f32x4.mul(dNext, v128.load_splat<f32>(at, 28)));
    even1 = f32x4.add(even1, f32x4.mul(sNext, v128.load_splat<f32>(at, 52)));
    odd1 = f32x4.add(odd1, f32x4.mul(dNext, v128.load_splat<f32>(at, 76)));
  }
  return f32x4.pmax(
    f32x4.add(f32x4.abs(even0), f32x4.abs(odd0)),
    f32x4.add(f32x4.abs(even1), f32x4.abs(odd1)),
  );
}

/** Writes four values and the middle after each, alternating. */
function interleave(to: usize, values: v128, middles: v128): void {
  v128.store(to, v128.shuffle<f32>(values, middles, 0, 4, 1, 5));
  v128.store(to, v128.shuffle<f32>(values, middles, 2, 6, 3, 7), 16);
}

/** `count` values, rounded up to eight, and the middle after each. @param taps `length` f32 */
function halved(from: usize, count: i32, taps: usize, length: i32, to: usize): void {
  const reach = (<usize>length) << 2;
  for (let i = 0; i < count; i += 8, from += 32, to += 64) {
    let low = f32x4.splat(0);
    let high = low;
    for (let k: usize = 0; k < reach; k += 4) {
      const tap = v128.load_splat<f32>(taps + k);
      const before = from - k;
      const after = from + k;
      low = f32x4.add(low, f32x4.mul(tap, f32x4.add(v128.load(before), v128.load(after, 4))));
      high = f32x4.add(high, f32x4.mul(tap, f32x4.add(v128.load(before, 16), v128.load(after, 20))));
    }
    interleave(to, v128.load(from), low);
    interleave(to + 32, v128.load(from, 16), high);
  }
}

/** See `chunkPeaks` in the plain kernel. @param scratch room for the three halvings */
function chunkPeaks(
  x: usize,
  count: i32,
  first: usize,
  firstLength: i32,
  others: usize,
  scratch: usize,
  out: usize,
): void {
  const twice = scratch + 256;
  const fourfold = twice + 4 * (2 * (CHUNK + 2 * AROUND + 16) + 64);
  const eightfold = fourfold + 4 * (4 * (CHUNK + 6 + 8) + 64);
  halved(x - 4 * AROUND, count + 2 * AROUND, first, firstLength, twice);
  halved(twice + 4 * 2 * (AROUND - 3), 2 * (count + 6), others, 8, fourfold);
  halved(fourfold + 4 * 8, 4 * (count + 2), others + 32, 6, eightfold);
  for (let i = 0; i < count; i++) {
    let most = load<f32>(out + 4 * i);
    let at = eightfold + 32 * (i + 1);
    const sizes = f32x4.pmax(f32x4.abs(v128.load(at)), f32x4.abs(v128.load(at, 16)));
    if (larger(largest(sizes), abs(load<f32>(at, 32))) * 1.02 < most) continue;
    for (let j = 0; j <= 8; j++, at += 4) {
      const size = abs(load<f32>(at));
      if (size * 1.02 < most) continue;
      const left = abs(load<f32>(at - 4));
      const right = abs(load<f32>(at, 4));
      const bend = left - 2 * size + right;
      let top = size;
      if (left <= size && right <= size && bend < 0) top -= ((left - right) * (left - right)) / (8 * bend);
      if (top > most) most = top;
    }
    store<f32>(out + 4 * i, most);
  }
}

/** Looks closer wherever a value comes up to what its cell is looked at from; see the plain kernel. */
function lookCloser(
  x: usize,
  out: usize,
  count: i32,
  lows: usize,
  taps: usize,
  length: i32,
  others: usize,
  scratch: usize,
): void {
  for (let i = 0; i < count;) {
    if (load<f32>(out + 4 * i) < load<f32>(lows + 4 * (i / CELL))) {
      i++;
      continue;
    }
    const from = i;
    while (i < count && i - from < CHUNK) {
      if (load<f32>(out + 4 * i) < load<f32>(lows + 4 * (i / CELL))) break;
      i++;
    }
    chunkPeaks(x + 4 * from, i - from, taps, length, others, scratch, out + 4 * from);
  }
}

/** For each of `cells` values the largest of the `before` values before it, 0 without any. */
function largestBefore(values: usize, cells: i32, before: i32, to: usize): void {
  let most: f32 = 0;
  let at = -1;
  for (let c = 0; c < cells; c++) {
    if (c > 0 && load<f32>(values + 4 * (c - 1)) >= most) {
      at = c - 1;
      most = load<f32>(values + 4 * at);
    }
    if (at < c - before) {
      most = 0;
      at = -1;
      for (let k = max(0, c - before); k < c; k++) {
        if (load<f32>(values + 4 * k) < most) continue;
        at = k;
        most = load<f32>(values + 4 * k);
      }
    }
    store<f32>(to + 4 * c, most);
  }
}

/**
 * For every group of 64 samples, the largest of what lies close to half the sample rate.
 * @param x the first sample of the first group's first place
 */
function edgeGroups(x: usize, taps: usize, groups: i32, to: usize): void {
  for (let g = 0; g < groups; g++) {
    let most = f32x4.splat(0);
    // Four places, 8 samples apart, at a time.
    for (let half = 0; half < 2; half++) {
      let a = f32x4.splat(0);
      let b = a;
      let c = a;
      let d = a;
      for (let k: usize = 0; k < 128; k += 16) {
        const tap = v128.load(taps + k);
        a = f32x4.add(a, f32x4.mul(tap, v128.load(x + k)));
        b = f32x4.add(b, f32x4.mul(tap, v128.load(x + k, 32)));
        c = f32x4.add(c, f32x4.mul(tap, v128.load(x + k, 64)));
        d = f32x4.add(d, f32x4.mul(tap, v128.load(x + k, 96)));
      }
      const ab = f32x4.add(v128.shuffle<f32>(a, b, 0, 1, 4, 5), v128.shuffle<f32>(a, b, 2, 3, 6, 7));
      const cd = f32x4.add(v128.shuffle<f32>(c, d, 0, 1, 4, 5), v128.shuffle<f32>(c, d, 2, 3, 6, 7));
      const sum = f32x4.add(v128.shuffle<f32>(ab, cd, 0, 2, 4, 6), v128.shuffle<f32>(ab, cd, 1, 3, 5, 7));
      most = f32x4.pmax(most, f32x4.abs(sum));
      x += 128;
    }
    store<f32>(to + 4 * g, largest(most));
  }
}

/** The largest sample and second difference of a cell. @param x its first sample */
function figures(x: usize, size: usize, bend: usize): void {
  let most = f32x4.splat(0);
  let bent = most;
  for (let i: usize = 0; i < 4 * CELL; i += 16) {
    const middle = v128.load(x + i);
    const beside = f32x4.add(v128.load(x + i - 4), v128.load(x + i, 4));
    most = f32x4.pmax(most, f32x4.abs(middle));
    bent = f32x4.pmax(bent, f32x4.abs(f32x4.sub(beside, f32x4.add(middle, middle))));
  }
  store<f32>(size, largest(most));
  store<f32>(bend, largest(bent));
}

/** The largest fourth difference of a cell, worked out where it is asked for. @param known what is known already, −1 where it is not */
function twistOf(x: usize, known: usize): f32 {
  const before = load<f32>(known);
  if (before >= 0) return before;
  let most = f32x4.splat(0);
  for (let i: usize = 0; i < 4 * CELL; i += 16) {
    const at = x + i;
    const beside = f32x4.add(v128.load(at - 4), v128.load(at, 4));
    const around = f32x4.add(v128.load(at - 8), v128.load(at, 8));
    const middle = f32x4.mul(f32x4.splat(6), v128.load(at));
    most = f32x4.pmax(
      most,
      f32x4.abs(f32x4.add(f32x4.sub(around, f32x4.mul(f32x4.splat(4), beside)), middle)),
    );
  }
  const twist = largest(most);
  store<f32>(known, twist);
  return twist;
}

/** The largest of three cells in a row. */
function ofThree(at: usize): f32 {
  return larger(load<f32>(at), larger(load<f32>(at, 4), load<f32>(at, 8)));
}

/**
 * For every chunk, the largest of what lies close to half the sample rate as far around as it can be heard; where the second
 * differences say that nothing comes up to the level, no more than they say.
 * @param sizes, bends of the cell before the first on; `everyBend`: from EDGE_CELLS before it on
 * @param caps room for an f32 a chunk and 64 more, `groups` for one a chunk and EDGE_GROUPS more
 */
function edgesOf(
  x: usize,
  taps: usize,
  cells: i32,
  sizes: usize,
  bends: usize,
  everyBend: usize,
  bounds: usize,
  least: f32,
  caps: usize,
  groups: usize,
  edges: usize,
): void {
  const chunks = (cells + 3) >> 2;
  const bySize = load<f32>(bounds);
  const byBend = load<f32>(bounds, 4);
  const byEdge = load<f32>(bounds, 8);
  const ofBend = load<f32>(bounds, 36);
  const around = (2 * EDGE_CELLS) / 4;
  // Of four cells each, from EDGE_CELLS before the first on.
  for (let b = 0; b < chunks + around; b++) {
    let most: f32 = 0;
    const end = min(4 * b + 4, cells + 2 * EDGE_CELLS);
    for (let c = 4 * b; c < end; c++) most = larger(most, load<f32>(everyBend + 4 * c));
    store<f32>(caps + 4 * b, most);
  }
  const widest = caps + 4 * (chunks + around);
  largestBefore(caps, chunks + around + 1, around + 1, widest);
  let done = 0;
  for (let b = 0; b < chunks; b++) {
    const cap = ofBend * load<f32>(widest + 4 * (b + around + 1));
    const end = min(4 * b + 4, cells);
    let reached = false;
    for (let c = 4 * b; c < end && !reached; c++)
      reached = bySize * ofThree(sizes + 4 * c) + byBend * ofThree(bends + 4 * c) + byEdge * cap >= least;
    if (!reached) {
      store<f32>(edges + 4 * b, cap);
      continue;
    }
    const first = max(done, b);
    done = b + EDGE_GROUPS;
    edgeGroups(x + 4 * (first * CHUNK - EDGE_BEFORE), taps, done - first, groups + 4 * first);
    let most: f32 = 0;
    for (let g = b; g < done; g++) most = larger(most, load<f32>(groups + 4 * g));
    store<f32>(edges + 4 * b, most);
  }
}

/**
 * The largest magnitude from each sample to the next, where it may come up to a level; see `plainNearPeaks`, which says the
 * same.
 * @param x the first sample that is looked at, with `reach` around it
 * @param least the level, a little allowance taken off
 * @param before how many cells before one its peaks are held over by, where those come up to them
 * @param bounds 10 f32, see `nearBounds`: by size, by bend, by edge, 1 / of read, of twist, of size, close edge, allowance, of bend, edge of bend
 * @param standardTaps 24 f32; `edgeTaps`: 32 f32
 * @param close, closest taps of the two first halvings; `others`: 8 f32 and 6 f32 of the two that follow
 * @param scratch room for count + 4,096 f32
 * @param out `count` f32, and 16 more
 */
export function nearPeaks(
  x: usize,
  count: i32,
  least: f32,
  before: i32,
  bounds: usize,
  standardTaps: usize,
  edgeTaps: usize,
  close: usize,
  closeLength: i32,
  closest: usize,
  closestLength: i32,
  others: usize,
  scratch: usize,
  out: usize,
): void {
  const cells = (count + CELL - 1) / CELL;
  const chunks = (count + CHUNK - 1) / CHUNK;
  // Of the cells around those that are looked at, too.
  const all = cells + 2 * EDGE_CELLS;
  const everySize = scratch;
  const everyBend = everySize + 4 * all;
  const sizes = everySize + 4 * (EDGE_CELLS - 1);
  const bends = everyBend + 4 * (EDGE_CELLS - 1);
  const twists = everyBend + 4 * all;
  const rests = twists + 4 * (cells + 2);
  const tops = rests + 4 * cells;
  const held = tops + 4 * cells;
  const lows = held + 4 * cells;
  const groups = lows + 4 * cells;
  const edges = groups + 4 * (chunks + EDGE_GROUPS);
  const left = edges + 4 * (chunks + 1);
  for (let c = 0; c < all; c++)
    figures(x + 4 * CELL * (c - EDGE_CELLS), everySize + 4 * c, everyBend + 4 * c);
  for (let c = 0; c < cells + 2; c++) store<f32>(twists + 4 * c, -1);
  const bySize = load<f32>(bounds);
  const byBend = load<f32>(bounds, 4);
  const byEdge = load<f32>(bounds, 8);
  const ofRead = load<f32>(bounds, 12);
  const ofTwist = load<f32>(bounds, 16);
  const ofSize = load<f32>(bounds, 20);
  const closeEdge = load<f32>(bounds, 24);
  const allowance = load<f32>(bounds, 28);
  const ofBend = load<f32>(bounds, 32);
  const none = f32x4.splat(0);
  edgesOf(x, edgeTaps, cells, sizes, bends, everyBend, bounds, least, left, groups, edges);
  for (let c = 0; c < cells; c++) {
    const size = ofThree(sizes + 4 * c);
    const edge = byEdge * load<f32>(edges + 4 * (c >> 2));
    const at = x + 4 * CELL * c;
    const to = out + 4 * CELL * c;
    let top = none;
    if (bySize * size + byBend * ofThree(bends + 4 * c) + edge < least) {
      store<f32>(rests + 4 * c, -f32.MAX_VALUE);
      for (let i: usize = 0; i < 4 * CELL; i += 16) v128.store(to + i, none);
    } else {
      for (let k = -1; k < 2; k++) twistOf(at + 4 * CELL * k, twists + 4 * (c + 1 + k));
      store<f32>(rests + 4 * c, ofTwist * ofThree(twists + 4 * c) + ofSize * size + edge);
      for (let i: usize = 0; i < 4 * CELL; i += 16) {
        const beside = f32x4.pmax(f32x4.abs(v128.load(at + i)), f32x4.abs(v128.load(at + i, 4)));
        const read = f32x4.pmax(standardAt(at + i + 24, standardTaps), beside);
        v128.store(to + i, read);
        top = f32x4.pmax(top, read);
      }
    }
    store<f32>(tops + 4 * c, largest(top));
  }
  largestBefore(tops, cells, before, held);
  for (let c = 0; c < cells; c++) {
    const low = larger(least, allowance * load<f32>(held + 4 * c));
    store<f32>(held + 4 * c, low - closeEdge * load<f32>(edges + 4 * (c >> 2)));
    const byRead = (low - load<f32>(rests + 4 * c)) * ofRead;
    const bySize = low - ofBend * ofThree(bends + 4 * c) - byEdge * load<f32>(edges + 4 * (c >> 2));
    store<f32>(lows + 4 * c, larger(byRead, bySize));
  }
  lookCloser(x, out, count, lows, close, closeLength, others, left);
  lookCloser(x, out, count, held, closest, closestLength, others, left);
}

/** The largest of each block of values and of the one after it, raised where they are larger. @param most `count` f32 */
export function blockPeaks(values: usize, block: i32, count: i32, most: usize): void {
  for (let k = 0; k < count; k++, values += 4 * block) {
    let i = 0;
    let top = f32x4.splat(0);
    for (; i + 4 <= block + 1; i += 4) top = f32x4.pmax(top, v128.load(values + 4 * i));
    let peak = larger(largest(top), load<f32>(most + 4 * k));
    for (; i <= block; i++) peak = larger(peak, load<f32>(values + 4 * i));
    store<f32>(most + 4 * k, peak);
  }
}
