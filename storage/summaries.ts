import { array, number, object, string } from 'yup';
import { OUTCOME_WORDS, type Outcome } from '@/core/check/verdict';
import { settingsStore } from './stores';

/** What the shelf says of a project besides its name: as it was measured last. */
export interface ProjectSummary {
  readonly outcome: Outcome;
  /** LUFS and dBTP; `null` when it has none. */
  readonly integratedLufs: number | null;
  readonly truePeakDbtp: number | null;
  /** Short-term loudness over its length, LU from the target; `null` for silence. */
  readonly skyline: readonly (number | null)[];
}

const shape = object({
  outcome: string()
    .oneOf(Object.keys(OUTCOME_WORDS) as Outcome[])
    .required(),
  integratedLufs: number().nullable().defined(),
  truePeakDbtp: number().nullable().defined(),
  skyline: array().of(number().nullable().defined()).required().max(1_000),
});

const keyOf = (id: string): string => `summary-${id}`;

/** The summary of a project; `null` when there is none that can be read. */
export async function getSummary(id: string): Promise<ProjectSummary | null> {
  const stored: unknown = await settingsStore.getItem(keyOf(id));
  return shape.isValidSync(stored, { strict: true }) ? stored : null;
}

export async function putSummary(id: string, summary: ProjectSummary): Promise<void> {
  await settingsStore.setItem(keyOf(id), summary);
}

export const removeSummary = (id: string): Promise<void> => settingsStore.removeItem(keyOf(id));
