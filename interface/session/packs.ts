import { createStore } from 'zustand/vanilla';
import { readRecords, recordsFor, type HandedRecord } from '@/core/deliver/handedRecords';
import { startHistory, type History } from '@/core/programme/history';
import { PACK_ENDING, type PackManifest } from '@/core/programme/pack';
import { safeName } from '@/core/text/safeName';
import { count } from '@/core/text/words';
import { GivenUp, got } from '@/engine/failure';
import { PackEngine } from '@/engine/packEngine';
import { getAudio, newAudioKey, putAudio } from '@/storage/audio';
import { saveHandover } from '@/storage/handovers';
import { saveProject } from '@/storage/projects';
import { pickZip } from '../ui/saveMany';
import { whileBringingIn } from './bringingIn';
import { newId } from './newId';
import { packParts } from './packParts';

/** A project on its way into a file, or out of one. */
export interface Packing {
  readonly label: string;
  /** 0 to 1. */
  readonly done: number;
  readonly cancel: () => void;
}

/** What is under way; one at a time. */
export const packing = createStore<{ readonly now: Packing | null }>(() => ({ now: null }));

/** Does something with a pack while it is shown how far it is. @returns `null` when it was given up */
async function shown<T>(
  label: string,
  work: (engine: PackEngine, signal: AbortSignal, far: (done: number) => void) => Promise<T>,
): Promise<T | null> {
  if (packing.getState().now) return null;
  const controller = new AbortController();
  const engine = new PackEngine();
  const cancel = (): void => controller.abort();
  const far = (done: number): void => packing.setState({ now: { label, done, cancel } });
  far(0);
  try {
    return await work(engine, controller.signal, far);
  } catch (error) {
    if (error instanceof GivenUp || controller.signal.aborted) return null;
    throw error;
  } finally {
    engine.close();
    packing.setState({ now: null });
  }
}

/**
 * Saves a project as one file: with its history, what was handed over, and its sound or what tells it from any other.
 * @returns names of sounds that are not there; `null` when it was given up
 */
export async function savePack(
  history: History,
  records: readonly HandedRecord[],
  withSound: boolean,
): Promise<readonly string[] | null> {
  const name = `${safeName(history.project.name)}${PACK_ENDING}`;
  const destination = await pickZip(name, { description: 'Dengung project', ending: PACK_ENDING });
  if (!destination) return null;
  return shown(`Saving ${name}`, async (engine, signal, far) => {
    const { missing, parts } = await packParts(history, records, withSound, engine, signal, far);
    await destination(parts);
    return missing;
  });
}

/** Which keys the sounds of a pack get here: their own, unless another sound has that. Those that are here are not kept twice. */
async function keysHere(
  { sounds }: PackManifest,
  engine: PackEngine,
  signal: AbortSignal,
): Promise<{ readonly keys: ReadonlyMap<string, string>; readonly here: ReadonlySet<string> }> {
  const keys = new Map<string, string>();
  const here = new Set<string>();
  for (const { audioKey, bytes, sha256 } of sounds) {
    const there = await getAudio(audioKey);
    if (!there) continue;
    const same = there.size === bytes && got(await engine.hash(there, signal, () => undefined)) === sha256;
    if (same) here.add(audioKey);
    else keys.set(audioKey, newAudioKey(newId()));
  }
  return { keys, here };
}

/** A project that came out of a file. */
export interface OpenedProject {
  readonly id: string;
  readonly name: string;
  /** What is not as it was, full sentences. */
  readonly notes: readonly string[];
}

/** Opens a project from one file, as a project of its own. @returns `null` when it was given up */
export const openPack = (file: File, freeName: (wanted: string) => string): Promise<OpenedProject | null> =>
  whileBringingIn(() =>
    shown(`Opening ${file.name}`, async (engine, signal, far) => {
      const manifest = got(await engine.look(file));
      const { keys, here } = await keysHere(manifest, engine, signal);
      const opened = got(await engine.open(file, keys, signal, (done) => far(done / 2)));
      const { project: read, sounds, damaged, handover } = opened;
      const fresh = sounds.filter(({ audioKey }) => !here.has(audioKey));
      for (const [i, { audioKey, blob }] of fresh.entries()) {
        const step = (part: number): void => far(0.5 + (0.5 * (i + part)) / fresh.length);
        if (!(await putAudio(audioKey, blob, signal, step))) throw new GivenUp();
      }
      const project = { ...read.project, id: newId(), name: freeName(read.project.name) };
      await saveProject({ ...startHistory(project), past: read.past, future: read.future });
      const records = recordsFor(project.id, readRecords(handover));
      if (records.length > 0) await saveHandover(project.id, records);
      const without = manifest.sounds.filter(
        ({ audioKey, path }) => path === null && !here.has(audioKey),
      ).length;
      return {
        ...{ id: project.id, name: project.name },
        notes: [
          ...(read.lost === null ? [] : [read.lost]),
          ...(damaged.length > 0
            ? [`The sound of ${damaged.join(', ')} is damaged and left out: relink it in Sources.`]
            : []),
          ...(without > 0
            ? [
                `${count(without, 'sound')} ${without === 1 ? 'is' : 'are'} not in the file: relink in Sources.`,
              ]
            : []),
        ],
      };
    }),
  );
