import { createStore, type StoreApi } from 'zustand/vanilla';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import type { Thresholds } from '@/core/check/findings/thresholds';
import { EBU_R128 } from '@/core/check/shipped';
import { needsSpeech } from '@/core/check/target';
import { mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';
import { targetsOf, thresholdsOf, type CheckedBy } from '@/core/programme/edits/check';
import { exactPeakMatters } from '@/core/proposals/exactPeak';
import { voiceRanges } from '@/core/voice/voiceRanges';
import { measurePool } from '@/engine/measurePool';
import type { CheckedSound, Failure, FileToCheck, Outcome } from '@/engine/protocol';
import { voicePool } from '@/engine/voicePool';
import { AuditFiles } from '@/storage/auditFiles';
import { newId } from '../session/newId';
import { nowAndThen } from '../session/nowAndThen';
import { folderOf } from '../ui/folderOf';
import type { AuditFile, FileSpeech, FileWork } from './auditFile';
import type { CorrectionWay } from '@/core/proposals/correction';
import { mendFile, type MendOutcome } from './mendFile';

export interface AuditState extends CheckedBy {
  readonly files: readonly AuditFile[];
  readonly thresholds: Partial<Thresholds>;
}

/** Files measured at once: the slices of each are shared out to all workers. */
const AT_ONCE = 2;

/** Progress is told so far apart, ms. */
const TELL_MS = 250;

const GONE: Failure = {
  code: 'gone',
  message: 'What was measured of this file is not there any more.',
  hint: 'Take it off the list and add it again.',
};

/** Finished files under audit: measured, held against targets, mended; a bad one stops no other. */
export class Audit {
  readonly store: StoreApi<AuditState> = createStore<AuditState>(() => ({
    ...{ files: [], target: EBU_R128, otherTargets: [], thresholds: {} },
  }));
  private readonly kept: AuditFiles<FileToCheck>;
  private readonly opened: Promise<void>;
  private readonly cancels = new Map<string, AbortController>();
  /** Files whose exact true peak was asked for: once, whatever came of it. */
  private readonly exactTried = new Set<string>();
  private running = 0;
  private queue: { readonly id: string; readonly run: (signal: AbortSignal) => Promise<void> }[] = [];

  constructor(visit: string = newId()) {
    this.kept = new AuditFiles(visit);
    this.opened = this.kept.open().catch(() => undefined);
  }

  private get state(): AuditState {
    return this.store.getState();
  }

  file(id: string): AuditFile | undefined {
    return this.state.files.find((one) => one.id === id);
  }

  private change(id: string, change: Partial<AuditFile>): void {
    this.store.setState(({ files }) => ({
      files: files.map((one) => (one.id === id ? { ...one, ...change } : one)),
    }));
  }

  // ---- the list ------------------------------------------------------------------------------------------------

  /**
   * Puts files on the list; the same file is not put there twice, but measured again where it failed or was stopped.
   * @returns the first of them
   */
  add(files: readonly File[]): string | null {
    const keyOf = (file: File): string => `${folderOf(file)}/${file.name}/${file.size}/${file.lastModified}`;
    const known = new Map(this.state.files.map(({ file, id }) => [keyOf(file), id]));
    const added = files
      .filter((file) => !known.has(keyOf(file)))
      .map((file): AuditFile => ({
        ...{ id: newId(), file, folder: folderOf(file), sounds: [], track: 0, layoutId: null },
        ...{ work: 'waiting', done: 0, failure: null, cancelled: false, checked: null },
        ...{ speech: null, exactPeakDbtp: null, mended: null, turn: 0 },
      }));
    this.store.setState(({ files: before }) => ({ files: [...before, ...added] }));
    for (const { id } of added) this.enqueue(id, (signal) => this.measure(id, signal));
    for (const file of files) {
      const id = known.get(keyOf(file));
      const there = id === undefined ? undefined : this.file(id);
      if (there && there.work === null && (there.failure || there.cancelled)) this.again(there.id);
    }
    return added[0]?.id ?? (files[0] && known.get(keyOf(files[0]))) ?? null;
  }

  remove(ids: ReadonlySet<string>): void {
    for (const id of ids) {
      this.cancels.get(id)?.abort();
      void this.kept.remove(id);
    }
    this.queue = this.queue.filter(({ id }) => !ids.has(id));
    this.store.setState(({ files }) => ({ files: files.filter(({ id }) => !ids.has(id)) }));
  }

  /** Stops what is done to a file, or waits to be done. */
  cancel(id: string): void {
    this.queue = this.queue.filter((one) => one.id !== id);
    this.cancels.get(id)?.abort();
    this.change(id, { work: null, cancelled: true });
  }

  cancelAll(): void {
    this.queue = [];
    for (const controller of this.cancels.values()) controller.abort();
    this.store.setState(({ files }) => ({
      files: files.map((one) => (one.work === null ? one : { ...one, work: null, cancelled: true })),
    }));
  }

  /** Measures a file anew that was stopped, or another of its sounds, or with other channels declared. */
  again(id: string, change: Partial<Pick<AuditFile, 'track' | 'layoutId'>> = {}): void {
    this.exactTried.delete(id);
    this.cancels.get(id)?.abort();
    this.change(id, {
      ...change,
      ...{ checked: null, speech: null, mended: null, failure: null, cancelled: false },
      ...{ exactPeakDbtp: null },
      ...{ work: 'waiting', done: 0 },
    });
    this.enqueue(id, (signal) => this.measure(id, signal));
  }

  close(): void {
    for (const controller of this.cancels.values()) controller.abort();
    this.queue = [];
    for (const { id } of this.state.files) void this.kept.remove(id);
  }

  // ---- work ----------------------------------------------------------------------------------------------------

  private enqueue(id: string, run: (signal: AbortSignal) => Promise<void>): void {
    this.queue.push({ id, run });
    this.next();
  }

  private next(): void {
    while (this.running < AT_ONCE) {
      const task = this.queue.shift();
      if (!task) return;
      const controller = new AbortController();
      this.cancels.set(task.id, controller);
      this.running++;
      void this.opened
        .then(() => (controller.signal.aborted ? undefined : task.run(controller.signal)))
        .finally(() => {
          if (this.cancels.get(task.id) === controller) this.cancels.delete(task.id);
          this.running--;
          this.next();
        });
    }
  }

  private at(id: string, work: FileWork, signal: AbortSignal): (done: number) => void {
    if (!signal.aborted) this.change(id, { work, done: 0, cancelled: false });
    const due = nowAndThen(TELL_MS);
    return (done) => {
      if (!signal.aborted && due()) this.change(id, { done });
    };
  }

  /** @returns what came of it; `null` where it failed, which is told, or was stopped */
  private take<T>(id: string, outcome: Outcome<T>, signal: AbortSignal): T | null {
    if ('ok' in outcome && !signal.aborted) return outcome.ok;
    if (!signal.aborted && 'failure' in outcome)
      this.change(id, { failure: outcome.failure, work: null, checked: null });
    return null;
  }

  private async measure(id: string, signal: AbortSignal): Promise<void> {
    const entry = this.file(id);
    if (!entry) return;
    const onProgress = this.at(id, 'measuring', signal);
    const sounds = this.take(id, await measurePool().soundsOf(entry.file, signal), signal);
    if (!sounds) return;
    this.change(id, { sounds });
    const choice = { ...WHOLE_FIRST_SOUND, track: entry.track, layoutId: entry.layoutId };
    const outcome = await measurePool().fileToCheck(entry.file, signal, onProgress, choice);
    const kept = this.take(id, outcome, signal);
    if (!kept) return;
    await this.kept.put(id, kept);
    await this.check(id, signal);
  }

  /** Holds a file that is measured against the targets in force; finds out when somebody speaks where one goes by that. */
  private async check(id: string, signal: AbortSignal): Promise<void> {
    const kept = await this.measuredOf(id);
    if (!kept || signal.aborted) {
      if (!signal.aborted) this.take(id, { failure: GONE }, signal);
      return;
    }
    const targets = targetsOf(this.state);
    if (targets.some(needsSpeech) && !this.file(id)?.speech && !(await this.speechFor(id, kept, signal)))
      return;
    this.at(id, 'checking', signal);
    // Who speaks may have been found out by now.
    const spoken = (await this.measuredOf(id)) ?? kept;
    const thresholds = thresholdsOf(this.state);
    const exact = this.file(id)?.exactPeakDbtp ?? null;
    const outcome = await measurePool().checkFile(spoken, targets, thresholds, exact, signal);
    const sound = this.take(id, outcome, signal);
    if (!sound) return;
    const { check, mend } = sound;
    const breaks = check.findings.filter(({ weight }) => weight === 'breaks').length;
    this.change(id, {
      ...{ work: null, done: 1, failure: null, turn: (this.file(id)?.turn ?? 0) + 1 },
      checked: {
        ...{ format: kept.format, judged: check.judged, mend },
        ...{ breaks, looks: check.findings.length - breaks },
      },
    });
  }

  /** What was measured of a file, with when somebody speaks in it; `null` where it is gone. */
  async measuredOf(id: string): Promise<FileToCheck | null> {
    const kept = await this.kept.get(id);
    const ranges = this.file(id)?.speech?.ranges ?? null;
    return kept && { ...kept, material: { ...kept.material, speech: ranges } };
  }

  /** All that is found in a file; `null` where it is gone. */
  async details(id: string, signal: AbortSignal): Promise<Outcome<CheckedSound>> {
    const kept = await this.measuredOf(id);
    if (!kept) return { failure: GONE };
    const { state } = this;
    const exact = this.file(id)?.exactPeakDbtp ?? null;
    const [targets, thresholds] = [targetsOf(state), thresholdsOf(state)];
    return measurePool().checkFile(kept, targets, thresholds, exact, signal);
  }

  // ---- what they are held against --------------------------------------------------------------------------------

  /** Changes what all files are checked by, and checks them anew. */
  checkBy(edit: <T extends CheckedBy>(by: T) => T): void {
    const { target, otherTargets, thresholds } = this.state;
    this.store.setState(edit({ target, otherTargets, thresholds }));
    for (const { id, checked } of this.state.files) if (checked) this.recheck(id);
  }

  private recheck(id: string): void {
    this.queue = this.queue.filter((one) => one.id !== id);
    this.change(id, { work: 'waiting', done: 0 });
    this.enqueue(id, (signal) => this.check(id, signal));
  }

  // ---- speech ---------------------------------------------------------------------------------------------------

  /** Works on the samples of a file; where it has none as they are, they are decoded for this, and let go again. */
  private async ofSamples<T>(
    { file, track, layoutId }: AuditFile,
    signal: AbortSignal,
    onProgress: (done: number) => void,
    work: (pcm: Blob, told: (done: number) => void) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    const outcome = track === 0 ? await work(file, onProgress) : null;
    if (outcome && !('failure' in outcome)) return outcome;
    const choice = { ...WHOLE_FIRST_SOUND, track, layoutId };
    const decoded = await measurePool().measureFile(file, signal, (done) => onProgress(done / 2), choice);
    if (!('ok' in decoded)) return decoded;
    return work(decoded.ok.pcm, (done) => onProgress(0.5 + done / 2));
  }

  /** Works out the exact true peak of a file where what mends it may depend on it. */
  findExact(id: string): void {
    const entry = this.file(id);
    if (!entry?.checked || entry.work !== null || this.exactTried.has(id)) return;
    const { mend, judged } = entry.checked;
    const after = judged.truePeakDbtp === null ? null : judged.truePeakDbtp + mend.gainDb;
    if (mend.kind === 'leave' || !exactPeakMatters(after, this.state.target.maxTruePeakDbtp)) return;
    this.exactTried.add(id);
    this.change(id, { work: 'waiting', done: 0 });
    this.enqueue(id, async (signal) => {
      const kept = await this.measuredOf(id);
      if (!kept) return;
      const onProgress = this.at(id, 'peak', signal);
      const outcome = await this.ofSamples(entry, signal, onProgress, (pcm, told) =>
        measurePool().exactPeak(pcm, kept.material.truePeaks, signal, told),
      );
      // Without it the reading of the standard stands.
      if ('ok' in outcome) this.change(id, { exactPeakDbtp: outcome.ok.truePeakDbtp });
      if (!signal.aborted) await this.check(id, signal);
    });
  }

  /** @returns whether it was found out */
  private async speechFor(id: string, kept: FileToCheck, signal: AbortSignal): Promise<boolean> {
    const entry = this.file(id);
    if (!entry) return false;
    const onProgress = this.at(id, 'speech', signal);
    const outcome = await this.ofSamples(entry, signal, onProgress, (pcm, told) =>
      voicePool().certainty(pcm, signal, told),
    );
    const certainty = this.take(id, outcome, signal);
    if (!certainty) return false;
    this.change(id, { speech: { by: 'detector', ranges: voiceRanges(certainty, kept.material.seconds) } });
    return true;
  }

  /** Finds out when somebody speaks in a file; what a hand has set is replaced. */
  findSpeech(id: string): void {
    this.queue = this.queue.filter((one) => one.id !== id);
    this.change(id, { work: 'waiting' });
    this.enqueue(id, async (signal) => {
      const kept = await this.measuredOf(id);
      if (kept && (await this.speechFor(id, kept, signal))) await this.check(id, signal);
    });
  }

  /** Says by hand when somebody speaks. @param ranges seconds; `null`: nothing says so any more */
  setSpeech(id: string, ranges: readonly TimeRange[] | null): void {
    const speech: FileSpeech | null = ranges && { by: 'hand', ranges: mergeRanges(ranges) };
    this.change(id, { speech });
    this.recheck(id);
  }

  // ---- mending --------------------------------------------------------------------------------------------------

  /** Mends a file for the leading target; what is made of it is told to it. */
  async mend(
    id: string,
    way: CorrectionWay,
    signal: AbortSignal,
    told: (label: string, done: number) => void,
  ): Promise<MendOutcome> {
    const entry = this.file(id);
    const kept = await this.measuredOf(id);
    if (!entry?.checked || !kept) return { failure: GONE };
    this.change(id, { work: 'mending', done: 0, cancelled: false });
    const outcome = await mendFile(entry, kept, this.state.target, way, signal, (label, done) => {
      if (signal.aborted) return;
      this.change(id, { done });
      told(label, done);
    });
    this.change(id, { work: null });
    if ('mended' in outcome) this.change(id, { mended: outcome.mended });
    return outcome;
  }

  /** A mended file was saved: its sound is not kept here any longer. */
  saved(id: string): void {
    const mended = this.file(id)?.mended;
    if (mended) this.change(id, { mended: { ...mended, blob: null } });
  }
}
