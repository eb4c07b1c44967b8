import { lufsToMeanSquare, meanSquareToLufs } from './decibels';

/** Source: ITU-R BS.1770-5, Annex 1, eq. 5: blocks at or under this are left out. */
export const ABSOLUTE_GATE_LUFS = -70;
const ABSOLUTE_GATE = lufsToMeanSquare(ABSOLUTE_GATE_LUFS);
/** Source: ITU-R BS.1770-5, Annex 1, eq. 6: the relative gate lies 10 LU under the first-pass loudness. */
const RELATIVE_GATE = 0.1;

export interface Integrated {
  /** LUFS, `null` when no block passes the gates. */
  readonly integratedLufs: number | null;
  /** LUFS, `null` when no block passes the absolute gate. */
  readonly relativeGateLufs: number | null;
}

/** Mean of the blocks over a threshold, both scaled by `power`; 0 when none is. */
function meanOver(
  lists: readonly (readonly [blocks: Float64Array, power: number])[],
  threshold: number,
): number {
  let sum = 0;
  let count = 0;
  for (const [blocks, power] of lists) {
    const limit = threshold / power;
    let listSum = 0;
    for (let j = 0; j < blocks.length; j++) {
      const z = blocks[j]!;
      if (z > limit) {
        listSum += z;
        count++;
      }
    }
    sum += listSum * power;
  }
  return count > 0 ? sum / count : 0;
}

/**
 * Gated loudness of several lists of gating blocks taken together, each after a gain of its own.
 * @param lists mean squares of the blocks (see `gatingBlocks`) and the power ratio of the gain on them
 * Source: ITU-R BS.1770-5, Annex 1, eqs. 4–7.
 */
export function integratedOfAll(
  lists: readonly (readonly [blocks: Float64Array, power: number])[],
): Integrated {
  const firstPass = meanOver(lists, ABSOLUTE_GATE);
  const relative = firstPass * RELATIVE_GATE;
  return {
    integratedLufs: meanSquareToLufs(firstPass > 0 ? meanOver(lists, Math.max(relative, ABSOLUTE_GATE)) : 0),
    relativeGateLufs: meanSquareToLufs(relative),
  };
}

/** Gated loudness of one list of gating blocks, after a gain given as power ratio. */
export function integrated(blocks: Float64Array, power = 1): Integrated {
  return integratedOfAll([[blocks, power]]);
}
