import type { GainRoom } from '@/core/programme/clipGain';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Contributions } from '@/core/measuring/contributions';
import { gainMoved } from '@/core/measuring/gainMoved';
import type { Moving } from '@/core/measuring/moving';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import { PEAK_BLOCKS_PER_SECOND, PEAK_SUB_BLOCKS } from '@/core/loudness/subBlocks';
import type { Id, Project } from '@/core/programme/model';
import type { ProgrammeEngine } from '@/engine/programmeEngine';
import type { Outcome, ProgrammeSummary, Solved } from '@/engine/protocol';
import { MovingLevels } from './movingLevels';
import type { Notes } from './notes';
import { nowAndThen } from './nowAndThen';
import { shownProject, type SessionState } from './state';

/** Several changes within a frame (a drag) are one measurement, ms. */
const FRAME_MS = 16;

/** What measuring the programme needs of its session. */
interface Host {
  readonly state: () => SessionState;
  readonly set: (change: Partial<SessionState>) => void;
  /** The programme with the clips whose sound is there. */
  readonly playable: (project: Project) => Project;
  readonly engine: ProgrammeEngine;
  readonly notes: Notes;
  /** Shows a programme that is measured as it is at rest, or `null` for what is. */
  readonly setPreview: (preview: Project | null) => void;
  /** Lets it be heard. */
  readonly hear: (project: Project) => void;
  /** The programme at rest was measured. */
  readonly onRest: () => void;
}

/** What is being dragged. */
interface Hand {
  readonly moving: Moving;
  readonly changeDb: number;
  readonly preview: Project;
}

/** Keeps the programme's figures up to date: at once from sums where a gain moves, else as soon as it is measured. */
export class ProgrammeMeasurer {
  private readonly moving: MovingLevels;
  /** What of the programme is looked at, sub-blocks: it is measured before the rest. */
  private seen: SubBlockRange | null = null;
  /** The last state at rest that was measured, what of it can be heard, and its measurement. */
  private measured: {
    readonly project: Project;
    readonly playable: Project;
    readonly levels: ProgrammeSummary;
  } | null = null;
  /** What is dragged before the sums for it are ready. */
  private waiting: Hand | null = null;
  private queued = false;
  private task = 0;
  private closed = false;

  constructor(private readonly host: Host) {
    this.moving = new MovingLevels(
      (project, moving) => host.engine.moving(project, moving),
      () => this.onReady(),
    );
  }

  private get project(): Project {
    return this.host.state().history.project;
  }

  /** The programme as it is shown has changed. */
  want(): void {
    if (this.queued) return;
    this.queued = true;
    // From now on what stands there is of an older state.
    this.host.set({ measuring: 0 });
    setTimeout(() => {
      this.queued = false;
      if (!this.closed) void this.measure();
    }, FRAME_MS);
  }

  private async measure(): Promise<void> {
    const { host } = this;
    const task = ++this.task;
    host.set({ shares: null, sharing: null });
    const shown = shownProject(host.state());
    const project = this.playable(shown);
    host.set({ measuring: 0 });
    const due = nowAndThen();
    const outcome = await host.engine.measure(project, this.seen, (measuring) => {
      if (task === this.task && due()) host.set({ measuring });
    });
    if (task !== this.task) return;
    // It has changed again since: what has come is shown, but is of an older state.
    const measuring = this.queued ? 0 : null;
    if ('ok' in outcome) {
      // What is still being dragged is no ground to stand on: the sums start from what rests.
      const resting = shown === this.project;
      const moved = resting ? null : host.state().moved;
      if (resting) this.measured = { project: shown, playable: project, levels: outcome.ok };
      host.set({ programme: outcome.ok, moved, measuring, measureFailure: null });
      if (!resting) return;
      this.prepare({ kind: 'gain', ids: host.state().selection }, 'rest');
      host.onRest();
    } else if ('failure' in outcome) host.set({ measuring, measureFailure: outcome.failure });
  }

  /** What of a state can be heard: of the one at rest the same as before, so that sums that were taken for it stay of use. */
  private playable(shown: Project): Project {
    const playable = this.host.playable(shown);
    const { measured } = this;
    return measured?.project === shown && measured.playable.clips.length === playable.clips.length
      ? measured.playable
      : playable;
  }

  /** The measurement of the programme at rest; `null` while it is of an older state. */
  atRest(project: Project): ProgrammeSummary | null {
    return this.measured?.project === project ? this.measured.levels : null;
  }

  /** Gets ready for a drag of something. @param when see `MovingLevels.want` */
  prepare(moving: Moving, when: 'rest' | 'near' | 'now'): void {
    const current = this.measured?.project === this.project ? this.measured : null;
    this.moving.want(current?.playable ?? null, current?.levels ?? null, moving, when);
  }

  /**
   * Shows the programme while something moves: exactly and at once where the sums for it are ready, else as soon as they are.
   * @param changeDb how far it has moved
   */
  follow(moving: Moving, changeDb: number, preview: Project): void {
    const figures = this.measured && this.moving.figures(this.measured.playable, moving);
    if (!figures?.covers(changeDb) || this.measured?.project !== this.project) {
      this.waiting = { moving, changeDb, preview };
      this.prepare(moving, 'now');
      this.host.setPreview(preview === this.project ? null : preview);
      return;
    }
    this.waiting = null;
    this.host.set({ preview, moved: figures.at(changeDb) });
    this.host.hear(preview);
  }

  /** Sums have come while a drag was waiting for them. */
  private onReady(): void {
    const { waiting } = this;
    if (waiting && this.host.state().preview === waiting.preview)
      this.follow(waiting.moving, waiting.changeDb, waiting.preview);
  }

  /** A step was done: what it moved by one gain is told at once, where the sums for it are ready. */
  step(before: Project, after: Project): void {
    const { measured } = this;
    this.waiting = null;
    if (measured?.project !== before) return;
    const moved = gainMoved(measured.playable, this.host.playable(after));
    const figures = moved && this.moving.figures(measured.playable, { kind: 'gain', ids: moved.ids });
    if (figures) this.host.set({ moved: figures.at(moved.changeDb) });
  }

  /** Which change of these clips' gain puts the programme at a loudness. */
  async solve(
    ids: ReadonlySet<Id>,
    goalLufs: number,
    room: GainRoom,
  ): Promise<Solved | { readonly trouble: string }> {
    const { measured } = this;
    if (measured?.project !== this.project)
      return { trouble: 'The programme is still being measured; try again when it is.' };
    const outcome = await this.host.engine.solve(measured.playable, ids, goalLufs, room);
    if ('ok' in outcome) return outcome.ok;
    if ('failure' in outcome) return { trouble: `${outcome.failure.message} ${outcome.failure.hint}` };
    return { trouble: 'None of it sounds: it is muted, or its sound is missing.' };
  }

  /** Works out what each part brings to the programme's loudness; a change of the programme ends it. */
  async findShares(): Promise<void> {
    const { host } = this;
    if (host.state().sharing !== null) return;
    const { task } = this;
    const set = (change: Partial<SessionState>): void => {
      if (task === this.task) host.set(change);
    };
    const found = this.contributions(null, (sharing) => set({ sharing }));
    if (!found) return;
    set({ sharing: 0 });
    const outcome = await found;
    set({ sharing: null, shares: 'ok' in outcome ? outcome.ok : null });
    if ('failure' in outcome) host.notes.fail('shares', outcome.failure, 'Shares of the programme');
  }

  /**
   * What each part brings to the programme, or to a range of it.
   * @param range seconds
   * @returns `null` while the programme is being measured
   */
  contributions(
    range: TimeRange | null,
    onProgress: (done: number) => void,
  ): Promise<Outcome<Contributions>> | null {
    const { measured, host } = this;
    if (measured?.project !== this.project) return null;
    return host.engine.contributions(measured.playable, range, onProgress);
  }

  /** Says which range of the programme is looked at, seconds. */
  look(from: number, to: number): void {
    // In whole peak blocks.
    const grid = (seconds: number): number => Math.round(seconds * PEAK_BLOCKS_PER_SECOND) * PEAK_SUB_BLOCKS;
    this.seen = { from: Math.max(0, grid(from)), to: grid(to) };
  }

  close(): void {
    this.closed = true;
    this.moving.close();
  }
}
