import {
  completeSubBlocks,
  PEAK_SUB_BLOCKS,
  subBlockCount,
  SUB_BLOCKS_PER_SECOND,
} from '@/core/loudness/subBlocks';
import { programmeFrames, type Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { areAlike, soundDifferences } from '@/core/signal/differences';
import { touchedBlocks, type SubBlockRange } from './dirtyRanges';
import type { PartEnergies, PartSums } from './measureParts';
import { samePartition } from './parts';

/** Sub-blocks of a piece, which is measured as one. */
const PIECE = 20 * SUB_BLOCKS_PER_SECOND;
const PIECE_HOPS = PIECE / PEAK_SUB_BLOCKS;

/** What a part brings from one 100 ms on; before and after it is silent. */
export interface PartOver extends PartEnergies {
  readonly from: number;
}

/** The parts of all of a programme. */
export interface JoinedParts {
  /** Weighted energy of every complete 100 ms. */
  readonly whole: Float64Array;
  readonly parts: ReadonlyMap<string, PartOver>;
}

/** The parts of a programme by themselves and against the whole, before limiters, kept up to date piece by piece. */
export class KeptParts {
  private of: Project | null = null;
  private pieces: (PartSums | null)[] = [];

  /** Takes over a state of the programme. @returns the ranges that have to be measured, in whole pieces */
  update(project: Project): readonly SubBlockRange[] {
    const linear = withoutLimiters(project);
    const { of } = this;
    const frames = programmeFrames(linear);
    const count = subBlockCount(frames, linear.sampleRate);
    const alike =
      of !== null && areAlike(of, linear) && programmeFrames(of) === frames && samePartition(of, linear);
    if (!alike) this.pieces = Array.from({ length: Math.ceil(count / PIECE) }, () => null);
    else
      for (const span of soundDifferences(of, linear)) {
        const { from, to } = touchedBlocks(span, linear.sampleRate, frames);
        for (let k = Math.floor(from / PIECE); k * PIECE < to; k++) this.pieces[k] = null;
      }
    this.of = linear;
    return this.pieces.flatMap((piece, k) =>
      piece ? [] : [{ from: k * PIECE, to: Math.min(count, (k + 1) * PIECE) }],
    );
  }

  /** The state to be measured. */
  get project(): Project {
    return this.of!;
  }

  put(sums: PartSums): void {
    this.pieces[(sums.from * PEAK_SUB_BLOCKS) / PIECE] = sums;
  }

  /** All of the programme, once nothing is left to be measured: every complete 100 ms of it. */
  get joined(): JoinedParts {
    const complete = completeSubBlocks(programmeFrames(this.of!), this.of!.sampleRate);
    const length = Math.floor(complete / PEAK_SUB_BLOCKS);
    const whole = new Float64Array(length);
    const ends = new Map<string, { from: number; to: number }>();
    for (const { from, whole: sums, parts } of this.pieces as PartSums[]) {
      const to = Math.min(length, from + sums.length);
      whole.set(sums.subarray(0, to - from), from);
      for (const key of parts.keys()) ends.set(key, { from: ends.get(key)?.from ?? from, to });
    }
    const parts = new Map<string, PartOver>();
    for (const [key, { from, to }] of ends) {
      const over = { from, cross: new Float64Array(to - from), own: new Float64Array(to - from) };
      for (const piece of this.pieces.slice(Math.floor(from / PIECE_HOPS), Math.ceil(to / PIECE_HOPS))) {
        const found = piece!.parts.get(key);
        if (!found) continue;
        const end = Math.min(to, piece!.from + piece!.whole.length) - piece!.from;
        over.cross.set(found.cross.subarray(0, end), piece!.from - from);
        over.own.set(found.own.subarray(0, end), piece!.from - from);
      }
      parts.set(key, over);
    }
    return { whole, parts };
  }
}
