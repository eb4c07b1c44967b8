import { keptRecords, type HandedRecord } from '@/core/deliver/handedRecords';
import type { History } from '@/core/programme/history';
import {
  HANDOVER,
  MANIFEST,
  manifestOf,
  PROJECT,
  soundPath,
  soundsOf,
  type PackedSound,
} from '@/core/programme/pack';
import { timeText } from '@/core/text/dates';
import { GivenUp, got } from '@/engine/failure';
import type { PackEngine } from '@/engine/packEngine';
import { getAudio } from '@/storage/audio';
import { projectFile } from '@/storage/projects';
import type { NamedBlob } from '../ui/saveMany';

const jsonPart = (name: string, text: string): NamedBlob => ({ name, blob: new Blob([text]) });

/** The parts of a project's file, to be written one after the other. */
export interface PackParts {
  readonly parts: AsyncIterable<NamedBlob>;
  /** Names of sounds that are not there. */
  readonly missing: readonly string[];
}

/**
 * Gathers the parts of a project's file: sounds are looked at first, so that the list can stand before them.
 * @param far told how far it is, 0 to 1
 * @throws GivenUp when the signal is aborted
 */
export async function packParts(
  { project, past, future }: History,
  records: readonly HandedRecord[],
  withSound: boolean,
  engine: PackEngine,
  signal: AbortSignal,
  far: (done: number) => void,
): Promise<PackParts> {
  const sources = soundsOf(project);
  const missing: string[] = [];
  const sounds: PackedSound[] = [];
  const blobs = new Map<string, Blob>();
  for (const [i, source] of sources.entries()) {
    const { audioKey, name: named } = source;
    const blob = await getAudio(audioKey);
    if (!blob) missing.push(named);
    const step = (part: number): void => far((0.5 * (i + part)) / sources.length);
    const sha256 = blob && got(await engine.hash(blob, signal, step));
    const path = blob && withSound ? soundPath(source, i) : null;
    sounds.push({ audioKey, name: named, bytes: blob?.size ?? source.byteLength, sha256, path });
    if (blob && path) blobs.set(path, blob);
  }
  const version = process.env['DENGUNG_VERSION'] ?? '';
  const manifest = manifestOf(project.name, sounds, version, timeText(new Date()));
  const parts = async function* (): AsyncGenerator<NamedBlob> {
    yield jsonPart(MANIFEST, `${JSON.stringify(manifest, null, 2)}\n`);
    yield jsonPart(PROJECT, projectFile({ project, past, future }));
    yield jsonPart(HANDOVER, JSON.stringify(keptRecords(records)));
    let done = 0;
    for (const [path, blob] of blobs) {
      if (signal.aborted) throw new GivenUp();
      yield { name: path, blob };
      far(0.5 + (0.5 * ++done) / blobs.size);
    }
  };
  return { parts: parts(), missing };
}
