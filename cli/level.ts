import type { SoundChoice } from '@/core/audio/soundChoice';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { fileGain } from '@/core/levelling/fileGain';
import { soundMeasurement } from '@/core/loudness/sound';
import type { LevelMeasure } from '@/core/programme/model';
import type { Target } from '@/core/targets/target';
import { signed, withUnit } from '@/core/text/figures';
import { FileError, trouble } from './files';
import { measureFile } from './measureFile';
import { openPool, type Pool } from './pool';
import { ProgressLine } from './progress';
import { reportOf, type FileReport } from './report';
import { writeLevelled } from './writeLevelled';

export interface LevelOptions {
  readonly file: string;
  readonly target: Target;
  readonly by: LevelMeasure;
  readonly out: string | null;
  readonly json: boolean;
  readonly choice: SoundChoice;
  readonly jobs: number;
}

/** What `level --json` says. `after` is measured from the written file, `null` when none was written. */
interface LevelReport {
  readonly file: string;
  readonly target: string;
  readonly gainDb: number;
  readonly limitedBy: 'truePeak' | null;
  readonly before: FileReport;
  /** What the gain is expected to give. */
  readonly predicted: { readonly integratedLufs: number | null; readonly truePeakDbtp: number | null };
  readonly after: FileReport | null;
  readonly out: string | null;
}

const NO_EXTRAS = { range: null, exactTruePeak: null, speech: null, series: false } as const;

async function level(options: LevelOptions, pool: Pool): Promise<LevelReport> {
  const { file, target, by, out, choice } = options;
  const progress = new ProgressLine(out ? 3 : 1);
  const at = (done: number): void => progress.at(file, done);
  const sound = await measureFile(file, choice, pool, at);
  progress.finish(file);
  const gain = fileGain(soundMeasurement(sound.measured), target, by);
  if (!gain) {
    throw new FileError(
      'nothingToMeasure',
      'There is nothing over −70 LUFS in this file.',
      'Check that it is the right file.',
    );
  }
  let after: FileReport | null = null;
  if (out) {
    await writeLevelled(file, out, gain.gainDb, choice, sound, at);
    progress.finish(file);
    after = reportOf(out, await measureFile(out, WHOLE_FIRST_SOUND, pool, at), NO_EXTRAS);
    progress.finish(file);
  }
  return {
    file,
    target: target.id,
    gainDb: gain.gainDb,
    limitedBy: gain.limitedBy,
    before: reportOf(file, sound, NO_EXTRAS),
    predicted: { integratedLufs: gain.after.integratedLufs, truePeakDbtp: gain.after.truePeakDbtp },
    after,
    out,
  };
}

const both = (of: { integratedLufs: number | null; truePeakDbtp: number | null }): string =>
  `${withUnit(of.integratedLufs, 'LUFS')}, ${withUnit(of.truePeakDbtp, 'dBTP')}`;

function describe(report: LevelReport, target: Target): string {
  const lines = [
    `${report.file} to ${target.name}`,
    `  Before      ${both(report.before)}`,
    `  Gain        ${signed(report.gainDb, 2)} dB${report.limitedBy ? `, held by the ceiling of ${withUnit(target.maxTruePeakDbtp, 'dBTP')}` : ''}`,
    report.after
      ? `  After       ${both(report.after)}, measured from ${report.out}`
      : `  After       ${both(report.predicted)}, predicted; name a file with --out to write it`,
    ...report.before.warnings.map((warning) => `  ! ${warning}`),
  ];
  return lines.join('\n');
}

/** `dengung level`. @returns the exit code */
export async function levelCommand(options: LevelOptions): Promise<number> {
  const pool = openPool(options.jobs);
  try {
    const report = await level(options, pool);
    console.log(options.json ? JSON.stringify(report, null, 2) : describe(report, options.target));
    return 0;
  } catch (error) {
    const failure = trouble(error);
    if (options.json) console.log(JSON.stringify({ file: options.file, error: failure }, null, 2));
    else console.error(`${options.file}\n  ${failure.message} ${failure.hint}`);
    return 1;
  } finally {
    await pool.close();
  }
}
