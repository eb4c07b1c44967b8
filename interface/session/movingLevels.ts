import { MovingFigures, type ProgrammeLevels } from '@/core/loudness/movingFigures';
import type { MovingSums } from '@/core/loudness/movingSums';
import type { Id, Project } from '@/core/programme/model';
import type { Outcome } from '@/engine/measure.worker';

/** So long a choice must stand before its sums are taken, ms: walking through clips by key starts nothing. */
const SETTLE_MS = 120;

/**
 * Keeps ready what gives the programme's figures while the gain of the chosen clips moves: taken when clips are chosen,
 * before a hand touches them.
 */
export class MovingLevels {
  private project: Project | null = null;
  private ids: ReadonlySet<Id> = new Set();
  private ready: MovingFigures | null = null;
  /** The sums are being taken, or have been. */
  private started = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private turn = 0;

  constructor(
    private readonly take: (project: Project, ids: ReadonlySet<Id>) => Promise<Outcome<MovingSums | null>>,
  ) {}

  /**
   * @param project as it stands measured, see `levels`; `null` while it is not
   * @param now do not wait: a hand is on them
   */
  want(project: Project | null, levels: ProgrammeLevels | null, ids: ReadonlySet<Id>, now = false): void {
    // A hand asks again with every movement.
    if (project === this.project && sameIds(ids, this.ids) && (this.started || !now)) return;
    clearTimeout(this.timer);
    const turn = ++this.turn;
    this.project = project;
    this.ids = ids;
    this.ready = null;
    this.started = false;
    if (!project || !levels || ids.size === 0) return;
    const start = async (): Promise<void> => {
      this.started = true;
      const outcome = await this.take(project, ids);
      if (turn !== this.turn) return;
      if ('ok' in outcome && outcome.ok) this.ready = new MovingFigures(levels, outcome.ok);
      // What failed or was given up may be asked for again.
      else if (!('ok' in outcome)) this.started = false;
    };
    if (now) void start();
    else this.timer = setTimeout(() => void start(), SETTLE_MS);
  }

  /** What is ready for just these clips of just this project. */
  figures(project: Project, ids: ReadonlySet<Id>): MovingFigures | null {
    return project === this.project && sameIds(ids, this.ids) ? this.ready : null;
  }

  close(): void {
    clearTimeout(this.timer);
    this.turn++;
  }
}

function sameIds(a: ReadonlySet<Id>, b: ReadonlySet<Id>): boolean {
  return a === b || (a.size === b.size && [...a].every((id) => b.has(id)));
}
