import { HOP_SUB_BLOCKS, MOMENTARY_SUB_BLOCKS, SHORT_TERM_SUB_BLOCKS, subBlockStart } from './subBlocks';

/**
 * Sums over every full window of `width` values, one value apart: out[k] = Σ values[k..k+width).
 * Prefix and suffix sums within slices of one width (so nothing is ever subtracted): a quiet passage after a
 * loud one keeps its full precision, which a running sum would lose.
 */
export function slidingSums(values: Float64Array, width: number): Float64Array {
  const count = values.length - width + 1;
  if (count <= 0) return new Float64Array(0);
  const out = new Float64Array(count);
  const suffix = new Float64Array(width);
  for (let slice = 0; slice < count; slice += width) {
    let sum = 0;
    for (let i = width - 1; i >= 0; i--) {
      sum += values[slice + i]!;
      suffix[i] = sum;
    }
    let prefix = 0;
    const end = Math.min(width, count - slice);
    for (let i = 0; i < end; i++) {
      out[slice + i] = suffix[i]! + prefix;
      prefix += values[slice + width + i] ?? 0;
    }
  }
  return out;
}

/** Sums over so many values each, those that are complete. */
function sumsOf(values: Float64Array, hop: number): Float64Array {
  const out = new Float64Array(Math.floor(values.length / hop));
  for (let j = 0, i = 0; j < out.length; j++) {
    let sum = 0;
    for (const end = i + hop; i < end; i++) sum += values[i]!;
    out[j] = sum;
  }
  return out;
}

/** Mean squares of the windows that begin at every `hop`-th sub-block. @param width sub-blocks, a multiple of `hop` */
function windowMeans(energy: Float64Array, sampleRate: number, width: number, hop: number): Float64Array {
  const means = slidingSums(hop === 1 ? energy : sumsOf(energy, hop), width / hop);
  for (let j = 0; j < means.length; j++) {
    const k = j * hop;
    means[j]! /= subBlockStart(k + width, sampleRate) - subBlockStart(k, sampleRate);
  }
  return means;
}

/**
 * Weighted mean squares of the gating blocks: 400 ms, one every 100 ms, complete ones only.
 * Source: ITU-R BS.1770-5, Annex 1, eq. 3.
 */
export function gatingBlocks(energy: Float64Array, sampleRate: number): Float64Array {
  return windowMeans(energy, sampleRate, MOMENTARY_SUB_BLOCKS, HOP_SUB_BLOCKS);
}

/** Weighted mean squares of each 100 ms, complete ones only: of them all windows are made that begin on one. */
export function hopMeans(energy: Float64Array, sampleRate: number): Float64Array {
  return windowMeans(energy, sampleRate, HOP_SUB_BLOCKS, HOP_SUB_BLOCKS);
}

/** Weighted mean squares of the momentary windows: 400 ms, one every 20 ms. Source: EBU Tech 3341. */
export function momentaryWindows(energy: Float64Array, sampleRate: number): Float64Array {
  return windowMeans(energy, sampleRate, MOMENTARY_SUB_BLOCKS, 1);
}

/** Weighted mean squares of the short-term windows: 3 s, one every 20 ms. Source: EBU Tech 3341. */
export function shortTermWindows(energy: Float64Array, sampleRate: number): Float64Array {
  return windowMeans(energy, sampleRate, SHORT_TERM_SUB_BLOCKS, 1);
}

/** Every fifth of the values: a 20 ms series at a 100 ms hop. */
export function everyHop(series: Float64Array): Float64Array {
  const out = new Float64Array(Math.ceil(series.length / HOP_SUB_BLOCKS));
  for (let j = 0; j < out.length; j++) out[j] = series[j * HOP_SUB_BLOCKS]!;
  return out;
}
