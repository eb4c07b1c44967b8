import { MovingFigures, type ProgrammeLevels } from '@/core/measuring/movingFigures';
import { movingIds, type Moving } from '@/core/measuring/moving';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { Project } from '@/core/programme/model';
import type { Outcome } from '@/engine/protocol';

/** So long a choice must stand before its sums are taken, ms: walking through clips by key starts nothing. */
const SETTLE_MS = 120;

/**
 * Has ready what gives the programme's figures while something moves: the gain of the chosen clips, taken when they are
 * chosen, before a hand touches them; or whatever a hand has just taken hold of.
 */
export class MovingLevels {
  private project: Project | null = null;
  private moving: Moving | null = null;
  private ready: MovingFigures | null = null;
  /** The sums are being taken, or have been. */
  private started = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private turn = 0;

  constructor(
    private readonly take: (project: Project, moving: Moving) => Promise<Outcome<MovingSums | null>>,
  ) {}

  /**
   * @param project as it stands measured, see `levels`; `null` while it is not
   * @param now do not wait: a hand is on them
   */
  want(project: Project | null, levels: ProgrammeLevels | null, moving: Moving, now = false): void {
    // A hand asks again with every movement.
    if (
      project === this.project &&
      this.moving !== null &&
      same(moving, this.moving) &&
      (this.started || !now)
    )
      return;
    clearTimeout(this.timer);
    const turn = ++this.turn;
    this.project = project;
    this.moving = moving;
    this.ready = null;
    this.started = false;
    if (!project || !levels || movingIds(moving).size === 0) return;
    const start = async (): Promise<void> => {
      this.started = true;
      const outcome = await this.take(project, moving);
      if (turn !== this.turn) return;
      if ('ok' in outcome && outcome.ok) this.ready = new MovingFigures(levels, outcome.ok);
      // What failed or was given up may be asked for again.
      else if (!('ok' in outcome)) this.started = false;
    };
    if (now) void start();
    else this.timer = setTimeout(() => void start(), SETTLE_MS);
  }

  /** What is ready for just this of just this project. */
  figures(project: Project, moving: Moving): MovingFigures | null {
    return project === this.project && this.moving && same(moving, this.moving) ? this.ready : null;
  }

  close(): void {
    clearTimeout(this.timer);
    this.turn++;
  }
}

/** Gains move alike where the same clips move; states are made once for each hold of a hand. */
function same(a: Moving, b: Moving): boolean {
  if (a.kind !== 'gain' || b.kind !== 'gain') return a === b;
  return a.ids === b.ids || (a.ids.size === b.ids.size && [...a.ids].every((id) => b.ids.has(id)));
}
