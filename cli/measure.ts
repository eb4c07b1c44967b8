import type { SoundChoice } from '@/core/audio/soundChoice';
import { MOST_SUBTITLE_BYTES, speechFromSubtitles } from '@/core/formats/subtitles';
import { csvFailure, csvHead, csvLine } from './csv';
import { expand, type Named } from './expand';
import { failed } from './failed';
import { readSideText, trouble, type Trouble } from './files';
import { InTurn, sideBySide } from './inTurn';
import { exactPeakOf, measureFile, measureTogether } from './measureFile';
import { openPool, type TaskPool } from './pool';
import { ProgressLine } from './progress';
import { describe, reportOf, type Extras, type FileReport } from './report';
import { fromStandardInput, STANDARD_INPUT } from './standardInput';
import { complain, nobodyReads, say, sayCsv, sayJson, shown } from './say';

export interface MeasureOptions {
  readonly files: readonly string[];
  readonly form: 'people' | 'json' | 'csv';
  readonly choice: SoundChoice;
  /** Id of a layout: the files are the channels of one sound. */
  readonly asOne: string | null;
  readonly series: boolean;
  readonly exactPeak: boolean;
  /** Subtitle file that says when somebody speaks. */
  readonly dialogue: string | null;
  /** Files and slices at a time. */
  readonly jobs: number;
}

interface FileFailure {
  readonly file: string;
  readonly error: Trouble;
}

/** When somebody speaks, as a subtitle file says. */
export async function speechIn(file: string | null): Promise<Extras['speech']> {
  if (file === null) return null;
  const text = await readSideText(file, MOST_SUBTITLE_BYTES, 'subtitle file');
  return { from: file, ranges: speechFromSubtitles(text) };
}

async function reportFor(
  named: Named,
  { choice, series, exactPeak }: MeasureOptions,
  speech: Extras['speech'],
  pool: TaskPool,
  onProgress: (done: number) => void,
): Promise<FileReport> {
  if ('error' in named) throw named.error;
  const path = named.file === STANDARD_INPUT ? await fromStandardInput() : named.file;
  const sound = await measureFile(path, choice, pool, onProgress);
  const exactTruePeak = exactPeak ? await exactPeakOf(path, choice, sound, onProgress) : null;
  return reportOf(named.file, sound, { range: choice.range, exactTruePeak, speech, series });
}

/** Prints reports in the order in which the files were named, each as soon as those before it are printed. */
class Printer {
  private readonly inTurn = new InTurn<FileReport | FileFailure>((ready) => {
    this.progress.clear();
    this.print(ready);
  });
  private readonly all: (FileReport | FileFailure)[] = [];

  constructor(
    private readonly form: MeasureOptions['form'],
    private readonly progress: ProgressLine,
  ) {
    if (form === 'csv') sayCsv(csvHead());
  }

  put(index: number, result: FileReport | FileFailure): void {
    this.inTurn.put(index, result);
  }

  private print(result: FileReport | FileFailure): void {
    if (this.form === 'json') this.all.push(result);
    else if ('error' in result) {
      const { message, hint } = result.error;
      if (this.form === 'csv') sayCsv(csvFailure(result.file, `${message} ${hint}`));
      else complain(`${shown(result.file)}\n  ${message} ${hint}\n`);
    } else if (this.form === 'csv') sayCsv(csvLine(result));
    else say(`${describe(result)}\n`);
  }

  end(): void {
    if (this.form === 'json') sayJson(this.all);
  }
}

/** `dengung measure`. @returns the exit code */
export async function measureCommand(options: MeasureOptions): Promise<number> {
  let speech: Extras['speech'];
  try {
    speech = await speechIn(options.dialogue);
  } catch (error) {
    return failed(error, options.form === 'json', { file: options.dialogue! });
  }
  const named = options.asOne === null ? await expand(options.files) : [{ file: options.files.join(' + ') }];
  const progress = new ProgressLine(named.length);
  const printer = new Printer(options.form, progress);
  const pool = openPool(options.jobs);
  const codes = new Set<string>();
  const one = async (index: number): Promise<void> => {
    const entry = named[index]!;
    const onProgress = (done: number): void => progress.at(entry.file, done);
    try {
      const report =
        options.asOne === null
          ? await reportFor(entry, options, speech, pool, onProgress)
          : reportOf(entry.file, await measureTogether(options.files, options.asOne, onProgress), {
              range: null,
              exactTruePeak: null,
              speech,
              series: options.series,
            });
      printer.put(index, report);
    } catch (error) {
      const failure = trouble(error);
      codes.add(failure.code);
      printer.put(index, { file: entry.file, error: failure });
    }
    progress.finish(entry.file);
  };
  await sideBySide(named.length, options.jobs, () => !nobodyReads(), one);
  progress.end();
  await pool.close();
  printer.end();
  if (codes.size === 0) return 0;
  // Only what was asked for was wrong, not the files.
  return codes.size === 1 && codes.has('noSuchTrack') ? 2 : 1;
}
