import { dbToPower } from './decibels';
import { integratedOfAll } from './gating';

/** Close enough to the goal to be called there, LU. */
const CLOSE = 1e-6;
const STEPS = 24;

/** Gating blocks of one signal and the gain it already has, dB. */
export interface GainedBlocks {
  readonly blocks: Float64Array;
  readonly gainDb: number;
}

/** Gated loudness of several signals taken together, all moved by one further gain. LUFS, `null` when none. */
export function integratedAt(signals: readonly GainedBlocks[], shiftDb: number): number | null {
  return integratedOfAll(signals.map(({ blocks, gainDb }) => [blocks, dbToPower(gainDb + shiftDb)] as const))
    .integratedLufs;
}

export interface GainSolution {
  /** The further gain on all of them, dB. */
  readonly shiftDb: number;
  /** What they then measure, LUFS. */
  readonly integratedLufs: number;
}

/**
 * The one further gain that brings signals to a loudness. The relative gate moves with the signal, the absolute gate
 * does not: a gain can lift blocks over it, so each answer is evaluated and corrected, and the closest one found is
 * returned with what it really gives.
 * @returns `null` when nothing is over the gates
 */
export function solveGain(signals: readonly GainedBlocks[], goalLufs: number): GainSolution | null {
  let shift = 0;
  let at = integratedAt(signals, 0);
  if (at === null) {
    // Everything lies under the absolute gate as it is; measured far above it, the way down can be found.
    shift = 100;
    at = integratedAt(signals, shift);
    if (at === null) return null;
  }
  let best: GainSolution = { shiftDb: shift, integratedLufs: at };
  for (let step = 0; step < STEPS && Math.abs(best.integratedLufs - goalLufs) > CLOSE; step++) {
    shift += goalLufs - at;
    const next = integratedAt(signals, shift);
    if (next === null) break;
    at = next;
    if (Math.abs(at - goalLufs) < Math.abs(best.integratedLufs - goalLufs)) {
      best = { shiftDb: shift, integratedLufs: at };
    }
  }
  return best;
}
