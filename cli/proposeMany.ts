import { basename, dirname } from 'node:path';
import type { SoundChoice } from '@/core/audio/soundChoice';
import { readPlan } from '@/core/proposals/planFile';
import { propose, wantExactPeak } from '@/core/proposals/propose';
import { PLAIN_REQUEST, type LevelRequest, type Subject, type ProposalRow } from '@/core/proposals/proposal';
import { setByName } from '@/core/proposals/sets';
import type { LevelMeasure, LevelMode } from '@/core/programme/model';
import type { Plan, PlanPart } from '@/core/programme/plan';
import type { Target } from '@/core/check/target';
import { absolute, FileError, readSideText, type Trouble } from './files';
import { exactPeakOf, type Measured } from './measureFile';
import type { FileFormat } from './writeLevelled';

export interface LevelManyOptions {
  readonly files: readonly string[];
  readonly target: Target;
  readonly mode: LevelMode;
  readonly by: LevelMeasure;
  /** In the measure's unit. */
  readonly goal: number;
  /** dBTP. */
  readonly ceiling: number;
  /** Peaks over the ceiling are limited; else a gain stops there. */
  readonly limit: boolean;
  /** A file of limiter presets. */
  readonly limiter: string | null;
  /** Which set a file is in when they are levelled together: by folder, or by what names hold; `null`: all are one. */
  readonly sets: 'folder' | readonly string[] | null;
  /** A plan file: a file's part is the name of its folder. */
  readonly plan: string | null;
  /** Folder to write to; `null` writes nothing. */
  readonly out: string | null;
  /** File for the proposal: .csv or .json. */
  readonly report: string | null;
  readonly fileFormat: FileFormat;
  readonly keepExisting: boolean;
  readonly json: boolean;
  readonly choice: SoundChoice;
  readonly jobs: number;
}

/** Folders whose names say what is in them. */
const PARTS: Readonly<Record<string, PlanPart>> = {
  dialogue: 'dialogue',
  narration: 'narration',
  music: 'musicAlone',
  'music under': 'musicUnder',
  effects: 'effects',
  ambience: 'ambience',
};

/** A file that is levelled, or why it cannot be. */
export interface Entry {
  readonly file: string;
  readonly sound: Measured | null;
  readonly subject: Subject | null;
  readonly error: Trouble | null;
}

const MOST_PLAN_BYTES = 1_000_000;

export async function planOf(path: string | null): Promise<Plan | null> {
  if (path === null) return null;
  const text = await readSideText(path, MOST_PLAN_BYTES, 'plan');
  const found = readPlan(text);
  if ('error' in found)
    throw new FileError('notAPlan', found.error, 'Save it from the plan’s menu, as a file.');
  return found;
}

function request(options: LevelManyOptions): LevelRequest {
  const { by: measure, mode, goal, ceiling: ceilingDbtp } = options;
  const policy = options.limit ? 'limit' : 'stop';
  return { ...PLAIN_REQUEST, measure, mode, goal, ceilingDbtp, policy };
}

/** The set of a file: its folder, or the name that holds for it; alone where none does. */
function setOf(file: string, sets: LevelManyOptions['sets']): string {
  if (sets === null) return '';
  if (sets === 'folder') return dirname(absolute(file));
  return setByName([basename(file)], sets, file);
}

/** One request with the files it is for. */
interface Asked {
  readonly request: LevelRequest;
  readonly subjects: readonly Subject[];
}

/** What is asked for each file: all the same, or by the plan each part its level; a sentence for files left alone. */
function asked(
  subjects: readonly Subject[],
  options: LevelManyOptions,
  plan: Plan | null,
): { requests: readonly Asked[]; leftAlone: ReadonlyMap<string, string> } {
  if (!plan) return { requests: [{ request: request(options), subjects }], leftAlone: new Map() };
  const leftAlone = new Map<string, string>();
  const requests: Asked[] = [];
  for (const entry of subjects) {
    const file = entry.id;
    const folder = basename(dirname(absolute(file))).toLowerCase();
    const part = PARTS[folder];
    const level = part && plan.levels[part];
    if (level) {
      const own: LevelRequest = {
        ...request(options),
        measure: level.measure,
        mode: 'each',
        goal: options.target.integratedLufs + level.relativeLu,
        ceilingDbtp: level.ceilingDbtp ?? options.ceiling,
      };
      requests.push({ request: own, subjects: [entry] });
    } else
      leftAlone.set(
        file,
        part
          ? `Skipped: the plan leaves ${folder} alone.`
          : `Skipped: its folder “${folder}” is none of ${Object.keys(PARTS).join(', ')}.`,
      );
  }
  return { requests, leftAlone };
}

/** Rows by file; where the ceiling is near, by the exact true peak as well. */
export async function proposeAll(
  entries: readonly Entry[],
  options: LevelManyOptions,
  plan: Plan | null,
): Promise<Map<string, ProposalRow | string>> {
  const subjects = entries.flatMap(({ subject }) => subject ?? []);
  const sounds = new Map(entries.map(({ file, sound }) => [file, sound]));
  const { requests, leftAlone } = asked(subjects, options, plan);
  const rows = new Map<string, ProposalRow | string>(leftAlone);
  for (const one of requests) {
    const sets = { setOf: ({ id }: { id: string }) => setOf(id, options.sets) };
    let now = one.subjects;
    let proposal = propose(now, one.request, sets);
    for (;;) {
      const wanted = wantExactPeak(proposal, now);
      if (wanted.length === 0) break;
      const exact = new Map<string, number | null>();
      for (const { id } of wanted) {
        const peak = await exactPeakOf(id, options.choice, sounds.get(id)!, () => undefined);
        exact.set(id, peak.truePeakDbtp);
      }
      now = now.map((entry) => {
        const peak = exact.get(entry.id);
        return peak === undefined || !entry.measurement
          ? entry
          : { ...entry, measurement: { ...entry.measurement, exactTruePeakDbtp: peak } };
      });
      proposal = propose(now, one.request, sets);
    }
    for (const row of proposal.rows) rows.set(row.id, row);
  }
  return rows;
}
