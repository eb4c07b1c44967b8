import {
  differencesOf,
  isTheSame,
  lostSourceFor,
  relinkSource,
  type Candidate,
} from '@/core/programme/relinking';
import type { SoundMeasurement } from '@/core/loudness/sound';
import type { Project, Source } from '@/core/programme/model';
import { putAudio } from '@/storage/audio';
import { storageError } from '@/storage/failure';
import { getSourceMeasurement, sourceKey } from '@/storage/measurements';
import { importFile, type Imported } from './importFile';
import type { Imports } from './imports';
import type { Notes } from './notes';

/** What relinking needs of its session. */
interface Host {
  readonly imports: Imports;
  readonly notes: Notes;
  /** Sources whose sound is not there. */
  readonly lost: () => readonly Source[];
  /** Takes over sound that is measured and kept. */
  readonly adopt: (imported: Imported) => void;
  readonly step: (name: string, edit: (project: Project) => Project) => void;
}

/** Whether two measurements are of the same sound; `null` when one is not known. */
function sameContent(a: SoundMeasurement | null, b: SoundMeasurement): boolean | null {
  if (!a) return null;
  const same = (x: Float32Array, y: Float32Array): boolean =>
    x.length === y.length && x.every((value, i) => value === y[i]);
  return a.figures.samplePeakDbfs === b.figures.samplePeakDbfs && same(a.truePeaks, b.truePeaks);
}

/** Gives sources that lost their sound a file again. */
export class Relinks {
  constructor(private readonly host: Host) {}

  /** Finds for each file the lost source it is meant for. What is not the same content is asked about first. */
  async files(files: readonly File[]): Promise<void> {
    const left = [...this.host.lost()];
    const pairs = files.flatMap((file) => {
      const source = lostSourceFor(file, left);
      if (source) left.splice(left.indexOf(source), 1);
      else
        this.host.notes.fail(`relink ${file.name}`, {
          message: `${file.name} is none of the files whose sound is missing.`,
          hint: 'Select it for one source: Relink in that source’s row.',
        });
      return source ? [{ source, file }] : [];
    });
    await Promise.all(pairs.map(({ source, file }) => this.one(source, file)));
  }

  /** Gives one source this file. */
  async one(lost: Source, file: File): Promise<void> {
    const { imports, notes } = this.host;
    const known = await getSourceMeasurement(sourceKey(lost)).catch(() => null);
    await imports.line(file.name, file.size, async (job, signal, onProgress) => {
      const outcome = await importFile(file, file.name, signal, onProgress);
      if (!('ok' in outcome)) return outcome;
      const imported = outcome.ok;
      const candidate: Candidate = {
        source: imported.source,
        sameContent: sameContent(known, imported.measurement),
      };
      if (isTheSame(lost, candidate)) {
        const { audioKey } = lost;
        try {
          // Under its old key: projects and measurements that name it find it again.
          if (!(await putAudio(audioKey, imported.blob, signal, () => undefined))) return { cancelled: true };
        } catch (error) {
          return { failure: storageError(error) };
        }
        this.host.adopt({ ...imported, source: { ...lost } });
        notes.tell(
          `${lost.name} has its sound again; its clips and gains are as they were.`,
          `relinked ${lost.id}`,
        );
        return outcome;
      }
      if (!(await imports.confirm(job, lost.name, differencesOf(lost, candidate))))
        return { cancelled: true };
      this.host.adopt(imported);
      this.host.step(`Relink ${lost.name} to ${file.name}`, (project) =>
        relinkSource(project, lost.id, imported.source),
      );
      return outcome;
    });
  }
}
