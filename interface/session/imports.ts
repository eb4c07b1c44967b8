import { addSources, replaceSources } from '@/core/programme/edits/project';
import type { Project, Source } from '@/core/programme/model';
import { naturalOrder } from '@/core/text/order';
import type { Outcome } from '@/engine/protocol';
import { measurePool } from '@/engine/measurePool';
import type { SoundTrack } from '@/core/audio/stream';
import { combineSources, importFile, type Imported, type ImportPhase } from './importFile';
import { folderOf } from '../ui/folderOf';
import { whileBringingIn } from './bringingIn';
import { newId } from './newId';
import type { ImportJob } from './state';

/** What bringing sound in needs of its session. */
interface Host {
  readonly jobs: () => readonly ImportJob[];
  readonly setJobs: (jobs: readonly ImportJob[]) => void;
  /** Takes over sound that is measured and kept. */
  readonly adopt: (imported: Imported) => void;
  readonly step: (name: string, edit: (project: Project) => Project, merge: string | null) => void;
  readonly audioOf: (audioKey: string) => Blob | undefined;
  /** A file has come in as sources. */
  readonly came: (file: File, sources: readonly Source[]) => void;
}

/** Files on their way in, each on its own: a bad one stops nothing else. */
export class Imports {
  private readonly cancels = new Map<string, AbortController>();
  private readonly choices = new Map<string, (tracks: readonly number[]) => void>();
  /** Begins what has failed once more, by the id of its line. */
  private readonly retries = new Map<string, () => void>();
  private closed = false;

  constructor(private readonly host: Host) {}

  private change(id: string, change: Partial<ImportJob>): void {
    this.host.setJobs(this.host.jobs().map((job) => (job.id === id ? { ...job, ...change } : job)));
  }

  /** Takes a line off the list. */
  dismiss(id: string): void {
    this.retries.delete(id);
    this.host.setJobs(this.host.jobs().filter((job) => job.id !== id));
  }

  /** Tries once more what has failed. */
  retry(id: string): void {
    const begin = this.retries.get(id);
    if (!begin) return;
    this.retries.delete(id);
    this.change(id, { phase: 'waiting', done: 0, failure: null, sounds: [] });
    begin();
  }

  cancel(id: string): void {
    this.cancels.get(id)?.abort();
    this.choices.get(id)?.([]);
  }

  /** Answers the question which of a file's sounds to bring in. */
  choose(id: string, tracks: readonly number[]): void {
    this.choices.get(id)?.(tracks);
  }

  close(): void {
    this.closed = true;
    for (const id of this.cancels.keys()) this.cancel(id);
  }

  private newJob(name: string, bytes: number): ImportJob {
    return { id: newId(), name, bytes, phase: 'waiting', done: 0, failure: null, sounds: [], differs: null };
  }

  /** Runs other work as a line of its own. */
  async line<T>(
    name: string,
    bytes: number,
    work: (
      job: ImportJob,
      signal: AbortSignal,
      onProgress: (phase: ImportPhase, done: number) => void,
    ) => Promise<Outcome<T>>,
  ): Promise<void> {
    const job = this.newJob(name, bytes);
    this.host.setJobs([...this.host.jobs(), job]);
    await this.run(
      job,
      (signal, onProgress) => work(job, signal, onProgress),
      () => undefined,
    );
  }

  /** Asks whether a file that differs is to stand for a source. */
  async confirm({ id }: ImportJob, of: string, differences: readonly string[]): Promise<boolean> {
    const answer = new Promise<readonly number[]>((resolve) => this.choices.set(id, resolve));
    this.change(id, { phase: 'differs', differs: { of, differences } });
    const chosen = await answer;
    this.choices.delete(id);
    return chosen.length > 0;
  }

  /** Runs one line of the list; what fails stays on it with the reason, and can be tried again. @param take given what came of it */
  private async run<T>(
    job: ImportJob,
    work: (
      signal: AbortSignal,
      onProgress: (phase: ImportPhase, done: number) => void,
    ) => Promise<Outcome<T>>,
    take: (result: T) => void,
  ): Promise<void> {
    const { id } = job;
    const controller = new AbortController();
    this.cancels.set(id, controller);
    const outcome = await whileBringingIn(() =>
      work(controller.signal, (phase, done) => {
        if (!controller.signal.aborted) this.change(id, { phase, done });
      }),
    );
    this.cancels.delete(id);
    if (this.closed) return;
    if ('failure' in outcome) {
      this.retries.set(id, () => void this.run(job, work, take));
      this.change(id, { phase: 'failed', failure: outcome.failure });
      return;
    }
    this.dismiss(id);
    if ('ok' in outcome) take(outcome.ok);
  }

  private ask(id: string, sounds: readonly SoundTrack[]): Promise<readonly number[]> {
    return new Promise((resolve) => {
      this.choices.set(id, resolve);
      this.change(id, { phase: 'choosing', sounds });
    });
  }

  /** One file: its one sound, or those of its sounds that are wanted. */
  private async bringIn(
    { id }: ImportJob,
    file: File,
    signal: AbortSignal,
    onProgress: (phase: ImportPhase, done: number) => void,
  ): Promise<Outcome<readonly Imported[]>> {
    const found = await measurePool().soundsOf(file, signal);
    if (!('ok' in found)) return found;
    const sounds = found.ok;
    const chosen = sounds.length > 0 ? await this.ask(id, sounds) : [0];
    this.choices.delete(id);
    if (chosen.length === 0) return { cancelled: true };
    const brought: Imported[] = [];
    for (const track of chosen) {
      const name = sounds.length > 0 ? `${file.name} ${track + 1}` : file.name;
      const outcome = await importFile(file, name, signal, onProgress, track);
      if (!('ok' in outcome)) return outcome;
      brought.push(outcome.ok);
    }
    return { ok: brought };
  }

  /** Brings files in, each a source, in the order of their names. @returns those that came in, in that order */
  async files(picked: readonly File[]): Promise<readonly Source[]> {
    const path = (file: File): string => `${folderOf(file)}/${file.name}`;
    const files = [...picked].sort((a, b) => naturalOrder(path(a), path(b)));
    // Best effort: asked for, the browser is less likely to clear what is kept when the disk runs full.
    void navigator.storage?.persist?.().catch(() => false);
    const batch = newId();
    const lines = files.map((file) => ({ job: this.newJob(file.name, file.size), file }));
    this.host.setJobs([...this.host.jobs(), ...lines.map(({ job }) => job)]);
    let count = 0;
    // Short files come in before long ones that were begun earlier; they stand in the order of the files all the same.
    const arrived: (readonly Source[])[] = lines.map(() => []);
    const take = (file: File, i: number, brought: readonly Imported[]): void => {
      for (const imported of brought) this.host.adopt(imported);
      const folder = folderOf(file);
      const sources = brought.map(({ source }) => ({ ...source, folder }));
      this.host.came(file, sources);
      count += sources.length;
      const name = count === 1 ? `Add ${sources[0]!.name}` : `Add ${count} sources`;
      arrived[i] = sources;
      const order = arrived.flat().map(({ id }) => id);
      this.host.step(name, (project) => addSources(project, sources, order), `import ${batch}`);
    };
    await Promise.all(
      lines.map(({ job, file }, i) =>
        this.run(
          job,
          (signal, onProgress) => this.bringIn(job, file, signal, onProgress),
          (brought) => take(file, i, brought),
        ),
      ),
    );
    return arrived.flat();
  }

  /** Mono sources become one of several channels, in their place where no clip uses them. */
  async combine(sources: readonly Source[], layoutId: string, name: string): Promise<void> {
    const parts = sources.flatMap((source) => {
      const blob = this.host.audioOf(source.audioKey);
      return blob ? [{ source, blob }] : [];
    });
    const bytes = parts.reduce((sum, { blob }) => sum + blob.size, 0);
    const job = this.newJob(name, bytes);
    this.host.setJobs([...this.host.jobs(), job]);
    const ids = new Set(sources.map((source) => source.id));
    await this.run(
      job,
      (signal, onProgress) => combineSources(parts, layoutId, name, signal, onProgress),
      (imported) => {
        this.host.adopt(imported);
        this.host.step(
          `Merge ${sources.length} sources to ${name}`,
          (project) => replaceSources(project, ids, imported.source),
          null,
        );
      },
    );
  }
}
