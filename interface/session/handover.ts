import { createStore, type StoreApi } from 'zustand/vanilla';
import type { WriteFormat } from '@/core/audio/pcm';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { Project } from '@/core/programme/model';
import type { Failure } from '@/engine/protocol';
import { measurePool } from '@/engine/measurePool';
import type { ProgrammeEngine } from '@/engine/programmeEngine';

/** A file that was handed over, with what it measures by itself. */
export interface HandedOver {
  readonly blob: Blob;
  readonly fileName: string;
  readonly format: WriteFormat;
  /** The programme it was rendered from, as it was then. */
  readonly project: Project;
  /** What the programme measured, and what the file measures when it is read back. */
  readonly programme: LoudnessFigures;
  readonly file: LoudnessFigures;
  readonly clippedSamples: number;
}

export interface HandoverState {
  readonly phase: 'idle' | 'rendering' | 'measuring';
  /** 0 to 1 within the phase. */
  readonly done: number;
  /** How the next file is written. */
  readonly format: WriteFormat;
  readonly result: HandedOver | null;
  readonly failure: Failure | null;
}

/** Renders the programme to a file, reads the file back and measures it. Goes on while the stage changes. */
export class Handover {
  readonly store: StoreApi<HandoverState> = createStore<HandoverState>(() => ({
    phase: 'idle',
    done: 0,
    format: 's24',
    result: null,
    failure: null,
  }));
  private controller: AbortController | null = null;

  constructor(private readonly engine: ProgrammeEngine) {}

  cancel(): void {
    this.controller?.abort();
  }

  /** Renders and measures; ends early when cancelled, or with a failure told in the state. */
  async start(
    project: Project,
    programme: LoudnessFigures,
    format: WriteFormat,
    fileName: string,
  ): Promise<void> {
    this.cancel();
    const controller = new AbortController();
    this.controller = controller;
    const progress = (done: number): void => {
      if (this.controller === controller) this.store.setState({ done });
    };
    const finish = (change: Partial<HandoverState>): void => {
      if (this.controller === controller) this.store.setState({ phase: 'idle', done: 0, ...change });
    };
    this.store.setState({ phase: 'rendering', done: 0, result: null, failure: null });
    const rendered = await this.engine.render(project, format, controller.signal, progress);
    if ('failure' in rendered) return finish({ failure: rendered.failure });
    if ('cancelled' in rendered) return finish({});
    const { blob, clippedSamples } = rendered.ok;
    this.store.setState({ phase: 'measuring', done: 0 });
    const measured = await measurePool().measureFile(blob, controller.signal, progress);
    if ('failure' in measured) return finish({ failure: measured.failure });
    if ('cancelled' in measured) return finish({});
    const file = measured.ok.measurement.figures;
    finish({ result: { blob, fileName, format, project, programme, file, clippedSamples } });
  }
}
