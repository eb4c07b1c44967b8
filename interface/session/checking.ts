import { createStore, type StoreApi } from 'zustand/vanilla';
import { broughtFaults } from '@/core/check/findings/programmeMaterial';
import { targetsOf, thresholdsOf } from '@/core/programme/edits/check';
import { programmeFrames, type Project } from '@/core/programme/model';
import type { FoundClick } from '@/core/proposals/clicks';
import type { Mend } from '@/core/proposals/fixes/fixFor';
import type { MendedAll } from '@/core/proposals/fixes/mendAll';
import type { ProgrammeEngine } from '@/engine/programmeEngine';
import type { CheckedProgramme, CheckRequest, Failure } from '@/engine/protocol';
import { yieldNow } from '@/engine/yieldNow';
import { sourceKey } from '@/storage/measurements';
import { nowAndThen } from './nowAndThen';
import type { SessionState } from './state';

/** What a check has come to so far. */
export interface CheckState {
  /** The state of the programme that it is of; `null` before the first. */
  readonly of: Project | null;
  readonly checked: CheckedProgramme | null;
  /** What mends what was found, by its id, as far as it is worked out. */
  readonly mends: ReadonlyMap<string, Mend>;
  /** What is being done; `null` when all of it is done, or waits for the measurement. */
  readonly work: 'checking' | 'clicks' | 'fixes' | 'mending' | null;
  /** 0 to 1 */
  readonly done: number;
  readonly failure: Failure | null;
  /** All that breaks a limit mended together, as a proposal. */
  readonly mended: Pick<MendedAll, 'fixes' | 'left'> | null;
}

const NO_MENDS: ReadonlyMap<string, Mend> = new Map();

const NOTHING: CheckState = {
  ...{ of: null, checked: null, mends: NO_MENDS, work: null, done: 0 },
  ...{ failure: null, mended: null },
};

/** What was worked out of a state of the programme. */
interface Known {
  /** The measurements of its sources that it is by. */
  readonly measured: unknown;
  readonly checked: CheckedProgramme;
  readonly clicks: readonly FoundClick[];
  readonly mends: Map<string, Mend>;
}

/** What mends more findings than this is shown less often: each time all rows are gone through. */
const MANY_FINDINGS = 200;
const MANY_SHOWN_EVERY_MS = 1_000;

/** After which a check that came too early begins anew, ms. */
const RETRY_MS = 100;

/** Checks the programme whenever it rests while somebody looks, and works out what mends what is found. */
export class Checking {
  readonly store: StoreApi<CheckState> = createStore<CheckState>(() => NOTHING);
  /** What was found in earlier states, so that going back is at once. */
  private readonly known = new WeakMap<Project, Known>();
  private watchers = 0;
  private leave: (() => void) | null = null;
  private controller: AbortController | null = null;
  /** What the last run was begun for. */
  private begun: { readonly project: Project; readonly measured: unknown } | null = null;

  constructor(
    private readonly session: StoreApi<SessionState>,
    /** The programme with the clips whose sound is there. */
    private readonly playable: (project: Project) => Project,
    private readonly engine: ProgrammeEngine,
  ) {}

  /** Keeps it up to date from now on. @returns ends that */
  watch(): () => void {
    this.watchers++;
    this.leave ??= this.session.subscribe(() => this.follow());
    this.follow();
    return () => {
      if (--this.watchers > 0) return;
      this.close();
    };
  }

  close(): void {
    this.leave?.();
    this.leave = null;
    this.stop();
    this.begun = null;
  }

  private stop(): void {
    this.controller?.abort();
    this.controller = null;
    this.engine.stopFixing();
    this.store.setState({ work: null });
  }

  /** Checks once more what could not be checked. */
  again(): void {
    this.begun = null;
    this.store.setState({ failure: null });
    if (this.watchers > 0) this.follow();
  }

  /** Stops what is being worked out; what is there stays. */
  cancel(): void {
    this.stop();
  }

  private follow(): void {
    const state = this.session.getState();
    const { measuring, preview, programme, sourceMeasurements, measureFailure } = state;
    const { project } = state.history;
    // What could not be measured cannot be checked; the verdict bar says why.
    if (preview !== null || measuring !== null || programme === null || measureFailure !== null) return;
    if (this.begun?.project === project && this.begun.measured === sourceMeasurements) return;
    this.begun = { project, measured: sourceMeasurements };
    this.stop();
    if (programmeFrames(project) === 0) {
      this.store.setState({ ...NOTHING, of: project });
      return;
    }
    const controller = new AbortController();
    this.controller = controller;
    void this.run(project, controller.signal);
  }

  /** Begins anew in a moment: the programme was being measured. */
  private retry(): void {
    this.begun = null;
    setTimeout(() => {
      if (this.watchers > 0) this.follow();
    }, RETRY_MS);
  }

  private request(project: Project, clicks: readonly FoundClick[]): CheckRequest {
    const { sourceMeasurements } = this.session.getState();
    return {
      targets: targetsOf(project),
      thresholds: thresholdsOf(project),
      brought: broughtFaults(project, (source) => sourceMeasurements.get(sourceKey(source))?.details ?? null),
      clicks,
    };
  }

  private async run(project: Project, signal: AbortSignal): Promise<void> {
    const { engine } = this;
    const measured = this.session.getState().sourceMeasurements;
    // What was worked out before one looked elsewhere still holds.
    const known = this.known.get(project);
    const playable = this.playable(project);
    const set = (change: Partial<CheckState>): void => {
      if (!signal.aborted) this.store.setState(change);
    };
    const check = async (clicks: readonly FoundClick[]): Promise<CheckedProgramme | null> => {
      const outcome = await engine.check(playable, this.request(playable, clicks));
      if ('failure' in outcome) set({ failure: outcome.failure, work: null });
      if (!('ok' in outcome) || signal.aborted) return null;
      const mends = known ? new Map(known.mends) : NO_MENDS;
      set({ of: project, checked: outcome.ok, failure: null, mended: null, mends });
      return outcome.ok;
    };
    const again = (): void => {
      // It is not measured yet, or not any more: once it is, it is looked at.
      set({ work: null });
      if (!signal.aborted && this.store.getState().failure === null) this.retry();
    };
    if (known) {
      const { clicks, mends } = known;
      set({ of: project, checked: known.checked, mends: new Map(mends), failure: null, mended: null });
      // What its sources bring along may have become known since.
      const checked = known.measured === measured ? known.checked : await check(clicks);
      if (!checked) return again();
      return this.findFixes(project, playable, { measured, checked, clicks, mends }, signal, set);
    }
    set({ work: 'checking', done: 0, failure: null });
    if (!(await check([]))) return again();
    set({ work: 'clicks' });
    const { clickOverDb: overDb, clickDbfs: leastDbfs } = thresholdsOf(project);
    const due = nowAndThen();
    const edges = await engine.findClicks(playable, { overDb, leastDbfs }, signal, (done) => {
      if (due()) set({ done });
    });
    if (signal.aborted) return;
    const clicks = 'ok' in edges ? edges.ok : [];
    if ('failure' in edges) set({ failure: edges.failure });
    await yieldNow();
    const checked = await check(clicks);
    if (!checked) return again();
    const found = { measured, checked, clicks, mends: new Map<string, Mend>() };
    await this.findFixes(project, playable, found, signal, set);
  }

  /** Works out what mends what was found, as far as that is not known. */
  private async findFixes(
    project: Project,
    playable: Project,
    found: Known,
    signal: AbortSignal,
    set: (change: Partial<CheckState>) => void,
  ): Promise<void> {
    this.known.set(project, found);
    const { checked, clicks, mends } = found;
    const { findings } = checked;
    const request = this.request(playable, clicks);
    // What breaks a limit is mended first.
    const order = [...findings].sort((a, b) => Number(b.weight === 'breaks') - Number(a.weight === 'breaks'));
    const due = nowAndThen();
    const dueMends = nowAndThen(findings.length > MANY_FINDINGS ? MANY_SHOWN_EVERY_MS : undefined);
    const open = order.filter(({ id }) => !mends.has(id));
    if (open.length === 0) return set({ work: null, done: 1 });
    set({ work: 'fixes', done: 0 });
    // Drawing what was found and handing thousands of findings over are two tasks.
    await yieldNow();
    if (signal.aborted) return;
    let done = order.length - open.length;
    const outcome = await this.engine.fixes(playable, request, open, (id, mend) => {
      mends.set(id, mend);
      done++;
      if (due()) set({ done: done / order.length });
      if (dueMends()) set({ mends: new Map(mends) });
    });
    if (signal.aborted) return;
    const all = new Map(mends);
    if ('failure' in outcome) return set({ failure: outcome.failure, work: null, mends: all });
    if ('cancelled' in outcome) {
      // The programme was shown in another state meanwhile: on with it when it rests.
      set({ work: null, mends: all });
      return this.retry();
    }
    set({ work: null, mends: all, done: 1 });
  }

  /** What the programme as it stands comes to, looked at once where nobody has looked. */
  async now(): Promise<Pick<CheckState, 'checked' | 'mends'>> {
    const { project } = this.session.getState().history;
    const { of, checked, mends } = this.store.getState();
    if (of === project && checked) return { checked, mends };
    const playable = this.playable(project);
    const outcome = await this.engine.check(playable, this.request(playable, []));
    return { checked: 'ok' in outcome ? outcome.ok : null, mends: new Map() };
  }

  /** Works out how to mend all that breaks a limit, as a proposal; anything else that is being worked out waits. */
  async mendAll(): Promise<void> {
    const { project } = this.session.getState().history;
    const { of } = this.store.getState();
    if (of !== project) return;
    this.stop();
    const controller = new AbortController();
    this.controller = controller;
    const { signal } = controller;
    const set = (change: Partial<CheckState>): void => {
      if (!signal.aborted) this.store.setState(change);
    };
    const playable = this.playable(project);
    const due = nowAndThen();
    set({ work: 'mending', done: 0, mended: null });
    const outcome = await this.engine.mendAll(
      playable,
      this.request(playable, this.known.get(project)?.clicks ?? []),
      project.accepted.map(({ id }) => id),
      (done) => {
        if (due()) set({ done });
      },
    );
    if ('failure' in outcome) set({ failure: outcome.failure, work: null });
    else set({ work: null, ...('ok' in outcome && { mended: outcome.ok }) });
  }

  /** Puts the proposal to mend all away, and goes on working out single fixes. */
  dismiss(): void {
    this.store.setState({ mended: null });
    this.begun = null;
    this.follow();
  }
}
