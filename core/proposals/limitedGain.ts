import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import type { Limiter } from '@/core/programme/model';
import {
  countWork,
  limitedReader,
  type LimiterWork,
  type ReadSound,
} from '@/core/signal/limiter/limitedReader';
import { limiterTiming } from '@/core/signal/limiter/timing';

/** The gain that brings a sound to a loudness with a limiter behind it. */
export interface LimitedGain {
  /** dB, before the limiter. */
  readonly gainDb: number;
  /** What it then measures, behind the limiter. */
  readonly after: LoudnessFigures;
  readonly work: LimiterWork;
  /** The limiter takes away what more gain gives: this is as loud as it gets. */
  readonly fallsShort: boolean;
}

/** What comes of a gain; `null` when stopped. @param onDone told the part done, 0 to 1 */
export type LimitedAt = (
  gainDb: number,
  onDone: (done: number) => boolean | Promise<boolean>,
) => Promise<Pick<LimitedGain, 'after' | 'work'> | null>;

/** It is there when it is this close, LU. */
const CLOSE_LU = 0.004;
/** No gain beyond this is tried over what would be needed without the limiter, dB. */
const MOST_MORE_DB = 24;
const MOST_PASSES = 10;
/** Read at a time, seconds. */
const PIECE_SECONDS = 8;

/**
 * Measures a sound with a gain and a limiter behind it.
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @returns `null` when stopped
 */
export async function measureLimited(
  reader: ReadSound,
  limiter: Limiter,
  gainDb: number,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<Pick<LimitedGain, 'after' | 'work'> | null> {
  const { layout, sampleRate, frames } = reader.format;
  const counter = countWork(sampleRate, frames);
  const through = limitedReader(reader, { ...limiter, inputDb: gainDb }, counter.told);
  const meter = new LoudnessMeter(layout, sampleRate);
  const piece = PIECE_SECONDS * sampleRate;
  try {
    for (let start = 0; start < frames; start += piece) {
      const count = Math.min(piece, frames - start);
      meter.push(await through.read(start, count));
      if (!(await proceed((start + count) / frames))) return null;
    }
    return {
      after: figuresOf(meter.finish()),
      work: counter.work(limiterTiming(limiter, sampleRate).block),
    };
  } finally {
    meter.release();
  }
}

/**
 * Finds the gain that brings a sound to an integrated loudness with a limiter behind it, ±0.01 LU.
 *
 * More gain never makes it quieter, so it is closed in on from both sides: by the secant where that lies between, else by
 * halves.
 * @param startDb what it would be without the limiter, dB
 * @param mostDb the largest that can be given
 * @returns `null` when stopped, or when there is nothing to measure
 */
export async function solveLimited(
  at: LimitedAt,
  goalLufs: number,
  startDb: number,
  mostDb: number,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<LimitedGain | null> {
  const most = Math.min(mostDb, startDb + MOST_MORE_DB);
  let low: { db: number; off: number } | null = null;
  let high: { db: number; off: number } | null = null;
  let best: (LimitedGain & { readonly off: number }) | null = null;
  let db = Math.min(startDb, most);
  for (let pass = 0; pass < MOST_PASSES; pass++) {
    const measured = await at(db, (done) => proceed((pass + done) / (pass + done + 1.5)));
    if (!measured || measured.after.integratedLufs === null) return null;
    const off = measured.after.integratedLufs - goalLufs;
    if (!best || Math.abs(off) < Math.abs(best.off))
      best = { ...measured, gainDb: db, off, fallsShort: false };
    if (Math.abs(off) <= CLOSE_LU) break;
    if (off < 0) low = { db, off };
    else high = { db, off };
    if (off < 0 && db >= most) break;
    db = next(low, high, db, off, most);
  }
  const { off, ...found } = best!;
  return { ...found, fallsShort: off < -0.05 };
}

/** The gain to try after these. */
function next(
  low: { readonly db: number; readonly off: number } | null,
  high: { readonly db: number; readonly off: number } | null,
  db: number,
  off: number,
  most: number,
): number {
  // Behind a limiter a step does less than it says.
  if (!low || !high) return Math.min(most, db - off * (off < 0 ? 1.5 : 1));
  const across = low.db - (low.off * (high.db - low.db)) / (high.off - low.off);
  const width = high.db - low.db;
  return Math.min(high.db - 0.05 * width, Math.max(low.db + 0.05 * width, across));
}
