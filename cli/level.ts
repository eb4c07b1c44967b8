import type { SoundChoice } from '@/core/audio/soundChoice';
import { exactPeakMatters, exactPeakToShow } from '@/core/proposals/exactPeak';
import type { GainLimit } from '@/core/proposals/held';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import { fileGain, nothingToLevel, type FileGain } from '@/core/proposals/fileGain';
import type { ExactPeak } from '@/core/loudness/exactTruePeak';
import { soundMeasurement } from '@/core/loudness/sound';
import type { LevelMeasure } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { signed, withUnit } from '@/core/text/figures';
import { FileError } from './files';
import { exactPeakOf, measureFile, type Measured } from './measureFile';
import { failed } from './failed';
import { limiterFor, limiterReport, limitFile, withFileSound, type LimiterReport } from './limiting';
import { limiterSentences } from '@/core/proposals/limiterWords';
import { checkOutput, replacedNotes, WAV_ENDINGS } from './output';
import { openPool, type TaskPool } from './pool';
import { ProgressLine } from './progress';
import { reportOf, type FileReport } from './report';
import { say, sayJson, shown } from './say';
import { writeLevelled, type FileFormat, type Limiting } from './writeLevelled';

export interface LevelOptions {
  readonly file: string;
  readonly target: Target;
  readonly by: LevelMeasure;
  /** Peaks are limited, so that the loudness is reached; else the gain stops at the ceiling. */
  readonly limit: boolean;
  /** A file of limiter presets. */
  readonly limiter: string | null;
  readonly out: string | null;
  readonly fileFormat: FileFormat;
  readonly keepExisting: boolean;
  readonly json: boolean;
  readonly choice: SoundChoice;
  readonly jobs: number;
}

/** What `level --json` says. `after` is measured from the written file, `null` when none was written. */
export interface LevelReport {
  readonly file: string;
  readonly target: string;
  readonly gainDb: number;
  readonly limitedBy: GainLimit;
  /** With `--limit`. */
  readonly limiter?: LimiterReport;
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

/** The gain, what it gives, and the limiter behind it. */
interface Worked {
  readonly gainDb: number;
  readonly limitedBy: GainLimit;
  readonly predicted: LevelReport['predicted'];
  readonly exact: ExactPeak | null;
  readonly limiting: (Limiting & { readonly found: LimitedGain }) | null;
  readonly sentences: readonly string[];
}

async function workOut(options: LevelOptions, sound: Measured, at: (done: number) => void): Promise<Worked> {
  const { gain, exact } = await gainFor(options, sound, at);
  const { after, wantedDb } = gain;
  const plain = {
    gainDb: gain.gainDb,
    limitedBy: gain.limitedBy,
    predicted: {
      integratedLufs: after.integratedLufs,
      truePeakDbtp: after.truePeakDbtp,
      exactTruePeakDbtp: gain.exactPeakAfterDbtp,
    },
    exact,
  };
  if (!options.limit) return { ...plain, limiting: null, sentences: [] };
  const { file, choice, target, limiter: path } = options;
  const limiter = await limiterFor(path, target.maxTruePeakDbtp);
  const found = await limitFile(
    withFileSound(file, choice, sound, limiter),
    limiter,
    target.integratedLufs,
    wantedDb,
    at,
  );
  const { frames, sampleRate } = sound.format;
  const alone =
    gain.limitedBy === 'ceiling' ? `Gain alone would stop at ${signed(gain.gainDb, 2)} dB.` : null;
  return {
    gainDb: found.gainDb,
    limitedBy: null,
    predicted: {
      integratedLufs: found.after.integratedLufs,
      truePeakDbtp: found.after.truePeakDbtp,
      exactTruePeakDbtp: null,
    },
    exact,
    limiting: { limiter, after: found.after, found },
    sentences: [...limiterSentences(limiter, found, frames / sampleRate), ...(alone ? [alone] : [])],
  };
}

/** Works the gain out, and writes the file where that is asked. */
export async function level(
  options: LevelOptions,
  pool: TaskPool,
  progress: ProgressLine,
): Promise<LevelReport> {
  const { file, target, out, choice, keepExisting, fileFormat } = options;
  const output =
    out === null ? null : await checkOutput(out, { inputs: [file], keepExisting, endings: WAV_ENDINGS });
  const at = (done: number): void => progress.at(file, done);
  const sound = await measureFile(file, choice, pool, at);
  const { gainDb, limitedBy, limiting, predicted, exact, sentences } = await workOut(options, sound, at);
  progress.finish(file);
  const written =
    output && (await writeLevelled(file, output, gainDb, limiting, fileFormat, choice, sound, pool, at));
  progress.finish(file);
  return {
    file,
    target: target.id,
    gainDb,
    limitedBy,
    ...(limiting && { limiter: limiterReport(limiting.limiter, limiting.found) }),
    before: reportOf(file, sound, { ...NO_EXTRAS, exactTruePeak: exact }),
    predicted,
    after: written && reportOf(out!, written.sound, NO_EXTRAS),
    out,
    replaced: output?.before != null,
    clippedSamples: written?.clippedSamples ?? 0,
    notes: [...sentences, ...(written?.notes ?? []), ...(output && written ? replacedNotes(output) : [])],
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
    return report.before.integrity.length > 0 ? 1 : 0;
  } catch (error) {
    return failed(error, options.json, { file: options.file });
  } finally {
    await pool.close();
  }
}
