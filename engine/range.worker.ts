import { expose, transfer } from 'comlink';
import type { Moving } from '@/core/measuring/moving';
import { sumsArrays, type MovingSums } from '@/core/measuring/movingSums';
import type { Project } from '@/core/programme/model';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import { measureMoving } from '@/core/measuring/measureMoving';
import { measureShares, type ShareSums } from '@/core/measuring/measureShares';
import { measureRange, type RangeMeasurement } from '@/core/measuring/measureRange';
import { AudioShelf } from './audioShelf';
import { buffersOf } from './buffers';
import { toFailure, type Failure } from './failure';

/** What became of a piece of work. */
export type Worked<T> = { readonly ok: T } | { readonly failure: Failure };

const shelf = new AudioShelf();
let project: Project | null = null;

/** Pieces are short: they are given up before they are handed out, not while they run. */
const always = (): boolean => true;

/** @param buffers what of the result is handed over rather than copied */
async function worked<T>(
  work: () => Promise<T | null>,
  buffers: (result: T) => ArrayBuffer[],
): Promise<Worked<T>> {
  try {
    const ok = (await work())!;
    return transfer({ ok }, buffers(ok));
  } catch (error) {
    return { failure: toFailure(error) };
  }
}

const api = {
  putAudio(audioKey: string, blob: Blob): void {
    shelf.put(audioKey, blob);
  },

  /** The programme that is worked on from now on. */
  take(next: Project): void {
    project = next;
  },

  measureRange(range: SubBlockRange): Promise<Worked<RangeMeasurement>> {
    const of = project!;
    return worked(
      () => measureRange(of, range, shelf.open, always),
      ({ energy, samplePeak, truePeak }) => buffersOf([...energy, ...samplePeak, ...truePeak]),
    );
  },

  /** See `measureMoving`. */
  measureMoving(moving: Moving, range: SubBlockRange): Promise<Worked<MovingSums>> {
    const of = project!;
    return worked(
      () => measureMoving(of, moving, range, shelf.open, always),
      (sums) => buffersOf(sumsArrays(sums)),
    );
  },

  /** See `measureShares`. */
  measureShares(weights: Float64Array, range: SubBlockRange): Promise<Worked<ShareSums>> {
    const of = project!;
    return worked(
      () => measureShares(of, weights, range, shelf.open, always),
      () => [],
    );
  },
};

export type RangeApi = typeof api;
expose(api);
