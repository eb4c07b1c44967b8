import { resampleByKernel, type PhaseTable } from '@/core/kernels/resample';
import { besselI0 } from './bessel';

/**
 * Band-limited change of sample rate by a windowed sinc (Kaiser window, β 10.06: stop-band about −100 dB). The
 * pass-band reaches 0.45 of the lower of the two rates; everything from 0.5 on is stopped. Every output sample depends on its own
 * place only, so that any range can be made by itself and fits its neighbours to the bit.
 * Source: A. V. Oppenheim, R. W. Schafer, Discrete-Time Signal Processing, ch. 7.5 (Kaiser window).
 */
const HALF_TAPS = 64;
const BETA = 10.06;
/** Middle of the transition band, as part of the lower rate. */
const CUT_OFF = 0.475;
/** Most phases kept as a table; beyond it neighbouring phases are interpolated (error under −120 dB). */
const MAX_PHASES = 4096;

function greatestCommonDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestCommonDivisor(b, a % b);
}

/** The sum of products of so many values of two arrays. */
function product(a: Float32Array, from: number, b: Float32Array, at: number, count: number): number {
  let sum = 0;
  for (let k = 0; k < count; k++) sum += a[from + k]! * b[at + k]!;
  return sum;
}

/** Converts between two fixed rates. */
export class RateConverter {
  private readonly up: number;
  private readonly down: number;
  /** Input samples looked at on each side of a place. */
  readonly reach: number;
  private readonly phases: number;
  private readonly table: PhaseTable;

  /** @param from Hz; @param to Hz; both whole numbers @param halfTaps input samples on each side at equal rates */
  constructor(from: number, to: number, halfTaps = HALF_TAPS) {
    const divisor = greatestCommonDivisor(from, to);
    this.up = to / divisor;
    this.down = from / divisor;
    const lower = Math.min(1, to / from);
    this.reach = Math.ceil(halfTaps / lower);
    this.phases = Math.min(this.up, MAX_PHASES);
    this.table = { taps: 2 * this.reach, weights: this.makeTable(lower, 2 * this.reach) };
  }

  private makeTable(lower: number, taps: number): Float32Array {
    const { phases, reach } = this;
    const table = new Float32Array((phases + 1) * taps);
    const peak = besselI0(BETA);
    for (let phase = 0; phase <= phases; phase++) {
      const row: number[] = [];
      for (let tap = 0; tap < taps; tap++) {
        // Tap t looks at input sample floor(place) − reach + 1 + t; its distance from the place:
        const distance = tap - reach + 1 - phase / phases;
        const x = 2 * CUT_OFF * lower * distance;
        const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
        const edge = distance / reach;
        const window = Math.abs(edge) >= 1 ? 0 : besselI0(BETA * Math.sqrt(1 - edge * edge)) / peak;
        row.push(sinc * window);
      }
      const sum = row.reduce((a, b) => a + b, 0);
      row.forEach((value, tap) => (table[phase * taps + tap] = value / sum));
    }
    return table;
  }

  /** The first input frame needed for output frames from `outStart` on. */
  inputStart(outStart: number): number {
    return Math.floor((outStart * this.down) / this.up) - this.reach + 1;
  }

  /** How many input frames are needed from {@link inputStart} on for `count` output frames. */
  inputCount(outStart: number, count: number): number {
    if (count === 0) return 0;
    const last = Math.floor(((outStart + count - 1) * this.down) / this.up) + this.reach;
    return last - this.inputStart(outStart) + 1;
  }

  /** Output frames for an input of so many frames. */
  outputLength(inputFrames: number): number {
    return Math.ceil((inputFrames * this.up) / this.down);
  }

  /**
   * Makes output frames [outStart, outStart + count).
   * @param input frames from {@link inputStart}, as many as {@link inputCount} says
   * @param kernel `false`: in plain arithmetic, which the other agrees with to −120 dB
   */
  convert(input: Float32Array, outStart: number, count: number, kernel = true): Float32Array {
    const { up, down, phases, table } = this;
    const { taps, weights } = table;
    const out = new Float32Array(count);
    const base = this.inputStart(outStart) + this.reach - 1;
    const exact = up === phases;
    if (kernel && exact && count > 0) {
      const start = Math.floor((outStart * down) / up);
      const phase = { up, down, part: outStart * down - start * up };
      if (resampleByKernel(input.subarray(start - base), table, phase, out)) return out;
    }
    for (let i = 0; i < count; i++) {
      const place = (outStart + i) * down;
      const whole = Math.floor(place / up);
      const part = place - whole * up;
      const from = whole - base;
      const phase = exact ? part : (part * phases) / up;
      const row = Math.floor(phase);
      const blend = phase - row;
      const at = row * taps;
      const sum = product(input, from, weights, at, taps);
      out[i] = blend === 0 ? sum : sum + (product(input, from, weights, at + taps, taps) - sum) * blend;
    }
    return out;
  }
}

const converters = new Map<string, RateConverter>();

/** For what is only looked at: a quarter of the work, with a wider edge (about 0.4 to 0.55 of the lower rate). */
const ROUGH_HALF_TAPS = 16;

/** The converter between two rates, made once. @param rough for what nobody hears */
export function rateConverter(from: number, to: number, rough = false): RateConverter {
  const key = `${from}>${to}${rough ? ' rough' : ''}`;
  let converter = converters.get(key);
  if (!converter) {
    converter = new RateConverter(from, to, rough ? ROUGH_HALF_TAPS : HALF_TAPS);
    converters.set(key, converter);
  }
  return converter;
}
