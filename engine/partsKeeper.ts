import { contributionsOf, type Contributions } from '@/core/measuring/contributions';
import { KeptParts, type JoinedParts } from '@/core/measuring/keptParts';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { dialogueRanges } from '@/core/programme/dialogue';
import type { Project } from '@/core/programme/model';
import { eachPiece } from './pieces';
import type { OnProgress } from './protocol';
import type { RangePool } from './rangePool';

/** Measures the parts of the programme with workers that have nothing else to do, and keeps what still holds. */
export class PartsKeeper {
  private readonly kept = new KeptParts();
  /** They are taken by one at a time. */
  private measuring: Promise<unknown> = Promise.resolve();
  private joined: JoinedParts | null = null;
  private turn = 0;

  constructor(private readonly pool: RangePool) {}

  stop(): void {
    this.turn++;
  }

  /** @returns whether all of it is measured */
  private async measure(project: Project, wanted: () => boolean, onProgress: OnProgress): Promise<boolean> {
    const ranges = this.kept.update(project);
    if (ranges.length === 0 && this.joined) return true;
    this.joined = null;
    const of = this.kept.project;
    const done = await eachPiece(
      ranges,
      this.pool.size,
      wanted,
      async (range) => {
        const outcome = await this.pool.measureParts(of, range);
        if ('ok' in outcome) this.kept.put(outcome.ok);
        return outcome;
      },
      onProgress,
    );
    if (done) this.joined = this.kept.joined;
    return done !== null;
  }

  /**
   * @param range seconds; all of it where `null`
   * @returns `null` when given up
   */
  async contributions(
    project: Project,
    range: TimeRange | null,
    stands: () => boolean,
    onProgress: OnProgress,
  ): Promise<Contributions | null> {
    const { turn } = this;
    const wanted = (): boolean => turn === this.turn && stands();
    const run = this.measuring.then(async () => {
      if (!wanted() || !(await this.measure(project, wanted, onProgress))) return null;
      return contributionsOf(this.joined!, project.sampleRate, range, dialogueRanges(project));
    });
    this.measuring = run.catch(() => undefined);
    return run;
  }
}
