import { dbToAmplitude } from '@/core/loudness/decibels';
import { scaleSignal, type SignalBlocks } from '@/core/loudness/signalBlocks';
import { PEAK_SUB_BLOCKS, type WeightedHistory } from '@/core/loudness/subBlocks';
import { addRange, type SubBlockRange } from './dirtyRanges';
import { energiesAt, type MovingSums } from './movingSums';

/**
 * Takes a change of gain over into a programme's measurement from the sums for it: energies are exact at once, peaks where
 * nothing sounds beside what moves, and so the sums over samples.
 * @param sums by gain
 * @returns the ranges where both sound: their peaks have to be measured anew
 */
export function adoptGain(
  history: WeightedHistory,
  signal: SignalBlocks,
  sums: MovingSums,
  changeDb: number,
): SubBlockRange[] {
  const { from, restTruePeak, movingTruePeak } = sums;
  const moved = new Float64Array(sums.energies[0]!.length);
  energiesAt(sums, changeDb, moved);
  history.energy.set(moved.subarray(0, Math.max(0, history.energy.length - from)), from);
  const factor = dbToAmplitude(changeDb);
  const first = from / PEAK_SUB_BLOCKS;
  const blocks = Math.min(restTruePeak[0]!.length, history.truePeak[0]!.length - first);
  let ranges: SubBlockRange[] = [];
  for (let k = 0; k < blocks; k++) {
    let both = false;
    const factors = restTruePeak.map(() => 1);
    restTruePeak.forEach((rest, c) => {
      const moving = movingTruePeak[0]![c]![k]!;
      if (moving === 0) return;
      if (rest[k]! > 0) both = true;
      else {
        history.truePeak[c]![first + k]! *= factor;
        history.samplePeak[c]![first + k]! *= factor;
        factors[c] = factor;
      }
    });
    if (!both) scaleSignal(signal, first + k, factors);
    const at = (first + k) * PEAK_SUB_BLOCKS;
    if (both) {
      const last = ranges.at(-1);
      const range = { from: at, to: Math.min(at + PEAK_SUB_BLOCKS, history.energy.length) };
      // Mostly it goes on where the last one ended.
      if (last && last.to === range.from) ranges[ranges.length - 1] = { from: last.from, to: range.to };
      else ranges = addRange(ranges, range);
    }
  }
  return ranges;
}

/** The sums as they are once what moves has changed: for the next change no sample is touched again. */
export function rebased(sums: MovingSums, changeDb: number): MovingSums {
  const factor = dbToAmplitude(changeDb);
  const [rest, both, moving] = sums.energies as [Float64Array, Float64Array, Float64Array];
  return {
    ...sums,
    energies: [rest, both.map((x) => x * factor), moving.map((x) => x * factor * factor)],
    movingTruePeak: sums.movingTruePeak.map((state) => state.map((peaks) => peaks.map((x) => x * factor))),
  };
}
