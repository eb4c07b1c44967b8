/** Intervals worked out at a time, and samples around them whose neighbours' middles are needed; see `plainNearPeaks`. */
const CHUNK: i32 = 64;
const AROUND: i32 = 7;
const CELL: i32 = 16;

/**
 * Magnitudes at four outputs of the standard's filter from `x` on; the 11 samples before must be there.
 * @param taps see `peaks`
 */
function standardAt(x: usize, taps: usize): v128 {
  let even0 = f32x4.splat(0);
  let odd0 = even0;
  let even1 = even0;
  let odd1 = even0;
  for (let k: usize = 0; k < 24; k += 4) {
    const a = v128.load(x - k);
    const b = v128.load(x - 44 + k);
    const s = f32x4.add(a, b);
    const d = f32x4.sub(a, b);
    even0 = f32x4.add(even0, f32x4.mul(s, v128.load_splat<f32>(taps + k)));
    odd0 = f32x4.add(odd0, f32x4.mul(d, v128.load_splat<f32>(taps + k, 24)));
    even1 = f32x4.add(even1, f32x4.mul(s, v128.load_splat<f32>(taps + k, 48)));
    odd1 = f32x4.add(odd1, f32x4.mul(d, v128.load_splat<f32>(taps + k, 72)));
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

function lookCloser(
  x: usize,
  values: usize,
  low: f32,
  taps: usize,
  length: i32,
  others: usize,
  scratch: usize,
  out: usize,
  count: i32,
): void {
  for (let i = 0; i < count;) {
    const at = values + 4 * i;
    if (load<f32>(at) < low && load<f32>(at, 4) < low && load<f32>(at, 8) < low) {
      i++;
      continue;
    }
    const from = i;
    while (i < count && i - from < CHUNK) {
      const next = values + 4 * i;
      if (load<f32>(next) < low && load<f32>(next, 4) < low && load<f32>(next, 8) < low) break;
      i++;
    }
    chunkPeaks(x + 4 * from, i - from, taps, length, others, scratch, out + 4 * from);
  }
}

/**
 * The largest magnitude from each sample to the next, where it may come up to a level; see `plainNearPeaks`, which says the
 * same.
 * @param x the first sample that is looked at, with as many around as the plain kernel asks for
 * @param low from where the standard's filter calls for a closer look; `nearer`: from where the shorter kernel does
 * @param standardTaps 24 f32, and what a constant and a deviation from it can grow to, 2 f32
 * @param close, closest taps of the two first halvings; `others`: 8 f32 and 6 f32 of the two that follow
 * @param scratch room for 2 · (count + 64) f32 and the halvings of a chunk
 * @param out `count` f32, and 16 more
 */
export function nearPeaks(
  x: usize,
  count: i32,
  low: f32,
  nearer: f32,
  standardTaps: usize,
  close: usize,
  closeLength: i32,
  closest: usize,
  closestLength: i32,
  others: usize,
  scratch: usize,
  out: usize,
): void {
  const values = scratch;
  const room = 4 * (count + 64);
  memory.fill(values, 0, room);
  const ofMid = load<f32>(standardTaps, 96);
  const ofHalf = load<f32>(standardTaps, 100);
  for (let cell = 0; cell < count + 2; cell += CELL) {
    const at = x + 4 * (cell - 1);
    let least = v128.load(at - 24);
    let greatest = least;
    for (let i: usize = 16; i < 4 * 28; i += 16) {
      const v = v128.load(at - 24 + i);
      least = f32x4.pmin(least, v);
      greatest = f32x4.pmax(greatest, v);
    }
    least = f32x4.pmin(least, v128.shuffle<f32>(least, least, 2, 3, 0, 1));
    greatest = f32x4.pmax(greatest, v128.shuffle<f32>(greatest, greatest, 2, 3, 0, 1));
    const bottom = min(f32x4.extract_lane(least, 0), f32x4.extract_lane(least, 1));
    const top = max(f32x4.extract_lane(greatest, 0), f32x4.extract_lane(greatest, 1));
    if (ofMid * abs(top + bottom) * 0.5 + ofHalf * (top - bottom) * 0.5 < low) continue;
    for (let i = 0; i < CELL; i += 4)
      v128.store(values + 4 * (cell + i), standardAt(at + 4 * (i + 6), standardTaps));
  }
  memory.copy(out, values + 4, 4 * count);
  const scratchLeft = scratch + 2 * room;
  lookCloser(x, values, low, close, closeLength, others, scratchLeft, out, count);
  const closer = scratch + room;
  store<f32>(closer, 0);
  memory.copy(closer + 4, out, 4 * count);
  store<f32>(closer + 4 * (count + 1), 0);
  lookCloser(x, closer, nearer, closest, closestLength, others, scratchLeft, out, count);
}
