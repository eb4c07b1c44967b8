import { createStore, type StoreApi } from 'zustand/vanilla';
import { foundSpeech, setSpeech } from '@/core/programme/edits/speech';
import type { Id, Project, Source } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { voicePool } from '@/engine/voicePool';
import type { Failure } from '@/engine/protocol';
import { getVoice, putVoice } from '@/storage/measurements';

interface Host {
  readonly audioOf: (audioKey: string) => Blob | undefined;
  readonly step: (name: string, edit: (project: Project) => Project) => void;
  readonly onFailed: (source: Source, failure: Failure) => void;
}

/** Finds out when somebody speaks in sources, by the voice detector; what was found before is not looked for again. */
export class SpeechFinder {
  /** How far each source is, 0 to 1; empty when nothing is looked for. */
  readonly store: StoreApi<ReadonlyMap<Id, number>> = createStore<ReadonlyMap<Id, number>>(() => new Map());
  private controller: AbortController | null = null;

  constructor(private readonly host: Host) {}

  private tell(id: Id, done: number | null): void {
    const next = new Map(this.store.getState());
    if (done === null) next.delete(id);
    else next.set(id, done);
    this.store.setState(next, true);
  }

  /** Looks through sources; what is found is one step. What is under way already goes on. */
  async find(sources: readonly Source[]): Promise<void> {
    if (this.controller || sources.length === 0) return;
    const controller = new AbortController();
    this.controller = controller;
    for (const { id } of sources) this.tell(id, 0);
    const found = await Promise.all(sources.map((source) => this.findIn(source, controller.signal)));
    this.controller = null;
    this.store.setState(new Map(), true);
    const told = sources.filter((_, i) => found[i] !== null);
    if (controller.signal.aborted || told.length === 0) return;
    const name = `Find speech in ${told.length === 1 ? told[0]!.name : count(told.length, 'source')}`;
    this.host.step(name, (project) =>
      sources.reduce((edited, source, i) => {
        const certainty = found[i];
        if (!certainty) return edited;
        return setSpeech(edited, source.id, foundSpeech(source, certainty));
      }, project),
    );
  }

  private async findIn(source: Source, signal: AbortSignal): Promise<Uint8Array | null> {
    const { id, audioKey } = source;
    const stored = await getVoice(audioKey).catch(() => null);
    const blob = this.host.audioOf(audioKey);
    if (stored || !blob) {
      this.tell(id, null);
      return stored;
    }
    const outcome = await voicePool().certainty(blob, signal, (done) => {
      if (!signal.aborted) this.tell(id, done);
    });
    if ('failure' in outcome) this.host.onFailed(source, outcome.failure);
    if (!('ok' in outcome)) return null;
    // Only a shortcut for the next time.
    await putVoice(audioKey, outcome.ok).catch(() => undefined);
    return outcome.ok;
  }

  cancel(): void {
    this.controller?.abort();
  }
}
