import { array, boolean, mixed, number, object, string } from 'yup';
import type { Verdict } from '@/core/check/verdict';
import { programmeFaults } from '@/core/programme/damagedSources';
import { deliveryShape } from '@/core/programme/deliverySchema';
import { ProjectFormatError, readProject } from '@/core/programme/migrations';
import type { Project } from '@/core/programme/model';
import type { DeliveryFile } from './deliveryFiles';
import type { HandedOver } from './handoverReport';
import { receiptSchema } from './receipt';

/** What is kept of a file that was handed over: all but its bytes. */
export type HandedRecord = Omit<HandedOver, 'stale'>;

/** States of the programme that are kept to tell what has changed since; files of older ones are no longer told. */
const MOST_STATES = 12;

/** Records as they are kept: plain data. */
export interface KeptRecords {
  readonly format: 'dengung-handover-1';
  /** The states of the programme that files were rendered from. */
  readonly states: readonly Project[];
  readonly files: readonly unknown[];
}

/** Records as plain data. The oldest are left out where they stand for too many states of the programme. */
export function keptRecords(records: readonly HandedRecord[]): KeptRecords {
  const states: Project[] = [];
  const files: unknown[] = [];
  for (const { project, file, ...record } of [...records].reverse()) {
    let state = states.indexOf(project);
    if (state < 0) {
      if (states.length === MOST_STATES) continue;
      state = states.push(project) - 1;
    }
    const { clipIds, ...plain } = file;
    files.push({ ...record, state, file: { ...plain, clipIds: clipIds && [...clipIds] } });
  }
  return { format: 'dengung-handover-1', states, files: files.reverse() };
}

const text = () => string().defined();
const figure = () => number().nullable().defined();
const figures = object({
  integratedLufs: figure(),
  relativeGateLufs: figure(),
  maxMomentaryLufs: figure(),
  maxShortTermLufs: figure(),
  loudnessRangeLu: figure(),
  truePeakDbtp: figure(),
  samplePeakDbfs: figure(),
  channelPeaks: array().required(),
});
const list = (value: unknown): boolean => Array.isArray(value);
const verdict = object({
  figures: mixed().test('list', '${path} is no list', list),
  form: mixed().test('list', '${path} is no list', list),
  meets: boolean().nullable().defined(),
})
  .nullable()
  .default(undefined);

const shape = object({
  state: number().required().integer().min(0),
  file: object({
    key: text().min(1),
    delivery: deliveryShape.required(),
    name: text().min(1),
    part: string().nullable().defined(),
    clipIds: array().of(text()).nullable().defined(),
    from: number().required(),
    to: number().required(),
  }).required(),
  name: text(),
  savedAs: string().nullable().defined(),
  at: text(),
  bytes: number().required().min(0),
  sha256: text(),
  predicted: figures,
  figures,
  verdict,
  gainDb: number().required(),
  corrected: string().nullable().defined(),
  wrong: array().of(text()).required(),
  codecOver: string().nullable().defined(),
  sum: string().nullable(),
  receipts: array().of(receiptSchema.required()).required(),
});

/** A stored verdict in its present shape: older ones state neither outcome nor integrity, which the project still tells. */
function withOutcome(verdict: Verdict, project: Project): Verdict {
  if ('outcome' in verdict) return verdict;
  const { figures, form, meets } = verdict as Verdict;
  const integrity = programmeFaults(project);
  if (integrity.length > 0) return { outcome: 'notWhole', meets: null, figures, form, integrity, leftOut: 0 };
  const outcome = meets === null ? 'notJudged' : meets ? 'meets' : 'misses';
  return { outcome, meets, figures, form, integrity, leftOut: 0 };
}

/** Reads records that were kept. What cannot be read is left out: files can be rendered again. */
export function readRecords(kept: unknown): readonly HandedRecord[] {
  const { format, states, files } = (kept ?? {}) as Readonly<Record<string, unknown>>;
  if (format !== 'dengung-handover-1' || !Array.isArray(states) || !Array.isArray(files)) return [];
  const projects = states.map((project: unknown): Project | null => {
    try {
      return readProject({ project, past: [], future: [] }).project;
    } catch (error) {
      if (error instanceof ProjectFormatError) return null;
      throw error;
    }
  });
  return files.flatMap((one: unknown): HandedRecord[] => {
    if (!shape.isValidSync(one, { strict: true })) return [];
    const { state, file, ...record } = one as unknown as {
      readonly state: number;
      readonly file: Omit<DeliveryFile, 'clipIds'> & { readonly clipIds: readonly string[] | null };
    } & Omit<HandedRecord, 'project' | 'file'>;
    const project = projects[state];
    if (!project) return [];
    return [
      {
        ...{
          ...record,
          project,
          verdict: record.verdict && withOutcome(record.verdict, project),
          sum: record.sum ?? null,
        },
        file: { ...file, clipIds: file.clipIds && new Set(file.clipIds) },
      },
    ];
  });
}

/** The same for a copy of the project with an id of its own: what was handed over of it then is not stale by that. */
export function recordsFor(id: string, records: readonly HandedRecord[]): readonly HandedRecord[] {
  const states = new Map<Project, Project>();
  return records.map((record) => {
    const state = states.get(record.project) ?? { ...record.project, id };
    states.set(record.project, state);
    return { ...record, project: state };
  });
}
