import { ABSOLUTE_GATE_LUFS, integrated } from './gating';
import { lufsToMeanSquare } from './decibels';
import { HOP_SUB_BLOCKS, MOMENTARY_SUB_BLOCKS, subBlockStart } from './subBlocks';
import { gatingBlocks } from './windows';

/**
 * How much each sub-block's energy counts towards the integrated loudness: the number of gating blocks over both gates
 * that hold it, each divided by its frames. Σ weight·energy over the sum of the blocks is the gated mean square.
 * Source: ITU-R BS.1770-5, Annex 1, eqs. 4–7.
 * @param energy see `weightedEnergy`
 */
export function gatedWeights(energy: Float64Array, sampleRate: number): Float64Array {
  const weights = new Float64Array(energy.length);
  const blocks = gatingBlocks(energy, sampleRate);
  const { relativeGateLufs } = integrated(blocks);
  if (relativeGateLufs === null) return weights;
  const gate = lufsToMeanSquare(Math.max(ABSOLUTE_GATE_LUFS, relativeGateLufs));
  blocks.forEach((z, j) => {
    if (!(z > gate)) return;
    const from = j * HOP_SUB_BLOCKS;
    const to = from + MOMENTARY_SUB_BLOCKS;
    const weight = 1 / (subBlockStart(to, sampleRate) - subBlockStart(from, sampleRate));
    for (let k = from; k < to; k++) weights[k]! += weight;
  });
  return weights;
}
