import type { AudioFormat } from '@/core/audio/reader';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { checkFile } from '@/core/check/fileCheck';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import type { CheckMaterial } from '@/core/check/findings/material';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import type { Service } from '@/core/check/services';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import { needsSpeech, type Target } from '@/core/check/target';
import { readTargets } from '@/core/check/targetFile';
import type { ReaderMeasurement } from '@/core/loudness/measureReader';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { soundMeasurement } from '@/core/loudness/sound';
import { checkedFile, type CheckedFile } from '@/core/deliver/checkReport';
import { checkCsv, checkLines } from './checkForms';
import { expand, type Named } from './expand';
import { failed } from './failed';
import { FileError, readSideText, trouble } from './files';
import { speechFoundIn } from './findSpeech';
import { InTurn, sideBySide } from './inTurn';
import { speechIn } from './measure';
import { measureFile } from './measureFile';
import { checkOutput, replacedNotes, writeText, type Output } from './output';
import { openPool, type TaskPool } from './pool';
import { ProgressLine } from './progress';
import { complain, nobodyReads, say, sayCsv, sayJson, shown } from './say';
import { fromStandardInput, STANDARD_INPUT } from './standardInput';
import { UsageError } from './usage';

export interface CheckOptions {
  readonly files: readonly string[];
  /** Ids, in the order in which they are told. */
  readonly targets: readonly string[];
  /** A file with targets of one's own. */
  readonly own: string | null;
  readonly services: readonly Service[];
  readonly form: 'people' | 'json' | 'csv' | 'junit';
  /** For people: findings under each file. */
  readonly findings: boolean;
  /** Subtitle file that says when somebody speaks. */
  readonly dialogue: string | null;
  readonly findSpeech: boolean;
  /** Id of the layout that is declared for every file; `null`: as each says. */
  readonly layoutId: string | null;
  /** Files to write, each in the form that its ending says: see {@link REPORTS}. */
  readonly reports: readonly string[];
  readonly keepExisting: boolean;
  readonly jobs: number;
}

const MOST_TARGET_BYTES = 1_000_000;

/** The targets asked for, shipped or out of a file. @throws UsageError for one that is in neither */
async function targetsNamed(ids: readonly string[], path: string | null): Promise<readonly Target[]> {
  let own: readonly Target[] = [];
  if (path !== null) {
    const text = await readSideText(path, MOST_TARGET_BYTES, 'file of targets');
    const read = readTargets(text);
    if ('error' in read) throw new FileError('notTargets', read.error, 'See: dengung check --help');
    own = read;
  }
  const all = [...own, ...SHIPPED_TARGETS];
  return ids.map((id) => {
    const target = all.find((one) => one.id === id);
    if (target) return target;
    throw new UsageError(
      `There is no target “${id}”; there are ${[...new Set(all.map((one) => one.id))].join(', ')}.`,
    );
  });
}

/** What files are held against. */
export interface Setting {
  readonly targets: readonly Target[];
  readonly speech: readonly TimeRange[] | null;
  readonly findSpeech: boolean;
  readonly services: readonly Service[];
  /** Id of the layout that is declared for every file; `null`: as each says. */
  readonly layoutId: string | null;
}

/** A file that was measured and held against targets, with all that this rests on. */
export interface FileLookedAt {
  readonly format: AudioFormat;
  readonly measured: ReaderMeasurement;
  readonly material: CheckMaterial;
  readonly checked: Exclude<CheckedFile, { readonly error: unknown }>;
}

/** Measures a file and holds it against targets. @param name what it is called in what is told */
export async function lookAt(
  path: string,
  name: string,
  { targets, speech, findSpeech, services, layoutId }: Setting,
  pool: TaskPool,
  onProgress: (done: number) => void,
): Promise<FileLookedAt> {
  const { format, measured } = await measureFile(path, { ...WHOLE_FIRST_SOUND, layoutId }, pool, onProgress);
  const spoken = speech ?? (findSpeech ? await speechFoundIn(path, pool, onProgress) : null);
  const material = fileMaterial(measured, format, spoken);
  const check = checkFile(material, targets, USUAL_THRESHOLDS);
  return {
    format,
    measured,
    material,
    checked: checkedFile(name, check, soundMeasurement(measured), services),
  };
}

async function checkOne(
  named: Named,
  setting: Setting,
  pool: TaskPool,
  onProgress: (done: number) => void,
): Promise<CheckedFile> {
  if ('error' in named) throw named.error;
  const path = named.file === STANDARD_INPUT ? await fromStandardInput() : named.file;
  return (await lookAt(path, named.file, setting, pool, onProgress)).checked;
}

/** What files are held against; see `CheckOptions`. */
export async function settingOf(
  options: Pick<CheckOptions, 'targets' | 'own' | 'dialogue' | 'findSpeech' | 'layoutId'>,
  services: readonly Service[],
): Promise<Setting> {
  const { own, dialogue, findSpeech, layoutId } = options;
  const targets = await targetsNamed(options.targets, own);
  const speech = (await speechIn(dialogue))?.ranges ?? null;
  return {
    ...{ targets, speech, services, layoutId },
    findSpeech: findSpeech || (speech === null && targets.some(needsSpeech)),
  };
}

const reportsOf = (files: readonly CheckedFile[]) =>
  files.map((checked) => ('error' in checked ? checked : checked.report));
const junitOf = async (files: readonly CheckedFile[]): Promise<string> =>
  (await import('./junit')).junit(files);

/** The forms of a report on all files, by the endings of their names. */
export const REPORTS: Readonly<Record<string, (files: readonly CheckedFile[]) => Promise<string>>> = {
  '.csv': (files) => Promise.resolve(checkCsv(files)),
  '.json': (files) => Promise.resolve(`${JSON.stringify(reportsOf(files), null, 2)}\n`),
  '.xml': junitOf,
};

/** `dengung check`. @returns the exit code */
export async function checkCommand(options: CheckOptions): Promise<number> {
  const { files, form, jobs, dialogue } = options;
  const json = form === 'json';
  let setting: Setting;
  const outputs: {
    readonly output: Output;
    readonly text: (files: readonly CheckedFile[]) => Promise<string>;
  }[] = [];
  const named = await expand(files);
  try {
    setting = await settingOf(options, options.services);
    const rules = {
      inputs: [...named.flatMap((one) => ('error' in one ? [] : [one.file])), options.own, dialogue].filter(
        (one): one is string => one !== null && one !== STANDARD_INPUT,
      ),
      keepExisting: options.keepExisting,
    };
    for (const report of options.reports) {
      const output = await checkOutput(report, {
        ...{ ...rules, option: '--report' },
        endings: Object.keys(REPORTS),
      });
      const ending = Object.keys(REPORTS).find((one) => report.toLowerCase().endsWith(one))!;
      outputs.push({ output, text: REPORTS[ending]! });
    }
  } catch (error) {
    if (error instanceof UsageError) throw error;
    return failed(error, json, {});
  }
  const progress = new ProgressLine(named.length);
  const all: CheckedFile[] = [];
  const inTurn = new InTurn<CheckedFile>((checked) => {
    all.push(checked);
    if (form !== 'people') return;
    progress.clear();
    say(checkLines(checked, options.findings));
  });
  const pool = openPool(jobs);
  await sideBySide(
    named.length,
    jobs,
    () => !nobodyReads(),
    async (index) => {
      const entry = named[index]!;
      const onProgress = (done: number): void => progress.at(entry.file, done);
      const checked = await checkOne(entry, setting, pool, onProgress).catch((error: unknown) => ({
        file: entry.file,
        error: trouble(error),
      }));
      inTurn.put(index, checked);
      progress.finish(entry.file);
    },
  );
  progress.end();
  await pool.close();
  if (json) sayJson(reportsOf(all));
  else if (form === 'csv') sayCsv(checkCsv(all));
  else if (form === 'junit') say((await junitOf(all)).trimEnd());
  let failedToWrite = false;
  for (const { output, text } of outputs) {
    try {
      await writeText(output, await text(all));
      for (const note of replacedNotes(output)) complain(note);
    } catch (error) {
      failedToWrite = true;
      const { message, hint } = trouble(error);
      complain(`${shown(output.named)}\n  ${message} ${hint}`);
    }
  }
  const good = all.every(
    (checked) => !('error' in checked) && checked.lines.every(({ outcome }) => outcome === 'meets'),
  );
  return good && !failedToWrite ? 0 : 1;
}
