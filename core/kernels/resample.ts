import { aligned, giveInstance, growTo, moduleOrNull, takeInstance } from './wasmModule';

/** Weights of the samples around a place, one row per phase. */
export interface PhaseTable {
  /** In a row: an even number. */
  readonly taps: number;
  /** (up + 1) · taps values. */
  readonly weights: Float32Array;
}

/** The two rates, as whole numbers without a common divisor, and where the first sample lies, in 1/up of a sample. */
export interface Phases {
  readonly up: number;
  readonly down: number;
  readonly part: number;
}

/** In rows of a multiple of four. */
const padded = new WeakMap<PhaseTable, Float32Array>();

function paddedRows(table: PhaseTable, row: number, up: number): Float32Array {
  const known = padded.get(table);
  if (known) return known;
  const rows = new Float32Array(row * up);
  for (let phase = 0; phase < up; phase++)
    rows.set(table.weights.subarray(phase * table.taps, (phase + 1) * table.taps), phase * row);
  padded.set(table, rows);
  return rows;
}

/**
 * Samples at another rate, in WebAssembly.
 * @param input from the first sample that the first of them looks at
 * @param out how many are asked for; in single precision
 * @returns whether it was done: not where WebAssembly has no vectors
 */
export function resampleByKernel(
  input: Float32Array,
  table: PhaseTable,
  { up, down, part }: Phases,
  out: Float32Array,
): boolean {
  const compiled = moduleOrNull();
  if (!compiled) return false;
  const row = Math.ceil(table.taps / 4) * 4;
  const rows = paddedRows(table, row, up);
  const e = takeInstance(compiled);
  const weights = aligned(e.heapBase());
  const src = aligned(weights + 4 * rows.length);
  const to = aligned(src + 4 * (input.length + 8));
  growTo(e, to + 4 * out.length);
  const f32 = new Float32Array(e.memory.buffer);
  f32.set(rows, weights / 4);
  f32.set(input, src / 4);
  f32.fill(0, src / 4 + input.length, src / 4 + input.length + 8);
  e.resample(src, weights, row, up, down, part, out.length, to);
  out.set(f32.subarray(to / 4, to / 4 + out.length));
  giveInstance(e);
  return true;
}
