import { constants } from 'node:fs';
import { access, mkdir, stat } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { FILE_GAIN } from '@/core/programme/gainField';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import { wholeSound, type ProposalRow } from '@/core/proposals/proposal';
import { nameHolds } from '@/core/proposals/sets';
import { soundMeasurement } from '@/core/loudness/sound';
import { signed } from '@/core/text/figures';
import { csvRow } from './csv';
import { expand, type Named } from './expand';
import { failed } from './failed';
import { absolute, FileError, trouble, type Trouble } from './files';
import { measureFile } from './measureFile';
import { limiterFor, limiterReport, limitFile, withFileSound, type LimiterReport } from './limiting';
import { osPath } from './names';
import { limiterSentences } from '@/core/proposals/limiterWords';
import { checkOutput, replacedNotes, WAV_ENDINGS, writeText, type Output } from './output';
import { outputNames } from './outputNames';
import { openPool, type TaskPool } from './pool';
import { ProgressLine } from './progress';
import { planOf, proposeAll, type Entry, type LevelManyOptions } from './proposeMany';
import { jsonText, say, sayJson, shown } from './say';
import { writeLevelled, type Limiting } from './writeLevelled';

/** One file of the proposal, as `--json` and `--report` say it. */
interface LevelledFile {
  readonly file: string;
  readonly before: number | null;
  readonly gainDb: number | null;
  readonly after: number | null;
  readonly truePeakAfterDbtp: number | null;
  /** Where it is known and differs from the standard's figure by over 0.1 dB. */
  readonly exactTruePeakAfterDbtp: number | null;
  readonly limitedBy: string | null;
  /** How the limiter works; `null` without one, or where it has nothing to do. */
  readonly limiter: LimiterReport | null;
  readonly sentence: string;
  readonly warnings: readonly string[];
  readonly out: string | null;
  /** What the written file measures; `null` when none was written. */
  readonly measured: { readonly integratedLufs: number | null; readonly truePeakDbtp: number | null } | null;
  /** Samples of the written file that were cut off at full scale. */
  readonly clippedSamples: number;
  /** It stood there before and was replaced. */
  readonly replaced: boolean;
  readonly error?: Trouble;
}

async function measureAll(
  named: readonly Named[],
  options: LevelManyOptions,
  pool: TaskPool,
): Promise<Entry[]> {
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
        const measurement = soundMeasurement(sound.measured);
        const { frames, warnings } = sound.format;
        const named = { id: file, name: basename(file), range: FILE_GAIN };
        const subject = wholeSound(named, measurement, frames, warnings);
        entries[index] = { file, sound, subject, error: null };
      } catch (error) {
        entries[index] = { file, sound: null, subject: null, error: trouble(error) };
      }
      progress.finish(file);
    }
  };
  await Promise.all(Array.from({ length: Math.max(1, options.jobs) }, take));
  progress.end();
  return entries;
}

const nothing = {
  before: null,
  gainDb: null,
  after: null,
  truePeakAfterDbtp: null,
  exactTruePeakAfterDbtp: null,
  limitedBy: null,
  limiter: null,
  warnings: [],
  clippedSamples: 0,
  replaced: false,
  out: null,
  measured: null,
} as const;

/** @throws FileError where there can be no folder to write to */
async function makeFolder(named: string): Promise<void> {
  const path = osPath(absolute(named));
  const there = await stat(path).catch(() => null);
  if (there && !there.isDirectory())
    throw new FileError(
      'notAFolder',
      `${shown(named)} is a file, not a folder.`,
      'Name a folder after --out.',
    );
  await mkdir(path, { recursive: true });
  await access(path, constants.W_OK);
}

/** Where each file that gets a gain is to go, looked at before any is written. */
async function outputsFor(
  entries: readonly Entry[],
  options: LevelManyOptions,
): Promise<ReadonlyMap<string, Output | Trouble>> {
  const { out, keepExisting } = options;
  if (out === null) return new Map();
  const names = outputNames(
    entries.filter(({ sound }) => sound !== null).map(({ file }) => file),
    out,
  );
  const inputs = [...entries.map(({ file }) => file), ...(options.plan === null ? [] : [options.plan])];
  const outputs = new Map<string, Output | Trouble>();
  for (const [file, name] of names) {
    await mkdir(osPath(dirname(absolute(name))), { recursive: true });
    outputs.set(file, await checkOutput(name, { inputs, keepExisting, endings: WAV_ENDINGS }).catch(trouble));
  }
  return outputs;
}

/** What a limiter behind a row's gain makes of it; `null` without one, or where no peak comes near its ceiling. */
async function limitRow(
  { file, sound }: Entry,
  row: ProposalRow,
  options: LevelManyOptions,
): Promise<(Limiting & { readonly found: LimitedGain }) | null> {
  if (!options.limit || !sound || row.skipped || row.truePeakAfter === null) return null;
  const limiter = await limiterFor(options.limiter, options.ceiling);
  const peak = Math.max(row.truePeakAfter, row.exactPeakAfter ?? -Infinity);
  if (!row.needsLimiter && peak < limiter.ceilingDbtp - 0.2) return null;
  const alone = options.mode === 'each' && options.by === 'integrated';
  const found = await limitFile(
    withFileSound(file, options.choice, sound, limiter),
    limiter,
    alone ? row.after : null,
    row.gainAfterDb,
    () => undefined,
  );
  return { limiter, after: found.after, found };
}

/** A row with its limiter, as it is told. */
function toldWith(
  row: ProposalRow,
  limiting: (Limiting & { readonly found: LimitedGain }) | null,
  seconds: number,
) {
  if (!limiting || limiting.found.work.maxReductionDb === 0)
    return {
      ...{ gainDb: row.skipped ? null : row.gainAfterDb, after: row.after, sentence: row.sentence },
      ...{ truePeakAfterDbtp: row.truePeakAfter, limiter: null },
    };
  const { limiter, after, found } = limiting;
  const changed = Math.abs(found.gainDb - row.gainAfterDb) >= 0.005;
  return {
    gainDb: found.gainDb,
    after: after.integratedLufs,
    truePeakAfterDbtp: after.truePeakDbtp,
    limiter: limiterReport(limiter, found),
    sentence: [
      row.sentence,
      ...(changed ? [`With the limiter behind it, it takes ${signed(found.gainDb, 2)} dB.`] : []),
      ...limiterSentences(limiter, found, seconds),
    ].join(' '),
  };
}

async function finish(
  entry: Entry,
  row: ProposalRow | string | undefined,
  output: Output | Trouble | undefined,
  options: LevelManyOptions,
  pool: TaskPool,
): Promise<LevelledFile> {
  const { file, sound, error } = entry;
  if (error) return { file, ...nothing, sentence: `${error.message} ${error.hint}`, error };
  const damage = sound?.format.warnings ?? [];
  if (row === undefined || typeof row === 'string')
    return { file, ...nothing, warnings: damage, sentence: row ?? '' };
  const limiting = await limitRow(entry, row, options);
  const told = {
    ...nothing,
    file,
    before: row.before,
    exactTruePeakAfterDbtp: limiting ? null : row.exactPeakAfter,
    limitedBy: row.limitedBy,
    ...toldWith(row, limiting, sound ? sound.format.frames / sound.format.sampleRate : 0),
    warnings: row.warnings,
  };
  if (output === undefined || row.skipped || !sound) return told;
  if (!('path' in output)) return { ...told, error: output };
  try {
    const { choice, fileFormat } = options;
    const gainAfterDb = told.gainDb ?? row.gainAfterDb;
    const written = await writeLevelled(
      file,
      output,
      gainAfterDb,
      limiting,
      fileFormat,
      choice,
      sound,
      pool,
      () => undefined,
    );
    const { integratedLufs, truePeakDbtp } = soundMeasurement(written.sound.measured).figures;
    return {
      ...told,
      out: output.named,
      measured: { integratedLufs, truePeakDbtp },
      clippedSamples: written.clippedSamples,
      replaced: output.before !== null,
      warnings: [...told.warnings, ...written.notes, ...replacedNotes(output)],
    };
  } catch (failure) {
    return { ...told, error: trouble(failure) };
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
  'exactTruePeakAfterDbtp',
  'clippedSamples',
] as const satisfies readonly (keyof LevelledFile)[];

function reportText(path: string, results: readonly LevelledFile[]): string {
  if (/\.json$/i.test(path)) return `${jsonText(results)}\n`;
  const head = csvRow([...REPORT, 'warnings', 'error']);
  const lines = results.map((result) =>
    csvRow([
      ...REPORT.map((column) => result[column]),
      result.warnings.join(' '),
      result.error ? `${result.error.message} ${result.error.hint}` : null,
    ]),
  );
  return [head, ...lines].map((line) => `${line}\r\n`).join('');
}

function describe(result: LevelledFile): string {
  const { file, gainDb, sentence, warnings, measured, out, error } = result;
  const lines = [`${shown(file)}  ${gainDb === null ? '—' : `${signed(gainDb, 2)} dB`}`, `  ${sentence}`];
  for (const warning of warnings) lines.push(`  ! ${warning}`);
  if (out && measured)
    lines.push(
      `  Written to ${shown(out)}, measured again: ${measured.integratedLufs?.toFixed(2) ?? '—'} LUFS`,
    );
  if (error && gainDb !== null) lines.push(`  ! ${error.message} ${error.hint}`);
  return lines.join('\n');
}

/** @throws FileError for a set by name that no file belongs to: each of them would be levelled by itself */
function checkSets(files: readonly Named[], sets: LevelManyOptions['sets']): void {
  if (sets === null || sets === 'folder') return;
  const names = files.flatMap((one) => ('error' in one ? [] : [basename(one.file)]));
  const empty = sets.find((typed) => !names.some((name) => nameHolds(name, typed)));
  if (empty === undefined) return;
  throw new FileError(
    'emptySet',
    `No file has “${empty}” in its name.`,
    'Name the sets in --sets by what their files have in common, or give folder.',
  );
}

async function levelMany(options: LevelManyOptions, pool: TaskPool): Promise<readonly LevelledFile[]> {
  const named = await expand(options.files);
  const { keepExisting } = options;
  const inputs = [...named.map(({ file }) => file), ...(options.plan === null ? [] : [options.plan])];
  // Looked at before hours of work end in a report that cannot be written.
  const report =
    options.report === null
      ? null
      : await checkOutput(options.report, {
          ...{ inputs, keepExisting, option: '--report' },
          endings: ['.csv', '.json'],
        });
  if (options.out !== null) await makeFolder(options.out);
  const plan = await planOf(options.plan);
  checkSets(named, options.sets);
  const entries = await measureAll(named, options, pool);
  const rows = await proposeAll(entries, options, plan);
  const outputs = await outputsFor(entries, options);
  const clash = [...outputs.values()].find((output) => 'path' in output && output.path === report?.path);
  if (clash)
    throw new FileError('sameFile', 'The report would replace a levelled file.', 'Give it another name.');
  const results: LevelledFile[] = [];
  for (const entry of entries)
    results.push(await finish(entry, rows.get(entry.file), outputs.get(entry.file), options, pool));
  if (report) await writeText(report, reportText(report.named, results));
  return results;
}

/** `dengung level --each | --together`: many files by one proposal. @returns the exit code */
export async function levelManyCommand(options: LevelManyOptions): Promise<number> {
  const pool = openPool(options.jobs);
  try {
    const results = await levelMany(options, pool);
    if (options.json) sayJson(results);
    else say(results.map(describe).join('\n\n'));
    const errors = results.flatMap(({ error }) => (error ? [error.code] : []));
    if (errors.length === 0) return 0;
    return errors.every((code) => code === 'noSuchTrack') ? 2 : 1;
  } catch (error) {
    return failed(error, options.json, {});
  } finally {
    await pool.close();
  }
}
