import { isCutName } from '@/core/timeline/readCut';
import { matchMedia } from '@/core/timeline/matchMedia';
import { compareCut } from '@/core/timeline/compareCut';
import { placeCut } from '@/core/timeline/toProject';
import type { Cut } from '@/core/timeline/cut';
import type { Id, Project, Source } from '@/core/programme/model';
import { measurePool } from '@/engine/measurePool';
import { newId } from './newId';
import type { PendingCut } from './state';

/** What opening cuts needs of its session. */
interface Host {
  readonly cuts: () => readonly PendingCut[];
  readonly setCuts: (cuts: readonly PendingCut[]) => void;
  readonly step: (name: string, edit: (project: Project) => Project) => void;
}

/** The sources for the media of a cut, by `mediaKey`. */
export interface SourcesOfCut {
  readonly found: ReadonlyMap<string, Source>;
  /** Media for which several sources would do: the editor says which. */
  readonly unsure: ReadonlyMap<string, readonly Source[]>;
}

/** The sources of a project for the media of a cut: those chosen by hand, else those that are found. */
export function sourcesFor(
  { cut, links }: { readonly cut: Cut; readonly links: PendingCut['links'] },
  sources: readonly Source[],
): SourcesOfCut {
  const { found, unsure } = matchMedia(
    cut,
    sources.map((source) => ({
      path: [source.folder, source.name].filter(Boolean).join('/'),
      sound: source,
      content: source.audioKey,
    })),
  );
  const byId = new Map(sources.map((source) => [source.id, source]));
  const chosen = Object.entries(links).flatMap(([key, id]) => {
    const source = byId.get(id);
    return source ? [[key, source] as const] : [];
  });
  const isChosen = new Set(chosen.map(([key]) => key));
  return {
    found: new Map([...[...found].map(([key, index]) => [key, sources[index]!] as const), ...chosen]),
    unsure: new Map(
      [...unsure]
        .filter(([key]) => !isChosen.has(key))
        .map(([key, indices]) => [key, indices.map((index) => sources[index]!)]),
    ),
  };
}

const USUAL_FRAME_RATE = '25';

/** Cuts of edit systems: read, then kept until their media is there and they are placed. */
export class Cuts {
  constructor(private readonly host: Host) {}

  private change(id: string, change: Partial<PendingCut>): void {
    this.host.setCuts(this.host.cuts().map((cut) => (cut.id === id ? { ...cut, ...change } : cut)));
  }

  /** Opens those files that are cuts. @returns the others */
  open(files: readonly File[]): File[] {
    for (const file of files.filter(({ name }) => isCutName(name))) {
      const { name } = file;
      const id = newId();
      const pending = { id, name, file, frameRateId: USUAL_FRAME_RATE, cut: null, failure: null, links: {} };
      this.host.setCuts([...this.host.cuts(), pending]);
      void this.read(pending);
    }
    return files.filter(({ name }) => !isCutName(name));
  }

  private async read({ id, file, name, frameRateId }: PendingCut): Promise<void> {
    const outcome = await measurePool().readCut(file, name, frameRateId);
    if ('ok' in outcome) this.change(id, { cut: outcome.ok, failure: null });
    else if ('failure' in outcome) this.change(id, { cut: null, failure: outcome.failure });
  }

  /** Reads a list again with another count of frames. */
  setFrameRate(id: string, frameRateId: string): void {
    this.change(id, { frameRateId });
    const pending = this.host.cuts().find((cut) => cut.id === id);
    if (pending) void this.read(pending);
  }

  /** Says which source stands for a medium. @param media see `mediaKey` */
  relink(id: string, media: string, sourceId: Id): void {
    const pending = this.host.cuts().find((cut) => cut.id === id);
    if (pending) this.change(id, { links: { ...pending.links, [media]: sourceId } });
  }

  dismiss(id: string): void {
    this.host.setCuts(this.host.cuts().filter((cut) => cut.id !== id));
  }

  /**
   * Takes a cut over that came back from the edit, as one step: see `compareCut`.
   * @returns the ids of clips that are new
   */
  takeOver({ id, cut, name, links }: PendingCut): readonly Id[] {
    if (!cut) return [];
    const added: Id[] = [];
    this.host.step(`Take over timeline ${name}`, (project) => {
      const { found } = sourcesFor({ cut, links }, project.sources);
      const { clips, project: after } = compareCut(project, cut, found, newId);
      added.splice(0, added.length, ...clips.flatMap((one) => (one.fate === 'new' ? [one.after!.id] : [])));
      return after;
    });
    this.dismiss(id);
    return added;
  }

  /** Lays a cut out in the programme, as one step. */
  place({ id, cut, name, links }: PendingCut): void {
    if (!cut) return;
    this.host.step(
      `Place timeline ${name}`,
      (project) => placeCut(project, cut, sourcesFor({ cut, links }, project.sources).found, newId).project,
    );
    this.dismiss(id);
  }
}
