import { wrap, type Remote } from 'comlink';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import type { ClipShare } from '@/core/measuring/measureEach';
import type { RangeMeasurement } from '@/core/measuring/measureRange';
import type { PartSums } from '@/core/measuring/measureParts';
import type { Moving } from '@/core/measuring/moving';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { Pool } from '@/core/parallel/pool';
import type { Id, Project } from '@/core/programme/model';
import type { Outcome, RangeApi } from './protocol';
import { mostWorkers, poolOf, settled, type PageWorker } from './workers';

interface RangeWorker extends PageWorker<RangeApi> {
  /** The programme it has been given. */
  project: Project | null;
}

/** Workers that render and measure ranges of one programme; they end with the worker that hired them. */
export class RangePool {
  private readonly audio = new Map<string, Blob>();
  private readonly pool: Pool<RangeWorker> = poolOf<RangeWorker>(() => {
    const worker = new Worker(new URL('./range.worker.ts', import.meta.url), { type: 'module' });
    const hired = { worker, api: wrap<RangeApi>(worker), project: null };
    for (const [audioKey, blob] of this.audio) void hired.api.putAudio(audioKey, blob);
    return hired;
  });
  /** Workers at most. */
  readonly size = mostWorkers();

  putAudio(audioKey: string, blob: Blob): void {
    this.audio.set(audioKey, blob);
    for (const { api } of this.pool.all) void api.putAudio(audioKey, blob);
  }

  /** @param group of work: 0 as a rule, 1 for what goes after everything else */
  measureRange(project: Project, range: SubBlockRange, group: 0 | 1 = 0): Promise<Outcome<RangeMeasurement>> {
    return this.submit(group, project, (api) => api.measureRange(range));
  }

  /** @param group of work: `null` before everything else, as something is about to be dragged; 1 after it */
  measureMoving(
    project: Project,
    moving: Moving,
    range: SubBlockRange,
    group: null | 1 = null,
  ): Promise<Outcome<MovingSums>> {
    return this.submit(group, project, (api) => api.measureMoving(moving, range));
  }

  /** Goes after everything else, a little at a time. */
  measureParts(project: Project, range: SubBlockRange): Promise<Outcome<PartSums>> {
    return this.submit(1, project, (api) => api.measureParts(range));
  }

  /** Goes after everything else. */
  measureEach(project: Project, range: SubBlockRange): Promise<Outcome<ReadonlyMap<Id, ClipShare>>> {
    return this.submit(1, project, (api) => api.measureEach(range));
  }

  private submit<T>(
    group: number | null,
    project: Project,
    start: (api: Remote<RangeApi>) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    return settled(
      this.pool.run<Outcome<T>>({
        group,
        start: (hired) => {
          // A programme of thousands of clips is sent once, not with every piece of work.
          if (hired.project !== project) {
            hired.project = project;
            void hired.api.take(project);
          }
          return start(hired.api);
        },
      }),
    );
  }
}
