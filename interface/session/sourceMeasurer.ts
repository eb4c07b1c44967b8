import { declaredLayout } from '@/core/audio/layout';
import type { SoundMeasurement } from '@/core/loudness/sound';
import type { Project, Source } from '@/core/programme/model';
import type { Failure } from '@/engine/protocol';
import { measurePool } from '@/engine/measurePool';
import { getSourceMeasurement, putSourceMeasurement, sourceKey } from '@/storage/measurements';
import { Gathered } from './gathered';
import { keptOf } from './importFile';

/** Opened again, all sources of a project come within a moment. */
const TELL_MS = 60;

/** Sees to it that every source is measured as its channels are declared: from the store, else from the workers. */
export class SourceMeasurer {
  private readonly underWay = new Set<string>();
  /** Sources whose exact true peak is being worked out. */
  private readonly exact = new Set<string>();
  private readonly controller = new AbortController();
  private readonly measured: Gathered<SoundMeasurement>;

  constructor(
    private readonly audioOf: (audioKey: string) => Blob | undefined,
    onMeasured: (measured: ReadonlyMap<string, SoundMeasurement>) => void,
    private readonly onFailed: (source: Source, failure: Failure) => void,
    private readonly onExact: (key: string, truePeakDbtp: number | null) => void,
  ) {
    this.measured = new Gathered(TELL_MS, onMeasured);
  }

  /** Asks for what is missing. */
  want({ sources }: Project, known: ReadonlyMap<string, SoundMeasurement>): void {
    for (const source of sources) {
      const key = sourceKey(source);
      const blob = this.audioOf(source.audioKey);
      if (!blob || known.has(key) || this.underWay.has(key) || this.measured.has(key)) continue;
      this.underWay.add(key);
      void this.measure(key, source, blob).finally(() => this.underWay.delete(key));
    }
  }

  /** Works out the exact true peaks of sources that have been measured, one after the other. */
  async wantExact(
    sources: readonly Source[],
    measurements: ReadonlyMap<string, SoundMeasurement>,
    known: ReadonlyMap<string, number | null>,
  ): Promise<void> {
    for (const source of sources) {
      const key = sourceKey(source);
      const sound = measurements.get(key);
      if (!sound || known.has(key) || this.exact.has(key)) continue;
      this.exact.add(key);
      const blob = this.audioOf(source.audioKey);
      const { signal } = this.controller;
      const outcome = blob && (await measurePool().exactPeak(blob, sound.truePeaks, signal, () => undefined));
      this.exact.delete(key);
      if (signal.aborted) return;
      if (outcome && 'failure' in outcome) this.onFailed(source, outcome.failure);
      // Where there is none, the standard's figure has to do: what waits for it would wait for ever.
      this.onExact(key, outcome && 'ok' in outcome ? outcome.ok.truePeakDbtp : null);
    }
  }

  private async measure(key: string, source: Source, blob: Blob): Promise<void> {
    const stored = await getSourceMeasurement(key).catch(() => null);
    if (stored) return this.measured.add(key, stored);
    // A layout that only the file knows is found in the file again.
    const declared = declaredLayout(source.layout.id, source.layout.labels.length);
    const choice = { track: 0, layoutId: declared?.id ?? null, range: null };
    const outcome = await measurePool().measureFile(blob, this.controller.signal, () => undefined, choice);
    if ('failure' in outcome) this.onFailed(source, outcome.failure);
    if (!('ok' in outcome)) return;
    const measurement = keptOf(outcome.ok.measurement);
    this.measured.add(key, measurement);
    // Only a shortcut for the next visit: if it cannot be kept, it is measured again then.
    await putSourceMeasurement(key, measurement).catch(() => undefined);
  }

  close(): void {
    this.controller.abort();
    this.measured.close();
  }
}
