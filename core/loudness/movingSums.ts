import type { Layout } from '@/core/audio/layout';
import type { ChannelPeaks, PairProducts } from '@/core/kernels/kernel';

/**
 * Sums over a stretch of a programme of which one part moves (the clips whose gain is being changed) and the rest stays.
 * The moving part M and the rest F are K-weighted separately; with the moving part's gain multiplied by g, the energy of a
 * sub-block is ⟨F,F⟩ + 2g·⟨F,M⟩ + g²·⟨M,M⟩, as K-weighting is linear.
 */
export interface MovingSums {
  /** First sub-block, a whole number of peak blocks; the arrays hold what follows. */
  readonly from: number;
  /** Per sub-block, weighted over the channels: Σ G_i·⟨·,·⟩_i (ITU-R BS.1770-5, Annex 1, eq. 2). */
  readonly restRest: Float64Array;
  readonly restMoving: Float64Array;
  readonly movingMoving: Float64Array;
  /** Per channel and peak block, linear. */
  readonly restTruePeak: readonly Float32Array[];
  readonly movingTruePeak: readonly Float32Array[];
}

/** Room for the sums over `subBlocks` sub-blocks and `peakBlocks` peak blocks of so many channels. */
export function emptySums(from: number, subBlocks: number, peakBlocks: number, channels: number): MovingSums {
  const sums = (): Float64Array => new Float64Array(subBlocks);
  const peaks = (): Float32Array[] => Array.from({ length: channels }, () => new Float32Array(peakBlocks));
  return {
    from,
    restRest: sums(),
    restMoving: sums(),
    movingMoving: sums(),
    restTruePeak: peaks(),
    movingTruePeak: peaks(),
  };
}

/**
 * Writes what a kernel found of a chunk into the sums.
 * @param products per channel of the layout: rest and moving part as a pair
 * @param peaks per channel of the kernel: rest, moving part, rest, …
 * @param at sub-block of the chunk, counted from the start of the sums
 */
export function putSums(
  sums: MovingSums,
  layout: Layout,
  products: readonly PairProducts[],
  peaks: readonly ChannelPeaks[],
  at: number,
  peakAt: number,
): void {
  layout.weights.forEach((weight, c) => {
    const { aa, bb, ab } = products[c]!;
    for (let k = 0; k < aa.length; k++) {
      sums.restRest[at + k]! += weight * aa[k]!;
      sums.restMoving[at + k]! += weight * ab[k]!;
      sums.movingMoving[at + k]! += weight * bb[k]!;
    }
    sums.restTruePeak[c]!.set(peaks[2 * c]!.truePeak, peakAt);
    sums.movingTruePeak[c]!.set(peaks[2 * c + 1]!.truePeak, peakAt);
  });
}

/** The energies of the stretch with the moving part's gain multiplied by `factor`, into `out`. */
export function energiesAt(
  { restRest, restMoving, movingMoving }: MovingSums,
  factor: number,
  out: Float64Array,
): void {
  const twice = 2 * factor;
  const square = factor * factor;
  for (let k = 0; k < restRest.length; k++) {
    // Where the two cancel, rounding could leave less than nothing.
    out[k] = Math.max(0, restRest[k]! + twice * restMoving[k]! + square * movingMoving[k]!);
  }
}

/** What no true peak of the stretch can pass with the moving part's gain multiplied by `factor`, linear. */
export function peakBoundAt({ restTruePeak, movingTruePeak }: MovingSums, factor: number): number {
  let most = 0;
  restTruePeak.forEach((rest, c) => {
    const moving = movingTruePeak[c]!;
    for (let k = 0; k < rest.length; k++) most = Math.max(most, rest[k]! + factor * moving[k]!);
  });
  return most;
}
