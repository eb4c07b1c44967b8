import { MovingFigures, type ProgrammeLevels } from '@/core/measuring/movingFigures';
import { movingIds, sameIds, type Moving } from '@/core/measuring/moving';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { Project } from '@/core/programme/model';
import type { Outcome } from '@/engine/protocol';

/** So long a choice must stand before its sums are taken, ms: walking through clips by key starts nothing. */
const SETTLE_MS = 120;
/** As many are held: of what is selected, and of what the pointer went over last. */
const MOST_HELD = 4;

/** Why something is wanted: it is selected; the pointer is on it; it is being dragged. */
type When = 'rest' | 'near' | 'now';

interface Held {
  readonly moving: Moving;
  /** `null` when none of it sounds. */
  readonly figures: MovingFigures | null;
}

/**
 * Has ready what gives the programme's figures while something moves: the gain of the selected clips and of what is under the
 * pointer, taken before a drag begins; or whatever is just being dragged.
 */
export class MovingLevels {
  private project: Project | null = null;
  private levels: ProgrammeLevels | null = null;
  /** Those that are ready, the latest last. */
  private held: Held[] = [];
  /** What is being taken, or about to be. */
  private wanted: { readonly moving: Moving; readonly when: When; readonly started: boolean } | null = null;
  /** What is selected: taken whenever nothing more pressing is. */
  private resting: Moving | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private turn = 0;

  constructor(
    private readonly take: (project: Project, moving: Moving) => Promise<Outcome<MovingSums | null>>,
    private readonly onReady: () => void = () => undefined,
  ) {}

  /** Takes up another state. @param project as it stands measured, see `levels`; `null` while it is not */
  private follow(project: Project | null, levels: ProgrammeLevels | null): void {
    if (project === this.project) return;
    this.drop();
    this.project = project;
    this.levels = levels;
    this.held = [];
  }

  private drop(): void {
    clearTimeout(this.timer);
    this.turn++;
    this.wanted = null;
  }

  /**
   * @param project as it stands measured, see `levels`; `null` while it is not
   */
  want(project: Project | null, levels: ProgrammeLevels | null, moving: Moving, when: When = 'rest'): void {
    this.follow(project, levels);
    if (when === 'rest') this.resting = moving;
    if (!project || !levels || movingIds(moving).size === 0) return;
    if (this.held.some((one) => same(moving, one.moving))) return;
    const { wanted } = this;
    // A drag asks again with every movement.
    if (wanted && same(moving, wanted.moving) && (wanted.started || when !== 'now')) return;
    // What is selected waits for what is under the pointer.
    if (when === 'rest' && wanted && wanted.when !== 'rest') return;
    this.drop();
    if (when === 'now') return void this.start(moving, when);
    this.wanted = { moving, when, started: false };
    this.timer = setTimeout(() => void this.start(moving, when), SETTLE_MS);
  }

  private async start(moving: Moving, when: When): Promise<void> {
    const { project, levels } = this;
    if (!project || !levels) return;
    const turn = ++this.turn;
    this.wanted = { moving, when, started: true };
    const outcome = await this.take(project, moving);
    if (turn !== this.turn) return;
    this.wanted = null;
    // What failed or was given up may be asked for again.
    if (!('ok' in outcome)) return;
    const figures = outcome.ok && new MovingFigures(levels, outcome.ok);
    this.held = [...this.held, { moving, figures }].slice(-MOST_HELD);
    if (figures) this.onReady();
    if (this.resting) this.want(project, levels, this.resting);
  }

  private heldFor(moving: Moving): MovingFigures | null {
    return this.held.find((one) => same(moving, one.moving))?.figures ?? null;
  }

  /** What is ready for just this of just this project. */
  figures(project: Project, moving: Moving): MovingFigures | null {
    return project === this.project ? this.heldFor(moving) : null;
  }

  close(): void {
    this.drop();
  }
}

/** Gains move alike where the same clips move; states are made once for each hold of a hand. */
function same(a: Moving, b: Moving): boolean {
  if (a.kind !== 'gain' || b.kind !== 'gain') return a === b;
  return sameIds(a.ids, b.ids);
}
