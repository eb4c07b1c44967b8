import type { AudioFormat, AudioReader } from '@/core/audio/reader';
import type { Limiter } from '@/core/programme/model';
import { finishedSamples, pieceOf } from '../piece';
import type { Reduction, ReductionTold } from '../station';
import { limited, limitedTogether } from './station';
import { limiterTiming } from './timing';

/** What of a sound is asked for here. */
export interface ReadSound extends Pick<AudioReader, 'read'> {
  readonly format: Pick<AudioFormat, 'layout' | 'sampleRate' | 'frames'>;
}

/**
 * A sound through a limiter. It is best read in pieces of some seconds: each needs a second or so before it.
 * @param told by how much it went down, piece by piece
 */
export function limitedReader(reader: ReadSound, limiter: Limiter, told?: ReductionTold): ReadSound {
  const { sampleRate, layout } = reader.format;
  const { before, after } = limiterTiming(limiter, sampleRate);
  const place = { limiter, sampleRate, layoutId: layout.id };
  return {
    format: reader.format,
    async read(start, count) {
      if (limiter.bypassed) return reader.read(start, count);
      const samples = await reader.read(start - before, before + count + after);
      return [...finishedSamples(limited(pieceOf(samples), place, start - before, told))];
    },
  };
}

/** A stem of a mix as it is with a limiter on the mix: it goes down by as much. @param mix of the same format */
export function limitedStem(stem: ReadSound, mix: ReadSound, limiter: Limiter): ReadSound {
  const { sampleRate, layout } = stem.format;
  const { before, after } = limiterTiming(limiter, sampleRate);
  const place = { limiter, sampleRate, layoutId: layout.id };
  return {
    format: stem.format,
    async read(start, count) {
      if (limiter.bypassed) return stem.read(start, count);
      const span = [start - before, before + count + after] as const;
      const pieces = [pieceOf(await mix.read(...span)), pieceOf(await stem.read(...span))];
      return [...finishedSamples(limitedTogether(pieces, place, span[0])[1]!)];
    },
  };
}

/** Reduction under this is not counted as work, dB. */
const AT_WORK_DB = 0.1;

/** How hard a limiter worked. */
export interface LimiterWork {
  /** The most it went down, dB; 0 where it had nothing to do. */
  readonly maxReductionDb: number;
  /** Where that is, seconds; `null` where it had nothing to do. */
  readonly maxAt: number | null;
  /** For how long it went down by 0.1 dB or more. */
  readonly workingSeconds: number;
}

/** Adds up what a limiter tells of itself. @param frames of the whole: what lies outside is not counted */
export function countWork(sampleRate: number, frames: number) {
  let maxReductionDb = 0;
  let maxAt: number | null = null;
  let working = 0;
  /** Pieces overlap by a block. */
  let counted = -Infinity;
  return {
    told({ from, block, db }: Reduction): void {
      db.forEach((value, k) => {
        const at = from + k * block;
        if (at <= counted || at + block <= 0 || at >= frames) return;
        counted = at;
        if (value >= AT_WORK_DB) working++;
        if (value <= maxReductionDb) return;
        maxReductionDb = value;
        maxAt = Math.max(0, at) / sampleRate;
      });
    },
    work: (block: number): LimiterWork => ({
      maxReductionDb,
      maxAt,
      workingSeconds: (working * block) / sampleRate,
    }),
  };
}
