import { readFile, mkdir, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { SoundChoice } from '@/core/audio/soundChoice';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { readPlan } from '@/core/levelling/planFile';
import { propose } from '@/core/levelling/propose';
import {
  PLAIN_REQUEST,
  type LevelRequest,
  type MeasuredClip,
  type ProposalRow,
} from '@/core/levelling/proposal';
import { setByName } from '@/core/levelling/sets';
import { soundAsClip } from '@/core/levelling/soundAsClip';
import { soundMeasurement } from '@/core/loudness/sound';
import type { LevelMeasure, LevelMode } from '@/core/programme/model';
import type { Plan, PlanPart } from '@/core/programme/plan';
import type { Target } from '@/core/targets/target';
import { signed } from '@/core/text/figures';
import { csvRow } from './csv';
import { expand, type Named } from './expand';
import { absolute, FileError, trouble, writeWhole } from './files';
import { measureFile, type Measured } from './measureFile';
import { openPool, type Pool } from './pool';
import { ProgressLine } from './progress';
import { writeLevelled } from './writeLevelled';

export interface LevelManyOptions {
  readonly files: readonly string[];
  readonly target: Target;
  readonly mode: LevelMode;
  readonly by: LevelMeasure;
  /** In the measure's unit. */
  readonly goal: number;
  /** dBTP. */
  readonly ceiling: number;
  /** Which set a file is in when they are levelled together: by folder, or by what names hold; `null`: all are one. */
  readonly sets: 'folder' | readonly string[] | null;
  /** A plan file: a file's part is the name of its folder. */
  readonly plan: string | null;
  /** Folder to write to; `null` writes nothing. */
  readonly out: string | null;
  /** File for the proposal: .csv or .json. */
  readonly report: string | null;
  readonly json: boolean;
  readonly choice: SoundChoice;
  readonly jobs: number;
}

/** One file of the proposal, as `--json` and `--report` say it. */
interface LevelledFile {
  readonly file: string;
  readonly before: number | null;
  readonly gainDb: number | null;
  readonly after: number | null;
  readonly truePeakAfterDbtp: number | null;
  readonly limitedBy: string | null;
  readonly sentence: string;
  readonly warnings: readonly string[];
  readonly out: string | null;
  /** What the written file measures; `null` when none was written. */
  readonly measured: { readonly integratedLufs: number | null; readonly truePeakDbtp: number | null } | null;
  readonly error?: { readonly code: string; readonly message: string; readonly hint: string };
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
interface Entry {
  readonly file: string;
  readonly sound: Measured | null;
  readonly clip: MeasuredClip | null;
  readonly error: LevelledFile['error'] | null;
}

async function measureAll(named: readonly Named[], options: LevelManyOptions, pool: Pool): Promise<Entry[]> {
  const progress = new ProgressLine(named.length);
  const entries: Entry[] = [];
  const indices = named.keys();
  const take = async (): Promise<void> => {
    for (const index of indices) {
      const entry = named[index]!;
      const { file } = entry;
      try {
        if ('error' in entry) throw entry.error;
        const sound = await measureFile(file, options.choice, pool, (done) => progress.at(file, done));
        const clip = soundAsClip(file, basename(file), soundMeasurement(sound.measured), sound.format.frames);
        entries[index] = { file, sound, clip, error: null };
      } catch (error) {
        entries[index] = { file, sound: null, clip: null, error: trouble(error) };
      }
      progress.finish(file);
    }
  };
  await Promise.all(Array.from({ length: Math.max(1, options.jobs) }, take));
  progress.clear();
  return entries;
}

async function planOf(path: string | null): Promise<Plan | null> {
  if (path === null) return null;
  const found = readPlan(await readFile(absolute(path), 'utf8'));
  if ('error' in found)
    throw new FileError('notAPlan', found.error, 'Save it from the plan’s menu, as a file.');
  return found;
}

function request(options: LevelManyOptions): LevelRequest {
  const { by: measure, mode, goal, ceiling: ceilingDbtp } = options;
  return { ...PLAIN_REQUEST, measure, mode, goal, ceilingDbtp };
}

/** The set of a file: its folder, or the name that holds for it; alone where none does. */
function setOf(file: string, sets: LevelManyOptions['sets']): string {
  if (sets === null) return '';
  if (sets === 'folder') return dirname(absolute(file));
  return setByName([basename(file)], sets, file);
}

/** Rows by file: by the plan where there is one, each part by its level. */
function proposeAll(
  clips: readonly MeasuredClip[],
  options: LevelManyOptions,
  plan: Plan | null,
): Map<string, ProposalRow | string> {
  if (!plan) {
    const { rows } = propose(clips, request(options), { setOf: ({ id }) => setOf(id, options.sets) });
    return new Map(rows.map((row) => [row.clipId, row]));
  }
  const rows = new Map<string, ProposalRow | string>();
  for (const entry of clips) {
    const file = entry.clip.id;
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
      rows.set(file, propose([entry], own).rows[0]!);
    } else
      rows.set(
        file,
        part
          ? `Skipped: the plan leaves ${folder} alone.`
          : `Skipped: its folder “${folder}” is none of ${Object.keys(PARTS).join(', ')}.`,
      );
  }
  return rows;
}

const nothing = {
  before: null,
  gainDb: null,
  after: null,
  truePeakAfterDbtp: null,
  limitedBy: null,
  warnings: [],
  out: null,
  measured: null,
} as const;

async function finish(
  entry: Entry,
  row: ProposalRow | string | undefined,
  options: LevelManyOptions,
  pool: Pool,
): Promise<LevelledFile> {
  const { file, sound, error } = entry;
  if (error) return { file, ...nothing, sentence: `${error.message} ${error.hint}`, error };
  if (row === undefined || typeof row === 'string') return { file, ...nothing, sentence: row ?? '' };
  const told = {
    file,
    before: row.before,
    gainDb: row.skipped ? null : row.gainAfterDb,
    after: row.after,
    truePeakAfterDbtp: row.truePeakAfter,
    limitedBy: row.limitedBy,
    sentence: row.sentence,
    warnings: row.warnings,
  };
  if (options.out === null || row.skipped || !sound) return { ...told, out: null, measured: null };
  const out = join(options.out, `${basename(file).replace(/\.[^.]+$/, '')}.wav`);
  try {
    const taken = await stat(absolute(out)).catch(() => null);
    if (taken) throw new FileError('exists', `${out} is there already.`, 'Choose another folder.');
    await writeLevelled(file, out, row.gainAfterDb, options.choice, sound, () => undefined);
    const again = await measureFile(out, WHOLE_FIRST_SOUND, pool, () => undefined);
    const { integratedLufs, truePeakDbtp } = soundMeasurement(again.measured).figures;
    return { ...told, out, measured: { integratedLufs, truePeakDbtp } };
  } catch (failure) {
    return { ...told, out: null, measured: null, error: trouble(failure) };
  }
}

const REPORT = [
  'file',
  'before',
  'gainDb',
  'after',
  'truePeakAfterDbtp',
  'limitedBy',
  'sentence',
  'out',
] as const satisfies readonly (keyof LevelledFile)[];

async function writeReport(path: string, results: readonly LevelledFile[]): Promise<void> {
  const text = /\.json$/i.test(path)
    ? `${JSON.stringify(results, null, 2)}\n`
    : [csvRow(REPORT), ...results.map((result) => csvRow(REPORT.map((column) => result[column])))]
        .map((line) => `${line}\r\n`)
        .join('');
  await writeWhole(path, null, (sink) => sink(Buffer.from(text, 'utf8')));
}

function describe(result: LevelledFile): string {
  const { file, gainDb, sentence, warnings, measured, out, error } = result;
  const lines = [`${file}  ${gainDb === null ? '—' : `${signed(gainDb, 2)} dB`}`, `  ${sentence}`];
  for (const warning of warnings) lines.push(`  ! ${warning}`);
  if (out && measured)
    lines.push(`  Written to ${out}, measured again: ${measured.integratedLufs?.toFixed(2) ?? '—'} LUFS`);
  if (error && gainDb !== null) lines.push(`  ! ${error.message} ${error.hint}`);
  return lines.join('\n');
}

/** `dengung level --each | --together`: many files by one proposal. @returns the exit code */
export async function levelManyCommand(options: LevelManyOptions): Promise<number> {
  const pool = openPool(options.jobs);
  try {
    const plan = await planOf(options.plan);
    const entries = await measureAll(await expand(options.files), options, pool);
    const clips = entries.flatMap(({ clip }) => (clip ? [clip] : []));
    const rows = proposeAll(clips, options, plan);
    if (options.out !== null) await mkdir(absolute(options.out), { recursive: true });
    const results: LevelledFile[] = [];
    for (const entry of entries) results.push(await finish(entry, rows.get(entry.file), options, pool));
    if (options.report !== null) await writeReport(options.report, results);
    console.log(options.json ? JSON.stringify(results, null, 2) : results.map(describe).join('\n\n'));
    return results.some(({ error }) => error !== undefined) ? 1 : 0;
  } catch (error) {
    const failure = trouble(error);
    console.error(`${failure.message} ${failure.hint}`);
    return 1;
  } finally {
    await pool.close();
  }
}
