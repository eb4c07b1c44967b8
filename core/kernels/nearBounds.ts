/**
 * What a sound can come up to between two samples, told from cheaper figures, so that the long kernels of `nearPeaks` run
 * only where a level can be reached.
 *
 * Around the place lie: `size`, the largest magnitude of a sample; `bend`, of a second difference; `twist`, of a fourth
 * difference; and `edge`, of what lies close to half the sample rate, which is all that is heard from farther away than a
 * few samples. As every kernel is a weighted sum of the filters behind these figures and a rest, no sound can exceed the
 * sum of the figures times the magnitudes of their weights. The weights were found by linear programming, for 17 places
 * between two samples, with rests under 0.001 of the largest sample.
 */

/** With the two samples beside the place: `size` + BY_BEND·`bend` + BY_EDGE·`edge` bounds the long kernel and the standard's filter. */
export const BY_SIZE = 1.002;
export const BY_BEND = 0.57;
/** With what the standard's filter and the two samples read: OF_READ·`read` + OF_TWIST·`twist` + OF_SIZE·`size` + BY_EDGE·`edge`. */
export const OF_READ = 1.003;
export const OF_TWIST = 0.45 / 16;
export const OF_SIZE = 0.029;
export const BY_EDGE = 2.19;
/** With the same, closer for slow sound: `read` + OF_BEND·`bend` + BY_EDGE·`edge`. */
export const OF_BEND = 0.458;
/** With what the shorter kernel reads: that + CLOSE_EDGE·`edge`. */
export const CLOSE_EDGE = 1.312;
/** The rests, and rounding: a level is looked for this much lower. */
export const ALLOWANCE = 0.998;

/** Samples of a cell that has figures of its own; those of the cells beside it count as well. */
export const CELL = 16;
/** Every so many samples it is worked out what lies close to half the rate, over EDGE_TAPS of them; a group is 64 samples. */
export const EDGE_STEP = 8;
export const EDGE_GROUP = 8;
/** Samples farther away than this are heard at a place no more, and the groups that cover them on both sides. */
const EDGE_REACH = 540;
export const EDGE_GROUPS = 18;

/**
 * Turns what lies just under half the rate into what is slow and takes the mean of it: a Blackman window with every other
 * sign changed.
 */
export const EDGE_TAPS = (() => {
  const window = Array.from(
    { length: 32 },
    (_, j) => 0.42 - 0.5 * Math.cos((Math.PI * j) / 16) + 0.08 * Math.cos((Math.PI * j) / 8),
  );
  const sum = window.reduce((a, b) => a + b, 0);
  return Float32Array.from(window, (weight, j) => ((j % 2 === 0 ? 1 : -1) * weight) / sum);
})();

/**
 * What lies close to half the rate can be no more than this times the largest second difference as far around: at half the rate
 * a difference is four times the sound. Where that is little it need not be worked out.
 */
export const EDGE_OF_BEND = 0.25;
/** Cells before and after one whose second differences count for that. */
const EDGE_CELLS = 36;
/** Samples that must be there before and after those that are looked at, and the first place of the first group, before the first of them. */
export const NEAR_REACH = (EDGE_CELLS + 1) * CELL;
export const EDGE_BEFORE = EDGE_REACH + 20;
/** What is found is the same, bit by bit, wherever one begins a multiple of so many samples before. */
export const NEAR_STEP = 64;

/** How many cells before one lie within so many samples of all of it. */
export const cellsBefore = (held: number): number => Math.max(0, Math.floor((held - CELL + 1) / CELL));
