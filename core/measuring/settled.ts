import { subBlockStart, SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { programmeFrames, type Project } from '@/core/programme/model';
import { settlingFrames, type SubBlockRange } from './dirtyRanges';

/** One sound or several over the same frames: for each, one array per channel. */
export type Sounds = readonly (readonly Float32Array[])[];

/** Some sub-blocks of a programme. */
export interface SubBlocks {
  /** First sub-block, and after the last. */
  readonly from: number;
  readonly to: number;
  /** First frame, and how many there are. */
  readonly start: number;
  readonly frames: number;
  /** Where its blocks of `step` sub-blocks end, frames from its start. */
  ends(step: number): number[];
}

/** Goes through a range of a programme and measures something of it. */
export interface Visitor<T> {
  /** How many whole seconds it is given at a time; one where left out. */
  readonly atATime?: number;
  /** Renders what it listens to, frames [start, start + count) of the programme. */
  render(start: number, count: number): Promise<Sounds>;
  /** Is given what comes before the range, for its filters to settle on. */
  settle(sounds: Sounds, frames: number): void;
  /** Is given the range, piece by piece. */
  take(sounds: Sounds, part: SubBlocks): void;
  /** The programme ends here: what rings on past its end belongs to its last block. */
  ringOut?(): void;
  /** What was measured. */
  finish(): T;
  /** Gives back what it holds, whatever happened. */
  release(): void;
}

const within = (sounds: Sounds, from: number, to: number): Sounds =>
  sounds.map((channels) => channels.map((samples) => samples.subarray(from, to)));

/**
 * Leads a visitor through a range of the programme, after its filters have settled on what comes before.
 * @param range in whole peak blocks, or to the programme's end
 * @param proceed asked between pieces of a second with the sub-blocks done; `false` stops
 * @returns what was measured; `null` when stopped
 */
export async function visitSettled<T>(
  project: Project,
  range: SubBlockRange,
  visitor: Visitor<T>,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<T | null> {
  const { sampleRate } = project;
  const end = programmeFrames(project);
  const at = (k: number): number => Math.min(subBlockStart(k, sampleRate), end);
  try {
    // Rendered along with the first piece, as stations may need much before each.
    let settling = Math.min(at(range.from), settlingFrames(sampleRate));
    for (let k = range.from; k < range.to;) {
      const next = Math.min(range.to, k + (visitor.atATime ?? 1) * SUB_BLOCKS_PER_SECOND);
      const from = k;
      const [start, frames] = [at(from), at(next) - at(from)];
      const ends = (step: number): number[] =>
        Array.from(
          { length: Math.ceil((next - from) / step) },
          (_, i) => at(Math.min(next, from + (i + 1) * step)) - start,
        );
      const sounds = await visitor.render(start - settling, settling + frames);
      if (settling > 0) visitor.settle(within(sounds, 0, settling), settling);
      visitor.take(within(sounds, settling, settling + frames), { from, to: next, start, frames, ends });
      settling = 0;
      k = next;
      if (k < range.to && !(await proceed(k - range.from))) return null;
    }
    if (at(range.to) === end) visitor.ringOut?.();
    return visitor.finish();
  } finally {
    visitor.release();
  }
}
