import { placeSource } from '@/core/programme/edits/clips';
import { addSources } from '@/core/programme/edits/project';
import { startHistory } from '@/core/programme/history';
import { PLAIN_TRACK, clipEnd, type Project, type Source } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { FROSTLINE } from '@/demo/frostline';
import { listProjects, restoreProject, saveProject } from '@/storage/projects';
import { importFile } from '../session/importFile';
import { DEMO_ID } from './demoId';
import { newId } from '../session/newId';

const FILES = [...new Set([...FROSTLINE.told, ...FROSTLINE.beneath].map((entry) => entry.file))];

/** Lays the demo's sources out as `demo/frostline.ts` says. */
export function placeDemo(empty: Project, sources: readonly Source[]): Project {
  const rate = empty.sampleRate;
  const byFile = new Map(sources.map((source) => [source.name, source]));
  let project: Project = addSources(
    {
      ...empty,
      tracks: FROSTLINE.tracks.map(({ key, name, role }) => ({
        id: key,
        name,
        role,
        ...PLAIN_TRACK,
      })),
    },
    sources,
  );
  const place = (file: string, trackId: string, start: number): number => {
    project = placeSource(project, { clipId: newId(), sourceId: byFile.get(file)!.id, trackId, start });
    return clipEnd(project.clips.at(-1)!);
  };
  const starts = new Map<string, number>();
  let end = 0;
  for (const { file, track, pause } of FROSTLINE.told) {
    starts.set(file, end + pause * rate);
    end = place(file, track, end + pause * rate);
  }
  for (const { file, track, under, shift, times } of FROSTLINE.beneath) {
    let at = (under ? starts.get(under)! : 0) + shift * rate;
    for (let i = 0; i < times; i++) at = place(file, track, at);
  }
  return project;
}

async function importDemo(
  id: string,
  name: string,
  onProgress: (done: number, of: number) => void,
): Promise<void> {
  let done = 0;
  onProgress(0, FILES.length);
  const sources = await Promise.all(
    FILES.map(async (file) => {
      const answer = await fetch(`/demo/${file}`);
      if (!answer.ok) throw new Error(`${file} could not be fetched (${answer.status})`);
      const outcome = await importFile(
        await answer.blob(),
        file,
        new AbortController().signal,
        () => undefined,
      );
      if (!('ok' in outcome)) {
        throw new Error(
          'failure' in outcome ? `${outcome.failure.message} ${outcome.failure.hint}` : 'It was cancelled.',
        );
      }
      onProgress(++done, FILES.length);
      return outcome.ok.source;
    }),
  );
  await saveProject(startHistory(placeDemo(newProject(id, name, 'unused'), sources)));
}

const underWay = new Map<string, Promise<string>>();

async function prepare(id: string, onProgress: (done: number, of: number) => void): Promise<string> {
  const { entries, unreadable } = await listProjects();
  const known = entries.find((entry) => entry.id === id);
  if (unreadable.some((entry) => entry.id === id))
    throw new Error('The demo programme in this browser is damaged. Ask for a fresh copy on the shelf.');
  if (known?.deletedAt) await restoreProject(id);
  if (!known) {
    const copies = entries.filter((entry) => entry.name.startsWith(FROSTLINE.name)).length;
    await importDemo(id, copies === 0 ? FROSTLINE.name : `${FROSTLINE.name} ${copies + 1}`, onProgress);
  }
  return id;
}

/**
 * Makes sure that the demo programme is there.
 * @param fresh make a further copy, as it is shipped, rather than opening the one there is
 * @returns the project's id
 */
export function openDemo(fresh: boolean, onProgress: (done: number, of: number) => void): Promise<string> {
  const id = fresh ? newId() : DEMO_ID;
  const started = underWay.get(id) ?? prepare(id, onProgress).finally(() => underWay.delete(id));
  underWay.set(id, started);
  return started;
}
