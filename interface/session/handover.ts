import { createStore, type StoreApi } from 'zustand/vanilla';
import { filesOf, sameNames, type DeliveryFile } from '@/core/deliver/deliveryFiles';
import type { HandedRecord } from '@/core/deliver/handedRecords';
import type { Receipt } from '@/core/deliver/receipt';
import type { Delivery } from '@/core/programme/delivery';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { Project } from '@/core/programme/model';
import { dateText, timeText } from '@/core/text/dates';
import { DeliverEngine } from '@/engine/deliverEngine';
import { toFailure } from '@/engine/failure';
import type { Failure } from '@/engine/protocol';
import { distinctNames, type Destination, type NamedBlob } from '../ui/saveMany';
import { isOnItsWay, type DeliveredFile, type FileLine, type LineState } from './deliveries/fileLine';
import { Handed } from './deliveries/handed';
import { DeliveryRun } from './deliveries/run';
import { Gathered } from './gathered';

export interface HandoverState {
  /** A run is under way. */
  readonly running: boolean;
  /** By key, those of earlier runs included. */
  readonly lines: ReadonlyMap<string, FileLine>;
  /** How far those on their way are in their phase, 0 to 1, by key: apart, as only what shows it follows it. */
  readonly done: ReadonlyMap<string, number>;
  /** Why a run as a whole could not go on. */
  readonly failure: Failure | null;
}

/** What a session lends to its handover. */
interface HandoverContext {
  /** The sound of a source by its audio key. */
  readonly audioOf: (audioKey: string) => Blob | undefined;
  /** Keeps what was handed over, where it is to outlive the visit. */
  readonly keep?: () => void;
}

/** Progress is shown so often. */
const SHOWN_EVERY_MS = 120;

const NOT_SAVED_HINT =
  'Check that there is room and that the folder may be written to, then render it again.';

const withoutBytes = (result: DeliveredFile): Omit<DeliveredFile, 'blob'> => {
  const { blob, ...record } = result;
  void blob;
  return record;
};

/** Renders deliveries, reads every file back and measures it. Goes on while the stage changes. */
export class Handover {
  readonly store: StoreApi<HandoverState> = createStore<HandoverState>(() => ({
    running: false,
    lines: new Map(),
    done: new Map(),
    failure: null,
  }));
  private controller: AbortController | null = null;
  private readonly controllers = new Map<string, AbortController>();
  private engine: DeliverEngine | null = null;
  /** How far files are: told many times a second for each, shown a few times for all. */
  private readonly told = new Gathered<number>(SHOWN_EVERY_MS, (told) =>
    this.store.setState(({ done }) => ({ done: new Map([...done, ...told]) })),
  );
  private keeping = false;

  constructor(private readonly context: HandoverContext) {}

  /** Gives up all that is still to come. */
  cancel(): void {
    this.controller?.abort();
    for (const [key, line] of this.store.getState().lines) if (isOnItsWay(line)) this.cancelFile(key);
  }

  /** Gives up one file; the others go on. */
  cancelFile(key: string): void {
    this.controllers.get(key)?.abort();
    this.engine?.drop(key);
    this.end(key, { state: 'cancelled' });
  }

  private line(key: string, change: Partial<FileLine>): void {
    this.told.drop(key);
    this.lines([[key, change]]);
  }

  private lines(changes: readonly (readonly [string, Partial<FileLine>])[]): void {
    this.store.setState(({ lines, done }) => {
      const [next, far] = [new Map(lines), new Map(done)];
      for (const [key, change] of changes) {
        const line = next.get(key);
        if (line) next.set(key, { ...line, ...change });
        // Each phase begins anew.
        far.delete(key);
      }
      return { lines: next, done: far };
    });
    if (changes.some(([, change]) => change.result)) this.keep();
  }

  /** Once for all that comes together. */
  private keep(): void {
    const { keep } = this.context;
    if (!keep || this.keeping) return;
    this.keeping = true;
    queueMicrotask(() => {
      this.keeping = false;
      keep();
    });
  }

  /** What was handed over, without its bytes. */
  records(): readonly HandedRecord[] {
    return [...this.store.getState().lines.values()].flatMap(({ file, result }) => {
      if (!result) return [];
      return [{ ...withoutBytes(result), file }];
    });
  }

  /** Puts back what was handed over on earlier visits; what is there already stands. */
  restore(records: readonly HandedRecord[]): void {
    this.store.setState(({ lines }) => ({
      lines: new Map([
        ...records.map(({ file, ...record }): [string, FileLine] => [
          file.key,
          { file, state: 'done', failure: null, measured: null, result: { ...record, blob: null } },
        ]),
        ...lines,
      ]),
    }));
  }

  /** A recipient has answered to a file. */
  answered(key: string, receipt: Receipt): void {
    const result = this.store.getState().lines.get(key)?.result;
    if (result) this.line(key, { result: { ...result, receipts: [...result.receipts, receipt] } });
  }

  private far(key: string, state: LineState, done: number): void {
    const line = this.store.getState().lines.get(key);
    if (!line || !isOnItsWay(line)) return;
    if (line.state !== state) this.line(key, { state });
    this.told.add(key, done);
  }

  /** What became of a file; what is told of it afterwards is late. */
  private end(key: string, change: Partial<FileLine>): void {
    const line = this.store.getState().lines.get(key);
    if (line && isOnItsWay(line)) this.line(key, change);
  }

  /**
   * Renders the files of some deliveries.
   * @param programme what the whole of it measures
   * @param save where they go as each is done; `null`: they are kept here, to be saved one by one
   */
  async run(
    project: Project,
    programme: LoudnessFigures | null,
    deliveries: readonly Delivery[],
    save: Destination | null,
  ): Promise<void> {
    const files = deliveries.flatMap((delivery) => filesOf(project, delivery, dateText(new Date())));
    await this.runFiles(project, programme, files, save);
  }

  /**
   * Renders files.
   * @param programme what the whole of it measures
   * @param save where they go as each is done; `null`: they are kept here, to be saved one by one
   * @param last what goes there behind them, once all of them are done
   */
  async runFiles(
    project: Project,
    programme: LoudnessFigures | null,
    files: readonly DeliveryFile[],
    save: Destination | null,
    last: readonly NamedBlob[] = [],
  ): Promise<void> {
    if (this.store.getState().running || files.length === 0 || sameNames(files).length > 0) return;
    const controller = new AbortController();
    this.controller = controller;
    this.controllers.clear();
    for (const { key } of files) this.controllers.set(key, new AbortController());
    this.store.setState(({ lines }) => ({
      running: true,
      failure: null,
      lines: new Map([
        ...lines,
        ...files.map((file): [string, FileLine] => [
          file.key,
          { file, state: 'waiting', failure: null, measured: null, result: null },
        ]),
      ]),
    }));
    const handed = new Handed<NamedBlob>();
    const saving = save?.(handed).catch((error: unknown) => {
      const { message } = toFailure(error);
      this.store.setState({
        failure: { code: 'notSaved', message: `It could not be saved: ${message}`, hint: NOT_SAVED_HINT },
      });
      this.cancel();
    });
    try {
      await this.make({ project, programme }, files, controller.signal, save ? handed : null);
      const { lines } = this.store.getState();
      // What points to files is saved where all of them are there.
      if (files.every(({ key }) => ['saving', 'done'].includes(lines.get(key)!.state)))
        last.forEach((blob) => handed.put(blob));
    } catch (error) {
      this.store.setState({ failure: toFailure(error) });
    } finally {
      handed.close();
      await saving;
      for (const { key } of files) this.end(key, { state: 'cancelled' });
      if (this.controller === controller) this.store.setState({ running: false });
    }
  }

  private async make(
    of: { readonly project: Project; readonly programme: LoudnessFigures | null },
    files: readonly DeliveryFile[],
    signal: AbortSignal,
    handed: Handed<NamedBlob> | null,
  ): Promise<void> {
    const engine = new DeliverEngine();
    this.engine = engine;
    const distinct = distinctNames();
    try {
      const sounds = new Map<string, Blob>();
      for (const { audioKey } of of.project.sources) {
        const blob = this.context.audioOf(audioKey);
        if (blob) sounds.set(audioKey, blob);
      }
      await engine.take(of.project, sounds);
      const run = new DeliveryRun({
        ...{ engine, ...of, signal },
        now: () => timeText(new Date()),
        signalOf: (key) => this.controllers.get(key)!.signal,
        phase: (key, state, done) => this.far(key, state, done),
        measured: (key, measured) => this.line(key, { measured }),
        end: (key, change) => this.end(key, change),
        finished: (file, result) => {
          if (handed) this.hand(file, result, distinct(file.name), handed);
          else this.end(file.key, { state: 'done', result });
        },
      });
      await run.start(files);
    } finally {
      this.engine = null;
      engine.close();
    }
  }

  /** Hands a finished file over to where files are saved; it is done once it is there. */
  private hand({ key }: DeliveryFile, result: DeliveredFile, name: string, handed: Handed<NamedBlob>): void {
    this.line(key, { state: 'saving' });
    handed.put({
      name,
      blob: result.blob!,
      told: (savedAs) => this.end(key, { state: 'done', result: { ...result, blob: null, savedAs } }),
      // A file that is proved is not thrown away: it can still be saved by hand.
      failed: (error) =>
        this.end(key, {
          ...{ state: 'failed', result },
          failure: {
            code: 'notSaved',
            message: `${name} could not be saved: ${error instanceof Error ? error.message : String(error)}.`,
            hint: 'Check that there is room and that the folder may be written to, then save it by hand.',
          },
        }),
    });
  }

  /** It was saved by hand. */
  saved(key: string): void {
    const result = this.store.getState().lines.get(key)?.result;
    if (result) this.line(key, { state: 'done', failure: null, result: { ...result, savedAs: result.name } });
  }
}
