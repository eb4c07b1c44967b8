import type { Failure } from '@/engine/protocol';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { standingMeasurement } from '@/core/proposals/measuredClips';
import { doStep, goToStep, redoStep, undoStep, type History } from '@/core/programme/history';
import { changeLevel, withoutEmptyGroups } from '@/core/programme/edits/groups';
import { withGroups } from '@/core/programme/groups';
import { type Clip, type Id, type Project, type Source } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { ProgrammeEngine } from '@/engine/programmeEngine';
import { storageError } from '@/storage/failure';
import { loadHandover, saveHandover } from '@/storage/handovers';
import { sourceKey } from '@/storage/measurements';
import { Checking } from './checking';
import { ClipMeasurer } from './clipMeasurer';
import { ownMeasurements, withMeasurements } from './clipMeasurements';
import { Comparing } from './comparing';
import { Cuts } from './cuts';
import type { StageActions } from './stageActions';
import { Handover } from './handover';
import type { Imported } from './importFile';
import { Imports } from './imports';
import { Interrupted } from './interrupted';
import { Saving } from './saving';
import { Listening } from './listening';
import { ProgrammeMeasurer } from './programmeMeasurer';
import { SourceMeasurer } from './sourceMeasurer';
import { Notes } from './notes';
import { Pictures } from './pictures';
import { Relinks } from './relinks';
import { Riding } from './riding';
import { Sending } from './sending';
import { SpeechFinder } from './speechFinder';
import { fetchSounds, lostFailure, lostSounds, isAbsent, withSound } from './sounds';
import { tellShelf } from './summary';
import type { CurveOwner } from '@/core/programme/edits/points';
import { newState, pointsThere, shownProject, type SessionState } from './state';

/** One open project: its state, and everything that follows from a change of it. */
export class Session {
  readonly store: StoreApi<SessionState>;
  readonly engine = new ProgrammeEngine();
  readonly listening: Listening;
  readonly saving: Saving;
  readonly handover = new Handover({
    audioOf: (key) => this.engine.audioOf(key),
    // What there was is put back before it is written over.
    keep: () =>
      void this.recalled
        .then(() => saveHandover(this.project.id, this.handover.records()))
        .catch((error: unknown) =>
          this.notes.fail(
            'handover',
            storageError(error),
            'What was handed over is not saved with the project',
          ),
        ),
  });
  /** Finished files on their way to recipients. */
  readonly sending = new Sending((key, receipt) => this.handover.answered(key, receipt));
  /** Media that go back to the edit. */
  readonly mediaForEdit = new Handover({ audioOf: (key) => this.engine.audioOf(key) });
  /** What was told and what went wrong. */
  readonly notes = new Notes();
  /** Sound on its way in. */
  readonly pictures = new Pictures();
  readonly imports: Imports;
  /** Files for sources that lost their sound. */
  readonly relinks: Relinks;
  readonly speech: SpeechFinder;
  readonly riding: Riding;
  readonly checking: Checking;
  readonly comparing: Comparing;
  /** Cuts of edit systems that wait to be placed. */
  readonly cuts = new Cuts({
    cuts: () => this.state.cuts,
    setCuts: (cuts) => this.set({ cuts }),
    step: (name, edit) => this.do(name, edit),
  });
  /** What the stage on screen can do for a command. */
  private stageInUse: StageActions | null = null;
  /** Opens the palette of commands or the map of keys. */
  private commandsShown: ((what: 'palette' | 'map') => void) | null = null;
  /** The programme's figures. */
  readonly measurer: ProgrammeMeasurer;
  private readonly clipMeasurer: ClipMeasurer;
  private readonly sourceMeasurer: SourceMeasurer;
  private recalled: Promise<void> = Promise.resolve();
  private closed = false;
  /** Audio keys of what the browser has cleared since the project was opened, and nobody has brought back. */
  private readonly cleared = new Set<string>();

  /** @param lost what of the project could not be read, a full sentence; `null` when nothing */
  constructor(history: History, lost: string | null = null) {
    this.store = createStore<SessionState>(() => newState(history, lost));
    this.saving = new Saving({
      history: () => this.state.history,
      onSave: (save) => this.set({ save }),
      fault: () => this.soundFault(),
    });
    this.listening = new Listening({
      state: () => this.state,
      set: (change) => this.set(change),
      playable: (project) => this.playable(project),
      engine: this.engine,
      notes: this.notes,
      other: () => this.comparing.heardOther,
    });
    this.comparing = new Comparing({
      store: this.store,
      engine: this.engine,
      playable: (project) => this.playable(project),
      onChange: () => this.listening.comparison.follow(),
    });
    this.checking = new Checking(this.store, (project) => this.playable(project), this.engine);
    this.riding = new Riding({
      state: () => this.state,
      listening: this.listening,
      do: (name, edit, merge) => this.do(name, edit, merge),
    });
    this.measurer = new ProgrammeMeasurer({
      state: () => this.state,
      set: (change) => this.set(change),
      playable: (project) => this.playable(project),
      engine: this.engine,
      notes: this.notes,
      setPreview: (preview) => this.setPreview(preview),
      hear: (project) => this.listening.hear(project),
      onRest: () => {
        const { comparison } = this.listening;
        if (comparison.store.getState().compared !== null) comparison.follow();
        this.summarise();
      },
    });
    this.clipMeasurer = new ClipMeasurer({
      audioOf: (key) => this.engine.audioOf(key),
      known: () => this.state.clipMeasurements,
      onMeasured: (measured) => {
        const { clipMeasurements } = this.state;
        const also = { ...this.project, clips: this.clipMeasurer.also };
        const projects = [...new Set([this.project, shownProject(this.state), also])];
        this.set({ clipMeasurements: withMeasurements(clipMeasurements, measured, projects) });
      },
      onFailed: (name, failure) => this.notes.fail(`clip ${name}`, failure, name),
    });
    this.sourceMeasurer = new SourceMeasurer(
      (key) => this.engine.audioOf(key),
      (measured) =>
        this.set({ sourceMeasurements: new Map([...this.state.sourceMeasurements, ...measured]) }),
      ({ id, name }, failure) => this.notes.fail(`source ${id}`, failure, name),
      (key, peak) => this.set({ exactSourcePeaks: new Map(this.state.exactSourcePeaks).set(key, peak) }),
    );
    const adopt = ({ source, measurement, blob }: Imported): void => {
      const { sourceMeasurements, absent } = this.state;
      const wasAbsent = isAbsent(absent, source.audioKey);
      this.engine.putAudio(source.audioKey, blob);
      this.set({ sourceMeasurements: new Map(sourceMeasurements).set(sourceKey(source), measurement) });
      if (!wasAbsent) return;
      void this.open();
      this.saving.save();
    };
    this.speech = new SpeechFinder({
      audioOf: (key) => this.engine.audioOf(key),
      step: (name, edit) => this.do(name, edit),
      onFailed: ({ id, name }, failure) => this.notes.fail(`speech ${id}`, failure, name),
    });
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
      came: (file, sources) => this.pictures.came(file, sources),
    });
    this.relinks = new Relinks({
      imports: this.imports,
      notes: this.notes,
      lost: () => this.project.sources.filter(({ audioKey }) => isAbsent(this.state.absent, audioKey)),
      adopt,
      step: (name, edit) => this.do(name, edit),
    });
  }

  get stage(): StageActions | null {
    return this.stageInUse;
  }

  /** Lends what the stage on screen can do to commands. @returns takes it back */
  lend(stage: StageActions): () => void {
    this.stageInUse = stage;
    return () => {
      if (this.stageInUse === stage) this.stageInUse = null;
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

  /** Looks whether the browser has cleared sound that is in use. @returns why the project could not be opened as it is */
  private async soundFault(): Promise<Failure | null> {
    const lost = await lostSounds(this.project.sources, (key) => this.engine.audioOf(key));
    for (const key of lost) {
      this.engine.dropAudio(key);
      this.cleared.add(key);
    }
    const { missing, unread } = this.state.absent;
    if (lost.length > 0) {
      this.set({ absent: { missing: new Set([...missing, ...lost]), unread } });
      this.refresh();
    }
    for (const key of this.cleared) if (this.engine.hasAudio(key)) this.cleared.delete(key);
    return lostFailure(this.project.sources, this.cleared);
  }

  /** Puts back what was handed over on earlier visits. */
  recall(): void {
    this.recalled = loadHandover(this.project.id).then((records) => this.handover.restore(records));
    this.recalled.catch((error: unknown) =>
      this.notes.fail('handover', storageError(error), 'What was handed over before cannot be read'),
    );
  }

  close(): void {
    this.closed = true;
    this.saving.close();
    this.imports.close();
    this.speech.cancel();
    this.riding.close();
    this.checking.close();
    this.comparing.close();
    this.handover.cancel();
    this.mediaForEdit.cancel();
    this.sending.close();
    this.clipMeasurer.close();
    this.sourceMeasurer.close();
    this.measurer.close();
    this.listening.close();
    this.engine.close();
  }

  /** The programme with the clips whose sound is there; the others cannot be rendered. */
  playable(project: Project): Project {
    return withSound(project, (key) => this.engine.hasAudio(key));
  }

  // ---- steps -------------------------------------------------------------------------------------------------

  /** Tells the shelf how the programme stands. */
  private summarise(): void {
    const { programme, absent } = this.state;
    if (programme) tellShelf(this.project, programme, absent);
  }

  /** Does one named step. Steps in a row with the same `merge` are one. */
  do(name: string, edit: (project: Project) => Project, merge: string | null = null): void {
    const whole = (project: Project): Project => withoutEmptyGroups(edit(project));
    this.adopt(doStep(this.state.history, name, whole, merge, Date.now()));
  }

  undo(): void {
    this.adopt(undoStep(this.state.history));
  }

  redo(): void {
    this.adopt(redoStep(this.state.history));
  }

  /** Goes to the state after so many steps. */
  goToStep(steps: number): void {
    this.adopt(goToStep(this.state.history, steps));
  }

  private adopt(history: History): void {
    const hadPreview = this.state.preview !== null;
    const before = this.project;
    if (history === this.state.history) {
      if (hadPreview) this.setPreview(null);
      return;
    }
    const there = new Set(history.project.clips.map((clip) => clip.id));
    const selection = new Set([...this.state.selection].filter((id) => there.has(id)));
    // What was just dragged stays shown until it is measured.
    const moved = hadPreview ? this.state.moved : null;
    const points = pointsThere(history.project, this.state.points);
    this.set({ history, preview: null, selection, points, moved });
    const { sampleRate: rate } = history.project;
    if (rate !== before.sampleRate) this.listening.changeRate(before.sampleRate, rate);
    if (!hadPreview) this.measurer.step(before, history.project);
    this.saving.save();
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
   * Shows the programme with the gain of these clips changed, see `ProgrammeMeasurer.follow`.
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
    this.measurer.follow({ kind: 'gain', ids }, changeDb, preview);
  }

  /** Gets ready for a drag of these clips. */
  prepare(ids: ReadonlySet<Id>): void {
    this.measurer.prepare({ kind: 'gain', ids }, 'near');
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

  private refresh(): void {
    const project = shownProject(this.state);
    this.listening.hear(project);
    this.clipMeasurer.want(project, this.state.preview !== null);
    this.sourceMeasurer.want(project, this.state.sourceMeasurements);
    this.measurer.want();
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

  /** Has clips measured that are not in the programme as they are: without their curves, say. @returns takes it back */
  measureAlso(clips: readonly Clip[]): () => void {
    const takeBack = this.clipMeasurer.wantAlso(clips);
    this.refresh();
    return takeBack;
  }

  /** Every clip's own measurement before its own gain, with all else that lies on it, if it is there yet. */
  clipMeasurements(project: Project): (clip: Clip) => ClipMeasurement | null {
    return standingMeasurement(project, ownMeasurements(this.state.clipMeasurements, project, this.project));
  }

  /** These clips and all that are grouped with one of them. */
  grouped(ids: ReadonlySet<Id>): ReadonlySet<Id> {
    return withGroups(this.project, ids);
  }

  /** Selects points of a gain curve, by their places; of a track or the programme in place of clips. */
  selectPoints(owner: CurveOwner, places: Iterable<number>): void {
    const selected = new Set(places);
    if (owner.kind !== 'clip' && this.state.selection.size > 0) this.select([]);
    this.set({ points: selected.size > 0 ? { owner, places: selected } : null });
  }

  /** Selects clips, whole groups of them. @param single just these, even out of a group */
  select(ids: Iterable<Id>, single = false): void {
    const selection = single ? new Set(ids) : this.grouped(new Set(ids));
    const { points } = this.state;
    const { owner } = points ?? {};
    const stay = owner?.kind === 'clip' && selection.size === 1 && selection.has(owner.id);
    this.set({ selection, points: stay ? points : null });
    this.measurer.prepare({ kind: 'gain', ids: selection }, 'rest');
  }
}
