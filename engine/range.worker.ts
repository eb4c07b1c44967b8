import { expose, transfer } from 'comlink';
import type { MovingSums } from '@/core/loudness/movingSums';
import type { Id, Project } from '@/core/programme/model';
import type { SubBlockRange } from '@/core/render/dirtyRanges';
import { measureMoving } from '@/core/render/measureMoving';
import { measureShares, type ShareSums } from '@/core/render/measureShares';
import { measureRange, type RangeMeasurement } from '@/core/render/measureRange';
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
  measureMoving(moving: ReadonlySet<Id>, range: SubBlockRange): Promise<Worked<MovingSums>> {
    const of = project!;
    return worked(
      () => measureMoving(of, moving, range, shelf.open, always),
      ({ restRest, restMoving, movingMoving, restTruePeak, movingTruePeak }) =>
        buffersOf([restRest, restMoving, movingMoving, ...restTruePeak, ...movingTruePeak]),
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
