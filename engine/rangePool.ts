import { wrap, type Remote } from 'comlink';
import type { Moving } from '@/core/measuring/moving';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { Project } from '@/core/programme/model';
import { FairQueue } from '@/core/parallel/fairQueue';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import type { RangeMeasurement } from '@/core/measuring/measureRange';
import type { ShareSums } from '@/core/measuring/measureShares';
import { mostWorkers } from './mostWorkers';
import type { Outcome, RangeApi } from './protocol';

interface Hand {
  readonly api: Remote<RangeApi>;
  /** The programme it has been given. */
  project: Project | null;
}

/** Workers that render and measure ranges of one programme; they end with the worker that hired them. */
export class RangePool {
  private readonly hands: Hand[] = [];
  private readonly idle: Hand[] = [];
  private readonly queue = new FairQueue<Hand>();
  private readonly audio = new Map<string, Blob>();
  readonly size = mostWorkers();

  putAudio(audioKey: string, blob: Blob): void {
    this.audio.set(audioKey, blob);
    for (const { api } of this.hands) void api.putAudio(audioKey, blob);
  }

  measureRange(project: Project, range: SubBlockRange): Promise<Outcome<RangeMeasurement>> {
    return this.submit(0, project, (api) => api.measureRange(range));
  }

  /** Goes before everything else: a hand is about to move. */
  measureMoving(project: Project, moving: Moving, range: SubBlockRange): Promise<Outcome<MovingSums>> {
    return this.submit(null, project, (api) => api.measureMoving(moving, range));
  }

  /** Goes after everything else, a little at a time. */
  measureShares(project: Project, weights: Float64Array, range: SubBlockRange): Promise<Outcome<ShareSums>> {
    return this.submit(1, project, (api) => api.measureShares(weights, range));
  }

  private submit<T>(
    group: number | null,
    project: Project,
    start: (api: Remote<RangeApi>) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    return new Promise((resolve, reject) => {
      const run = async (hand: Hand): Promise<void> => {
        try {
          // A programme of thousands of clips is sent once, not with every piece of work.
          if (hand.project !== project) {
            hand.project = project;
            void hand.api.take(project);
          }
          resolve(await start(hand.api));
        } catch (error) {
          reject(error as Error);
        }
      };
      this.queue.add(group, { run });
      this.next();
    });
  }

  private next(): void {
    if (this.queue.isEmpty) return;
    const hand = this.idle.pop() ?? this.hire();
    if (!hand) return;
    void this.queue
      .take()!
      .run(hand)
      .finally(() => {
        this.idle.push(hand);
        this.next();
      });
  }

  private hire(): Hand | null {
    if (this.hands.length >= this.size) return null;
    const worker = new Worker(new URL('./range.worker.ts', import.meta.url), { type: 'module' });
    const hand: Hand = { api: wrap<RangeApi>(worker), project: null };
    for (const [audioKey, blob] of this.audio) void hand.api.putAudio(audioKey, blob);
    this.hands.push(hand);
    return hand;
  }
}
