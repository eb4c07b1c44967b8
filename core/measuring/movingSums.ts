import { dbToAmplitude } from '@/core/loudness/decibels';
import { energyWeights, statesBeside, type MovingLaw } from './movingLaw';

/** Sums over some sub-blocks of a programme of which one part moves and the rest stays; see {@link MovingLaw}. */
export interface MovingSums {
  readonly law: MovingLaw;
  /** First sub-block, a whole number of peak blocks; the arrays hold what follows. */
  readonly from: number;
  /**
   * Per sub-block, weighted over the channels: Σ G_i·⟨·,·⟩_i (ITU-R BS.1770-5, Annex 1, eq. 2). By gain: ⟨F,F⟩, ⟨F,M⟩ and
   * ⟨M,M⟩; by states: the energy of the whole in each.
   */
  readonly energies: readonly Float64Array[];
  /** True peak of the rest, per channel and peak block, linear. */
  readonly restTruePeak: readonly Float32Array[];
  /** The same of what moves: by gain as it stands, by states in each. */
  readonly movingTruePeak: readonly (readonly Float32Array[])[];
}

const energyCount = (law: MovingLaw): number => (law.kind === 'gain' ? 3 : law.changesDb.length);
const peakCount = (law: MovingLaw): number => (law.kind === 'gain' ? 1 : law.changesDb.length);

/** Room for the sums over `subBlocks` sub-blocks and `peakBlocks` peak blocks of so many channels. */
export function emptySums(
  law: MovingLaw,
  from: number,
  subBlocks: number,
  peakBlocks: number,
  channels: number,
): MovingSums {
  const peaks = (): Float32Array[] => Array.from({ length: channels }, () => new Float32Array(peakBlocks));
  return {
    law,
    from,
    energies: Array.from({ length: energyCount(law) }, () => new Float64Array(subBlocks)),
    restTruePeak: peaks(),
    movingTruePeak: Array.from({ length: peakCount(law) }, peaks),
  };
}

/** All arrays of the sums, to be handed over. */
export const sumsArrays = ({ energies, restTruePeak, movingTruePeak }: MovingSums) => [
  ...energies,
  ...restTruePeak,
  ...movingTruePeak.flat(),
];

/** The energies with what moves changed, into `out`. */
export function energiesAt({ law, energies }: MovingSums, changeDb: number, out: Float64Array): void {
  const weights = energyWeights(law, changeDb);
  out.fill(0);
  energies.forEach((energy, j) => {
    const weight = weights[j]!;
    for (let k = 0; k < energy.length; k++) out[k]! += weight * energy[k]!;
  });
  // Where the two cancel, rounding could leave less than nothing.
  for (let k = 0; k < out.length; k++) out[k] = Math.max(0, out[k]!);
}

/** What no true peak can pass with what moves changed, linear. */
export function peakBoundAt({ law, restTruePeak, movingTruePeak }: MovingSums, changeDb: number): number {
  let most = 0;
  const sum = (moving: (c: number, k: number) => number): number => {
    restTruePeak.forEach((rest, c) => {
      for (let k = 0; k < rest.length; k++) most = Math.max(most, rest[k]! + moving(c, k));
    });
    return most;
  };
  if (law.kind === 'gain') {
    const factor = changeDb === -Infinity ? 0 : dbToAmplitude(changeDb);
    return sum((c, k) => factor * movingTruePeak[0]![c]![k]!);
  }
  // The logarithm of a peak bends upwards over the change in dB: between two states it lies under the line that joins them.
  const [index, part] = statesBeside(law.changesDb, changeDb);
  const [low, high] = [movingTruePeak[index]!, movingTruePeak[index + 1]!];
  return sum((c, k) => {
    const [a, b] = [low[c]![k]!, high[c]![k]!];
    return a > 0 && b > 0 ? a ** (1 - part) * b ** part : Math.max(a, b);
  });
}
