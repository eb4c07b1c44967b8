import { createStore, type StoreApi } from 'zustand/vanilla';
import { doStep, redoStep, undoStep, type History } from '@/core/programme/history';
import { changeLevel, withoutEmptyGroups } from '@/core/programme/edits/groups';
import { baseDbOf, type GainRoom } from '@/core/programme/clipGain';
import type { Moving } from '@/core/measuring/moving';
import { PEAK_BLOCKS_PER_SECOND, PEAK_SUB_BLOCKS } from '@/core/loudness/subBlocks';
import { withGroups } from '@/core/programme/groups';
import { type Clip, type Id, type Project, type Source } from '@/core/programme/model';
import { withBaseGain, type ClipMeasurement } from '@/core/measuring/measureClip';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import type { ProgrammeSummary, Solved } from '@/engine/protocol';
import { ProgrammeEngine } from '@/engine/programmeEngine';
import { sourceKey } from '@/storage/measurements';
import { ClipMeasurer } from './clipMeasurer';
import { ownMeasurements, withMeasurements } from './clipMeasurements';
import { Cuts } from './cuts';
import type { Desk } from './desk';
import { Handover } from './handover';
import type { Imported } from './importFile';
import { Imports } from './imports';
import { Interrupted } from './interrupted';
import { Keeping } from './keeping';
import { Listening } from './listening';
import { MovingLevels } from './movingLevels';
import { SourceMeasurer } from './sourceMeasurer';
import { Notes } from './notes';
import { Relinks } from './relinks';
import { fetchSounds, isAbsent, NOTHING_ABSENT } from './sounds';
import { shownProject, type SessionState } from './state';

const NOTHING: ReadonlySet<Id> = new Set();
/** One open project: its state, and everything that follows from a change of it. */
export class Session {
  readonly store: StoreApi<SessionState>;
  readonly engine = new ProgrammeEngine();
  readonly listening: Listening;
  readonly keeping: Keeping;
  readonly handover = new Handover(this.engine);
  /** What was told and what went wrong. */
  readonly notes = new Notes();
  /** Sound on its way in. */
  readonly imports: Imports;
  /** Files for sources that lost their sound. */
  readonly relinks: Relinks;
  /** Cuts of edit systems that wait to be placed. */
  readonly cuts = new Cuts({
    cuts: () => this.state.cuts,
    setCuts: (cuts) => this.set({ cuts }),
    step: (name, edit) => this.do(name, edit),
  });
  /** What the stage on screen can do for a command. */
  private deskInUse: Desk | null = null;
  /** Opens the palette of commands or the map of keys. */
  private commandsShown: ((what: 'palette' | 'map') => void) | null = null;
  private readonly clipMeasurer: ClipMeasurer;
  private readonly sourceMeasurer: SourceMeasurer;
  private readonly moving = new MovingLevels((project, moving) => this.engine.moving(project, moving));
  /** What of the programme is looked at, sub-blocks: it is measured before the rest. */
  private seen: SubBlockRange | null = null;
  /** The last state at rest that was measured, what of it can be heard, and its measurement. */
  private measured: {
    readonly project: Project;
    readonly playable: Project;
    readonly levels: ProgrammeSummary;
  } | null = null;
  private measureQueued = false;
  private measureTask = 0;
  private closed = false;

  /** @param lost what of the project could not be read, a full sentence; `null` when nothing */
  constructor(history: History, lost: string | null = null) {
    this.store = createStore<SessionState>(() => ({
      history,
      lost,
      preview: null,
      selection: NOTHING,
      imports: [],
      cuts: [],
      sourceMeasurements: new Map(),
      exactSourcePeaks: new Map(),
      clipMeasurements: new Map(),
      programme: null,
      ghosts: new Map(),
      moved: null,
      shares: null,
      sharing: null,
      measuring: 0,
      measureFailure: null,
      absent: NOTHING_ABSENT,
      save: 'saved',
      playing: false,
      playhead: 0,
      soloed: NOTHING,
      range: null,
      looping: false,
    }));
    this.keeping = new Keeping({
      history: () => this.state.history,
      onSave: (save) => this.set({ save }),
    });
    this.listening = new Listening({
      state: () => this.state,
      set: (change) => this.set(change),
      playable: (project) => this.playable(project),
      engine: this.engine,
      notes: this.notes,
    });
    this.clipMeasurer = new ClipMeasurer({
      audioOf: (key) => this.engine.audioOf(key),
      known: () => this.state.clipMeasurements,
      onMeasured: (measured) => {
        const { clipMeasurements } = this.state;
        const projects = [...new Set([this.project, shownProject(this.state)])];
        this.set({ clipMeasurements: withMeasurements(clipMeasurements, measured, projects) });
      },
      onFailed: (name, failure) => this.notes.fail(`clip ${name}`, failure, name),
    });
    this.sourceMeasurer = new SourceMeasurer(
      (key) => this.engine.audioOf(key),
      (key, measurement) =>
        this.set({ sourceMeasurements: new Map(this.state.sourceMeasurements).set(key, measurement) }),
      ({ id, name }, failure) => this.notes.fail(`source ${id}`, failure, name),
      (key, peak) => this.set({ exactSourcePeaks: new Map(this.state.exactSourcePeaks).set(key, peak) }),
    );
    const adopt = ({ source, measurement, blob }: Imported): void => {
      const { sourceMeasurements, absent } = this.state;
      const wasAbsent = isAbsent(absent, source.audioKey);
      this.engine.putAudio(source.audioKey, blob);
      this.set({ sourceMeasurements: new Map(sourceMeasurements).set(sourceKey(source), measurement) });
      if (wasAbsent) void this.open();
    };
    const interrupted = new Interrupted(history.project.id, this.notes);
    void interrupted.tell();
    this.imports = new Imports({
      jobs: () => this.state.imports,
      setJobs: (imports) => {
        this.set({ imports });
        if (!this.closed) interrupted.follow(imports);
      },
      adopt,
      step: (name, edit, merge) => this.do(name, edit, merge),
      audioOf: (key) => this.engine.audioOf(key),
    });
    this.relinks = new Relinks({
      imports: this.imports,
      notes: this.notes,
      lost: () => this.project.sources.filter(({ audioKey }) => isAbsent(this.state.absent, audioKey)),
      adopt,
      step: (name, edit) => this.do(name, edit),
    });
  }

  get desk(): Desk | null {
    return this.deskInUse;
  }

  /** Lends what the stage on screen can do to commands. @returns takes it back */
  lend(desk: Desk): () => void {
    this.deskInUse = desk;
    return () => {
      if (this.deskInUse === desk) this.deskInUse = null;
    };
  }

  /** Opens the palette of commands or the map of keys. */
  showCommands(what: 'palette' | 'map'): void {
    this.commandsShown?.(what);
  }

  /** @returns takes it back */
  offerCommands(show: (what: 'palette' | 'map') => void): () => void {
    this.commandsShown = show;
    return () => {
      if (this.commandsShown === show) this.commandsShown = null;
    };
  }

  get state(): SessionState {
    return this.store.getState();
  }

  get project(): Project {
    return this.state.history.project;
  }

  private set(change: Partial<SessionState>): void {
    if (!this.closed) this.store.setState(change);
  }

  /** Fetches the sound of every source that is not there yet, then measures what is not measured. */
  async open(): Promise<void> {
    const absent = await fetchSounds(this.project.sources, {
      put: (key, blob) => this.engine.putAudio(key, blob),
      has: (key) => this.engine.hasAudio(key),
    });
    if (this.closed) return;
    this.set({ absent });
    this.refresh();
  }

  close(): void {
    this.closed = true;
    this.keeping.close();
    this.imports.close();
    this.handover.cancel();
    this.clipMeasurer.close();
    this.sourceMeasurer.close();
    this.moving.close();
    this.listening.close();
    this.engine.close();
  }

  /** The programme with the clips whose sound is there; the others cannot be rendered. */
  playable(project: Project): Project {
    const there = new Set(
      project.sources.filter((source) => this.engine.hasAudio(source.audioKey)).map((source) => source.id),
    );
    return { ...project, clips: project.clips.filter((clip) => there.has(clip.sourceId)) };
  }

  // ---- steps -------------------------------------------------------------------------------------------------

  /** Does one named step. Steps in a row with the same `merge` are one. */
  do(name: string, edit: (project: Project) => Project, merge: string | null = null): void {
    const whole = (project: Project): Project => withoutEmptyGroups(edit(project));
    this.adopt(doStep(this.state.history, name, whole, merge));
  }

  undo(): void {
    this.adopt(undoStep(this.state.history));
  }

  redo(): void {
    this.adopt(redoStep(this.state.history));
  }

  private adopt(history: History): void {
    const hadPreview = this.state.preview !== null;
    const { sampleRate } = this.project;
    if (history === this.state.history) {
      if (hadPreview) this.setPreview(null);
      return;
    }
    const there = new Set(history.project.clips.map((clip) => clip.id));
    const selection = new Set([...this.state.selection].filter((id) => there.has(id)));
    // What a hand has just let go of stays shown until it is measured.
    const moved = hadPreview ? this.state.moved : null;
    this.set({ history, preview: null, selection, moved });
    const { sampleRate: rate } = history.project;
    if (rate !== sampleRate) this.listening.changeRate(sampleRate, rate);
    this.keeping.save();
    this.refresh();
  }

  /** Shows where a proposal would put clips. */
  setGhosts(ghosts: ReadonlyMap<Id, number>): void {
    this.set({ ghosts });
  }

  /** Shows (and measures) the programme as it would be; `null` goes back to what is. */
  setPreview(preview: Project | null): void {
    if (preview === this.state.preview) return;
    this.set({ preview, moved: null });
    this.refresh();
  }

  /**
   * Shows the programme with the gain of these clips changed: at once and exactly where the sums for it are ready, else
   * as soon as it is measured.
   * @param changeDb of every one of them
   */
  previewGain(ids: ReadonlySet<Id>, changeDb: number): void {
    this.previewLevel(ids, changeDb, changeLevel(this.project, ids, { kind: 'change', db: changeDb }));
  }

  /**
   * The same for any edit that moves the level of clips.
   * @param ids every clip whose level it moves
   * @param changeDb by how much
   */
  previewLevel(ids: ReadonlySet<Id>, changeDb: number, preview: Project): void {
    this.previewMoving({ kind: 'gain', ids }, changeDb, preview);
  }

  /**
   * The same for anything that sums can follow.
   * @param changeDb how far it has moved
   */
  previewMoving(moving: Moving, changeDb: number, preview: Project): void {
    const figures = this.measured && this.moving.figures(this.measured.playable, moving);
    if (!figures?.covers(changeDb) || this.measured?.project !== this.project) {
      this.wantMoving(moving, true);
      this.setPreview(preview === this.project ? null : preview);
      return;
    }
    this.set({ preview, moved: figures.at(changeDb) });
    this.listening.hear(preview);
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
    const outcome = await this.engine.solve(measured.playable, ids, goalLufs, room);
    if ('ok' in outcome) return outcome.ok;
    if ('failure' in outcome) return { trouble: `${outcome.failure.message} ${outcome.failure.hint}` };
    return { trouble: 'None of it sounds: it is muted, or its sound is missing.' };
  }

  /** Works out what each clip brings to the programme's loudness; a change of the programme ends it. */
  async findShares(): Promise<void> {
    const { measured } = this;
    if (measured?.project !== this.project || this.state.sharing !== null) return;
    this.set({ sharing: 0 });
    const task = this.measureTask;
    const outcome = await this.engine.shares(measured.playable, (sharing) => {
      if (task === this.measureTask) this.set({ sharing });
    });
    if (task !== this.measureTask) return;
    this.set({ sharing: null, shares: 'ok' in outcome ? outcome.ok : null });
    if ('failure' in outcome) this.notes.fail('shares', outcome.failure, 'Shares of the programme');
  }

  /** Says which stretch of the programme is looked at, seconds. */
  look(from: number, to: number): void {
    // In whole peak blocks.
    const grid = (seconds: number): number => Math.round(seconds * PEAK_BLOCKS_PER_SECOND) * PEAK_SUB_BLOCKS;
    this.seen = { from: Math.max(0, grid(from)), to: grid(to) };
  }

  /** Gets ready for a hand on these clips. */
  prepare(ids: ReadonlySet<Id>): void {
    this.wantMoving({ kind: 'gain', ids }, true);
  }

  /** Gets ready for a hand on something. */
  prepareMoving(moving: Moving): void {
    this.wantMoving(moving, true);
  }

  /** Takes the sums for what is likely to be moved next. */
  private wantMoving(moving: Moving, now = false): void {
    const { measured } = this;
    const current = measured?.project === this.project ? measured : null;
    this.moving.want(current?.playable ?? null, current?.levels ?? null, moving, now);
  }

  /** Brings files in: sound as sources, cuts to be placed. @returns the sources, in the order of the files */
  async addFiles(files: readonly File[]): Promise<readonly Source[]> {
    const sound = this.cuts.open(files);
    return sound.length > 0 ? this.imports.files(sound) : [];
  }

  /** Something is on its way that closing the page would lose. */
  get isBringingIn(): boolean {
    const { imports, cuts } = this.state;
    return cuts.length > 0 || imports.some(({ phase }) => phase !== 'failed');
  }

  // ---- what follows from a change ------------------------------------------------------------------------------

  private refresh(): void {
    const project = shownProject(this.state);
    this.listening.hear(project);
    this.clipMeasurer.want(project, this.state.preview !== null);
    this.sourceMeasurer.want(project, this.state.sourceMeasurements);
    // Several changes within a frame (a drag) are one measurement.
    if (this.measureQueued) return;
    this.measureQueued = true;
    // From now on what stands there is of an older state.
    this.set({ measuring: 0 });
    setTimeout(() => {
      this.measureQueued = false;
      if (!this.closed) void this.measureProgramme();
    }, 16);
  }

  private async measureProgramme(): Promise<void> {
    const task = ++this.measureTask;
    this.set({ shares: null, sharing: null });
    const shown = shownProject(this.state);
    const project = this.playable(shown);
    this.set({ measuring: 0 });
    const outcome = await this.engine.measure(project, this.seen, (measuring) => {
      if (task === this.measureTask) this.set({ measuring });
    });
    if (task !== this.measureTask) return;
    if ('ok' in outcome) {
      // What a hand is still moving is no ground to stand on: the sums start from what rests.
      const resting = shown === this.project;
      const moved = resting ? null : this.state.moved;
      if (resting) this.measured = { project: shown, playable: project, levels: outcome.ok };
      this.set({ programme: outcome.ok, moved, measuring: null, measureFailure: null });
      if (!resting) return;
      this.wantMoving({ kind: 'gain', ids: this.state.selection });
      if (this.listening.comparison.store.getState().compared !== null) this.listening.comparison.follow();
    } else if ('failure' in outcome) this.set({ measuring: null, measureFailure: outcome.failure });
  }

  /** The measurement of the programme at rest; `null` while it is of an older state. */
  measurementAtRest(project: Project): ProgrammeSummary | null {
    return this.measured?.project === project ? this.measured.levels : null;
  }

  /** Works out the exact true peaks of clips, so that a proposal can promise to keep the ceiling. */
  findExactPeaks(clips: readonly Clip[]): void {
    this.clipMeasurer.wantExact(this.project, clips);
  }

  /** The same for sources. */
  findExactSourcePeaks(sources: readonly Source[]): void {
    const { sourceMeasurements, exactSourcePeaks } = this.state;
    void this.sourceMeasurer.wantExact(sources, sourceMeasurements, exactSourcePeaks);
  }

  /** Every clip's own measurement before its own gain, with all else that lies on it, if it is there yet. */
  clipMeasurements(project: Project): (clip: Clip) => ClipMeasurement | null {
    const base = baseDbOf(project);
    const own = ownMeasurements(this.state.clipMeasurements, project, this.project);
    return (clip) => {
      const measurement = own(clip);
      return measurement && withBaseGain(measurement, base(clip));
    };
  }

  // ---- choosing ----------------------------------------------------------------------------------------------

  /** These clips and all that are grouped with one of them. */
  grouped(ids: ReadonlySet<Id>): ReadonlySet<Id> {
    return withGroups(this.project, ids);
  }

  /** Chooses clips, whole groups of them. @param single just these, even out of a group */
  select(ids: Iterable<Id>, single = false): void {
    const selection = single ? new Set(ids) : this.grouped(new Set(ids));
    this.set({ selection });
    this.wantMoving({ kind: 'gain', ids: selection });
  }
}
