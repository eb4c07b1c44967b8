import { expose } from 'comlink';
import { sha256Of } from '@/codecs/hash';
import { readPack } from '@/codecs/pack/readPack';
import { readProject, type ReadProject } from '@/core/programme/migrations';
import { withAudioKeys, type PackManifest } from '@/core/programme/pack';
import { answer, Jobs } from './answer';
import { blobSource } from './blobSource';
import type { OnProgress, Outcome } from './protocol';

/** A project out of a pack, checked, and its sounds as parts of the file. */
export interface UnpackedProject {
  readonly project: ReadProject;
  /** What was handed over, not looked at yet. */
  readonly handover: unknown;
  /** By audio key; those that are not what the list says are left out. */
  readonly sounds: readonly { readonly audioKey: string; readonly blob: Blob }[];
  /** Names of sounds that are damaged. */
  readonly damaged: readonly string[];
}

const jobs = new Jobs();

const api = {
  /** What a pack says of itself. */
  look: (file: Blob): Promise<Outcome<PackManifest>> =>
    answer(async () => (await readPack(blobSource(file))).manifest),

  /**
   * Opens a pack, and looks at every sound of it.
   * @param keys other audio keys for its sounds
   */
  open: (
    job: number,
    file: Blob,
    keys: ReadonlyMap<string, string>,
    onProgress: OnProgress,
  ): Promise<Outcome<UnpackedProject>> =>
    jobs.answer(
      job,
      async (proceed) => {
        const { manifest, project, handover, sounds } = await readPack(blobSource(file));
        const checked = readProject(withAudioKeys(project, keys));
        const total = [...sounds.values()].reduce((sum, { bytes }) => sum + bytes, 0);
        const found: { audioKey: string; blob: Blob }[] = [];
        const damaged: string[] = [];
        let done = 0;
        for (const { audioKey, sha256, name } of manifest.sounds) {
          const place = sounds.get(audioKey);
          if (!place) continue;
          const blob = file.slice(place.offset, place.offset + place.bytes, 'audio/wav');
          const is = await sha256Of(blobSource(blob), (part) =>
            proceed((done + part * place.bytes) / Math.max(1, total)),
          );
          if (is === null) return null;
          done += place.bytes;
          if (is === sha256) found.push({ audioKey: keys.get(audioKey) ?? audioKey, blob });
          else damaged.push(name);
        }
        return { project: checked, handover: withAudioKeys(handover, keys), sounds: found, damaged };
      },
      { onProgress },
    ),

  /** SHA-256 of some bytes, in hexadecimal. */
  hash: (job: number, blob: Blob, onProgress: OnProgress): Promise<Outcome<string>> =>
    jobs.answer(job, (proceed) => sha256Of(blobSource(blob), proceed), { onProgress }),

  cancel: jobs.cancel,
};

export type PackApi = typeof api;

expose(api);
