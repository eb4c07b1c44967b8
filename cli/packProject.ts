import { createHash } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { downloadZip } from 'client-zip';
import { readPack } from '@/codecs/pack/readPack';
import { readProject, ProjectFormatError } from '@/core/programme/migrations';
import {
  PACK_ENDING,
  HANDOVER,
  MANIFEST,
  manifestOf,
  PackError,
  PROJECT,
  soundPath,
  soundsOf,
  type PackedSound,
} from '@/core/programme/pack';
import type { Project } from '@/core/programme/model';
import { clock } from '@/core/text/figures';
import { programmeFrames } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { safeName } from '@/core/text/safeName';
import { timeText } from '@/core/text/dates';
import { writeOtio } from '@/core/timeline/writeOtio';
import { failed } from './failed';
import { hashOf } from './hashOf';
import { absolute, FileError, withFile } from './files';
import { MediaShelf } from './media';
import { osPath } from './names';
import { checkOutput, replacedNotes, SOUND_ENDINGS, writeText, writeWhole } from './output';
import { placedProject, type CutAndMedia } from './placedCut';
import { openPool } from './pool';
import { complain, say, shown } from './say';
import { soundIn } from './walk';

export interface PackOptions extends CutAndMedia {
  readonly out: string;
  readonly withSound: boolean;
  readonly keepExisting: boolean;
  readonly jobs: number;
  readonly version: string;
}

/** With ids and audio keys that say nothing of this machine. */
function withoutPaths(project: Project): {
  readonly project: Project;
  readonly files: ReadonlyMap<string, string>;
} {
  const files = new Map<string, string>();
  const ids = new Map<string, string>();
  const sources = project.sources.map((source, i) => {
    const audioKey = `${Date.now().toString(36)}-${i}${Math.random().toString(36).slice(2, 10)}`;
    files.set(audioKey, source.id);
    ids.set(source.id, `source${i}`);
    return { ...source, id: `source${i}`, audioKey };
  });
  const clips = project.clips.map((clip) => ({ ...clip, sourceId: ids.get(clip.sourceId)! }));
  return { project: { ...project, sources, clips }, files };
}

/** `dengung project pack`. @returns the exit code */
export async function packCommand(options: PackOptions): Promise<number> {
  const pool = openPool(options.jobs);
  const shelf = new MediaShelf(pool);
  try {
    const output = await checkOutput(options.out, {
      inputs: [options.cut],
      keepExisting: options.keepExisting,
      endings: [PACK_ENDING],
    });
    const placed = await placedProject(options, await soundIn(options.media, true), shelf);
    const { project, files } = withoutPaths(placed.project);
    const sounds: PackedSound[] = [];
    for (const [i, source] of soundsOf(project).entries()) {
      const path = files.get(source.audioKey)!;
      const told = await hashOf(shelf.kept(path));
      const within = options.withSound ? soundPath(source, i) : null;
      sounds.push({ audioKey: source.audioKey, name: source.name, ...told, path: within });
    }
    const manifest = manifestOf(project.name, sounds, options.version, timeText(new Date()));
    const parts = function* () {
      yield { name: MANIFEST, input: `${JSON.stringify(manifest, null, 2)}\n` };
      yield { name: PROJECT, input: JSON.stringify({ project, past: [], future: [] }) };
      for (const { audioKey, path, bytes } of sounds)
        if (path) yield { name: path, input: shelf.kept(files.get(audioKey)!), size: bytes };
    };
    const zip = downloadZip(parts());
    await writeWhole(
      output,
      async (sink) => {
        for await (const piece of zip.body! as unknown as AsyncIterable<Uint8Array>) await sink(piece);
      },
      () => Promise.resolve(),
    );
    for (const note of [...replacedNotes(output), ...placed.warnings]) complain(note);
    for (const name of placed.missing) complain(`${shown(name)} was not found: its clips are left out.`);
    say(`${shown(options.out)}: ${count(project.clips.length, 'clip')}, ${count(sounds.length, 'sound')}.`);
    return placed.missing.length > 0 || placed.ambiguous.length > 0 ? 1 : 0;
  } catch (error) {
    return failed(error, false, { file: options.cut });
  } finally {
    await shelf.close();
    await pool.close();
  }
}

/** `dengung project open`: its sound, its timeline and its data into a folder. @returns the exit code */
export async function openCommand(file: string, out: string, keepExisting: boolean): Promise<number> {
  try {
    return await withFile(file, async (source) => {
      const pack = await readPack(source);
      const { project } = readProject(pack.project);
      await mkdir(osPath(absolute(join(out, 'sounds'))), { recursive: true });
      const rules = { inputs: [file], keepExisting, endings: ['.otio', '.json'] };
      let damaged = 0;
      for (const [i, one] of soundsOf(project).entries()) {
        const place = pack.sounds.get(one.audioKey);
        const { sha256 = null } =
          pack.manifest.sounds.find(({ audioKey }) => audioKey === one.audioKey) ?? {};
        if (!place) {
          complain(`The sound of ${shown(one.name)} is not in the file.`);
          continue;
        }
        const output = await checkOutput(join(out, soundPath(one, i)), { ...rules, endings: SOUND_ENDINGS });
        const hash = createHash('sha256');
        await writeWhole(
          output,
          async (sink) => {
            for (let at = 0; at < place.bytes; at += 1 << 20) {
              const piece = await source.read(place.offset + at, Math.min(1 << 20, place.bytes - at));
              hash.update(piece);
              await sink(piece);
            }
          },
          () => Promise.resolve(),
        );
        if (hash.digest('hex') === sha256) continue;
        damaged++;
        complain(`The sound of ${shown(one.name)} is damaged: it is not what the list says.`);
      }
      const name = safeName(project.name);
      await writeText(await checkOutput(join(out, `${name}.otio`), rules), writeOtio(project));
      await writeText(
        await checkOutput(join(out, PROJECT), rules),
        `${JSON.stringify(pack.project, null, 1)}\n`,
      );
      if (pack.handover)
        await writeText(
          await checkOutput(join(out, HANDOVER), rules),
          `${JSON.stringify(pack.handover, null, 1)}\n`,
        );
      say(
        `${shown(project.name)}: ${clock(programmeFrames(project) / project.sampleRate)}, ${count(project.clips.length, 'clip')} on ${count(project.tracks.length, 'track')}, ${count(pack.sounds.size, 'sound')}, in ${shown(out)}.`,
      );
      return damaged > 0 ? 1 : 0;
    });
  } catch (error) {
    const told =
      error instanceof PackError
        ? new FileError(error.code, error.message, error.hint)
        : error instanceof ProjectFormatError
          ? new FileError('damaged', error.message, 'Take a backup.')
          : error;
    return failed(told, false, { file });
  }
}
