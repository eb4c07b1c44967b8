import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Failure } from '@/engine/protocol';
import type { Audit } from './audit';
import type { CorrectionWay } from '@/core/proposals/correction';
import type { MendOutcome } from './mendFile';
import { csvOf } from '../ui/csv';
import { distinctNames, type Destination, type NamedBlob } from '../ui/saveMany';

/** What became of a file in a run. */
export interface RunLine {
  readonly id: string;
  readonly name: string;
  /** A full sentence. */
  readonly said: string;
  readonly state: 'saved' | 'left' | 'failed';
}

export interface RunState {
  readonly running: boolean;
  /** Of how many files, and at which of them it is, from 1. */
  readonly of: number;
  readonly at: number;
  readonly label: string;
  /** Of the file in hand, 0 to 1. */
  readonly done: number;
  readonly lines: readonly RunLine[];
  readonly cancelled: boolean;
  readonly failure: Failure | null;
}

const NOTHING: RunState = {
  ...{ running: false, of: 0, at: 0, label: '', done: 0, lines: [], cancelled: false, failure: null },
};

const REPORT_HEAD = [
  ...['file', 'savedAs', 'gainDb', 'limiterDb', 'integratedLufsBefore', 'integratedLufs'],
  ...['truePeakDbtpBefore', 'truePeakDbtp', 'meets', 'said'],
];

type Cell = string | number | boolean | null;

/** Mends many files and saves each as soon as it is done, so that none is held longer than it must. */
export class MendRun {
  readonly store: StoreApi<RunState> = createStore<RunState>(() => NOTHING);
  private controller: AbortController | null = null;

  constructor(private readonly audit: Audit) {}

  cancel(): void {
    this.controller?.abort();
  }

  dismiss(): void {
    if (!this.store.getState().running) this.store.setState(NOTHING);
  }

  async start(ids: readonly string[], way: CorrectionWay, destination: Destination): Promise<void> {
    if (this.store.getState().running) return;
    const controller = new AbortController();
    this.controller = controller;
    this.store.setState({ ...NOTHING, running: true, of: ids.length });
    try {
      await destination(this.files(ids, way, controller.signal));
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      this.store.setState({
        failure: {
          ...{ code: 'notSaved', message: `It could not be saved: ${message}` },
          hint: 'Check that there is room and that the folder may be written to, then mend the rest again.',
        },
      });
    } finally {
      this.store.setState({ running: false, cancelled: controller.signal.aborted });
    }
  }

  private line(line: RunLine): void {
    this.store.setState(({ lines }) => ({ lines: [...lines, line] }));
  }

  private async *files(
    ids: readonly string[],
    way: CorrectionWay,
    signal: AbortSignal,
  ): AsyncGenerator<NamedBlob> {
    const distinct = distinctNames();
    const report: Cell[][] = [REPORT_HEAD];
    for (const [i, id] of ids.entries()) {
      const entry = this.audit.file(id);
      if (signal.aborted) break;
      if (!entry) continue;
      this.store.setState({ at: i + 1, done: 0, label: 'Reading' });
      const outcome = await this.audit.mend(id, way, signal, (label, done) =>
        this.store.setState({ label, done }),
      );
      if ('cancelled' in outcome) break;
      const { name } = entry.file;
      const file = entry.folder === '' ? name : `${entry.folder}/${name}`;
      const { integratedLufs, truePeakDbtp } = entry.checked!.judged;
      let savedAs: string | null = null;
      if ('mended' in outcome) {
        const { mended } = outcome;
        savedAs = distinct(entry.folder === '' ? mended.name : `${entry.folder}/${mended.name}`);
        // Once the next is asked for, this one is saved.
        yield { name: savedAs, blob: mended.blob! };
        this.audit.saved(id);
      }
      const said = saidOf(outcome);
      this.line({ id, name: file, ...said });
      const after = 'mended' in outcome ? outcome.mended : null;
      report.push([
        ...[file, savedAs, after?.gainDb ?? null, after?.limitedDb ?? null],
        ...[integratedLufs, after?.figures.integratedLufs ?? null],
        ...[truePeakDbtp, after?.figures.truePeakDbtp ?? null],
        ...[after?.verdict.meets ?? null, said.said],
      ]);
    }
    if (report.length > 1)
      yield { name: 'report.csv', blob: new Blob([csvOf(report)], { type: 'text/csv' }) };
  }
}

function saidOf(outcome: Exclude<MendOutcome, { cancelled: true }>): Pick<RunLine, 'said' | 'state'> {
  if ('mended' in outcome)
    return { state: 'saved', said: [outcome.mended.sentence, ...outcome.mended.wrong].join(' ') };
  if ('left' in outcome) return { state: 'left', said: outcome.left };
  return { state: 'failed', said: `${outcome.failure.message} ${outcome.failure.hint}` };
}
