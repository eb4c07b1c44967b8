import type { SoundChoice } from '@/core/audio/soundChoice';
import { exactPeakMatters, exactPeakToShow } from '@/core/proposals/exactPeak';
import type { GainLimit } from '@/core/proposals/held';
import { fileGain, nothingToLevel, type FileGain } from '@/core/proposals/fileGain';
import type { ExactPeak } from '@/core/loudness/exactTruePeak';
import { soundMeasurement } from '@/core/loudness/sound';
import type { LevelMeasure } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { signed, withUnit } from '@/core/text/figures';
import { FileError } from './files';
import { exactPeakOf, measureFile, type Measured } from './measureFile';
import { failed } from './failed';
import { checkOutput, replacedNotes } from './output';
import { openPool, type TaskPool } from './pool';
import { ProgressLine } from './progress';
import { reportOf, type FileReport } from './report';
import { say, sayJson, shown } from './say';
import { writeLevelled, type FileFormat } from './writeLevelled';

export interface LevelOptions {
  readonly file: string;
  readonly target: Target;
  readonly by: LevelMeasure;
  readonly out: string | null;
  readonly fileFormat: FileFormat;
  readonly keepExisting: boolean;
  readonly json: boolean;
  readonly choice: SoundChoice;
  readonly jobs: number;
}

/** What `level --json` says. `after` is measured from the written file, `null` when none was written. */
interface LevelReport {
  readonly file: string;
  readonly target: string;
  readonly gainDb: number;
  readonly limitedBy: GainLimit;
  readonly before: FileReport;
  /** What the gain is expected to give. */
  readonly predicted: {
    readonly integratedLufs: number | null;
    readonly truePeakDbtp: number | null;
    /** `null` where it was not worked out, as it cannot matter. */
    readonly exactTruePeakDbtp: number | null;
  };
  readonly after: FileReport | null;
  readonly out: string | null;
  /** The file stood there before and was replaced. */
  readonly replaced: boolean;
  /** Samples of the written file that were cut off at full scale. */
  readonly clippedSamples: number;
  readonly notes: readonly string[];
}

const NO_EXTRAS = { range: null, exactTruePeak: null, speech: null, series: false } as const;

/** The gain, and the exact true peak where the promise to keep the ceiling needs it. */
async function gainFor(
  { file, target, by, choice }: LevelOptions,
  sound: Measured,
  at: (done: number) => void,
): Promise<{ gain: FileGain; exact: ExactPeak | null }> {
  const measured = soundMeasurement(sound.measured);
  const gain = fileGain(measured, target, by);
  if (!gain)
    throw new FileError(
      'nothingToMeasure',
      nothingToLevel(measured),
      measured.figures.truePeakDbtp === null
        ? 'Check that it is the right file.'
        : 'Check that it is the right file, or level it by its peak with --by truePeak.',
    );
  if (!exactPeakMatters(gain.after.truePeakDbtp, target.maxTruePeakDbtp)) return { gain, exact: null };
  const exact = await exactPeakOf(file, choice, sound, at);
  return { gain: fileGain(measured, target, by, exact.truePeakDbtp)!, exact };
}

async function level(options: LevelOptions, pool: TaskPool, progress: ProgressLine): Promise<LevelReport> {
  const { file, target, out, choice, keepExisting, fileFormat } = options;
  const output = out === null ? null : await checkOutput(out, { inputs: [file], keepExisting });
  const at = (done: number): void => progress.at(file, done);
  const sound = await measureFile(file, choice, pool, at);
  const { gain, exact } = await gainFor(options, sound, at);
  progress.finish(file);
  const written =
    output && (await writeLevelled(file, output, gain.gainDb, fileFormat, choice, sound, pool, at));
  progress.finish(file);
  return {
    file,
    target: target.id,
    gainDb: gain.gainDb,
    limitedBy: gain.limitedBy,
    before: reportOf(file, sound, { ...NO_EXTRAS, exactTruePeak: exact }),
    predicted: {
      integratedLufs: gain.after.integratedLufs,
      truePeakDbtp: gain.after.truePeakDbtp,
      exactTruePeakDbtp: gain.exactPeakAfterDbtp,
    },
    after: written && reportOf(out!, written.sound, NO_EXTRAS),
    out,
    replaced: output?.before != null,
    clippedSamples: written?.clippedSamples ?? 0,
    notes: [...(written?.notes ?? []), ...(output && written ? replacedNotes(output) : [])],
  };
}

const both = (of: { integratedLufs: number | null; truePeakDbtp: number | null }): string =>
  `${withUnit(of.integratedLufs, 'LUFS')}, ${withUnit(of.truePeakDbtp, 'dBTP')}`;

function describe(report: LevelReport, target: Target): string {
  const { before, predicted, after } = report;
  const exact = exactPeakToShow(predicted.truePeakDbtp, predicted.exactTruePeakDbtp);
  const held = report.limitedBy ? `, held by the ceiling of ${withUnit(target.maxTruePeakDbtp, 'dBTP')}` : '';
  const lines = [
    `${shown(report.file)} to ${target.name}`,
    `  Before      ${both(before)}`,
    `  Gain        ${signed(report.gainDb, 2)} dB${held}`,
    after
      ? `  After       ${both(after)}, measured from ${shown(report.out!)}`
      : `  After       ${both(predicted)}, predicted; name a file with --out to write it`,
    ...(exact === null
      ? []
      : [`  Exactly     ${withUnit(exact, 'dBTP', 2)} after the gain, at 16 times the rate`]),
    ...[...before.warnings, ...report.notes].map((note) => `  ! ${note}`),
  ];
  return lines.join('\n');
}

/** `dengung level`. @returns the exit code */
export async function levelCommand(options: LevelOptions): Promise<number> {
  const progress = new ProgressLine(options.out ? 3 : 1);
  const pool = openPool(options.jobs);
  try {
    const report = await level(options, pool, progress).finally(() => progress.end());
    if (options.json) sayJson(report);
    else say(describe(report, options.target));
    return 0;
  } catch (error) {
    return failed(error, options.json, { file: options.file });
  } finally {
    await pool.close();
  }
}
