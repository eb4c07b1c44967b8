import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { number, ValidationError } from 'yup';
import { DECLARABLE } from '@/core/audio/layout';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { UNIT } from '@/core/measuring/clipReading';
import { usualGoal } from '@/core/proposals/usualGoal';
import { readNames } from '@/core/proposals/sets';
import type { LevelMeasure } from '@/core/programme/model';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { readNumber } from '@/core/text/typedNumber';
import { parseTime } from '@/core/text/timeEntry';
import { FRAME_RATES } from '@/core/text/timecode';
import { USUAL_MOST_HOURS } from '@/core/timeline/cut';
import { failed } from './failed';
import { levelCommand } from './level';
import { levelManyCommand } from './levelMany';
import { measureCommand } from './measure';
import { renderCommand } from './render';
import { complain, printingFailed, say, sayJson, watchOutput } from './say';

const LAYOUTS = DECLARABLE.map((layout) => layout.id).join(', ');

const HELP = `Dengung measures loudness and true peak, and sets gain to a delivery target.

Usage:
  dengung measure [options] FILE…
  dengung level --target ID [--by integrated|truePeak] [--json] [--out OUT.wav] [--format 24|float] FILE
  dengung level --target ID --each|--together [--by WHAT] [--goal N] [--ceiling N] [--plan PLAN.json]
                [--sets folder|NAME,NAME…] [--report OUT.csv|OUT.json] [--out FOLDER] [--dry-run] [--json] FILE…
  dengung render --media FOLDER --out OUT.wav [--range A-B] [--fps RATE] [--json] CUT.otio|CUT.edl

measure   loudness, range, peaks, noise floor and faults of sound files; FILE may be a folder, a pattern, or - for
          standard input
level     the gain that brings a file to a target, never past its true-peak ceiling; with --each or --together many
          files by one proposal, every one of them explained

render    a cut of an edit system, mixed from its media and measured, with every clip’s own figures

WAV, BWF, RF64, BW64, AIFF, CAF, FLAC, MP3, Ogg Vorbis and Opus are read, and the sound of MP4, MOV, Matroska, WebM and
transport streams where it is one of these.

  --json            figures as data, unrounded
  --csv             measure: one line a file
  --series          measure --json: loudness and peaks every 100 ms as well
  --range A-B       measure or render only that part; times as 83.5, 1:23.5 or 1:02:03, either may be left out
  --layout ID       how the channels stand: ${LAYOUTS}
  --as-one ID       measure: the mono files named are the channels of one sound of that layout, in its order
  --track N         which sound of a file that holds several, from 1
  --exact-peak      measure: also the true peak at 16 times the rate
  --dialogue FILE   measure: also the loudness while somebody speaks, by a subtitle file (.srt or .vtt)
  --jobs N          files, and stretches of long files, at a time; at most, and otherwise, as many as there are cores
  --target ID       level: one of ${SHIPPED_TARGETS.map((target) => target.id).join(', ')}
  --by WHAT         level: what is brought to the target, integrated (as is usual) or truePeak; of many files also
                    maxShortTerm, maxMomentary or samplePeak
  --each            level: every file by itself
  --together        level: all by one gain, so that their balance stays
  --sets WHAT       level --together: one gain a set; folder, or what the names of each set hold, parted by commas (* is
                    anything); a file that none holds for stands by itself
  --goal N          level many: where to, in LUFS, dBTP or dBFS; the target’s own figure otherwise
  --ceiling N       level many: true peak that none may pass, dBTP; the target’s otherwise
  --plan FILE       level many: by a plan; files lie in folders called dialogue, narration, music, music under, effects
                    or ambience
  --report FILE     level many: the proposal as .csv or .json
  --dry-run         level many: write no sound
  --out FILE        level: write the file with that gain, of many files the folder to write to; render: the file to write; what was written is measured
  --format WHAT     level, render: 24 (bits) or float; otherwise float where it comes as float, else 24
  --no-clobber      level, render: write no file that is there already; otherwise it is replaced, and that is said
  --media FOLDER    render: where the media of the cut lies, folders within it included
  --fps RATE        render: frames a second of a list’s timecode: ${FRAME_RATES.map(({ id }) => id).join(', ')} (25 otherwise)
  --most-hours N    render: the longest programme that is taken for no mistake (1 to 1000; ${USUAL_MOST_HOURS} otherwise)
  --help            this text
  --version         the version

Exit code: 0 all well, 1 a file failed or media was missing, 2 wrong usage.`;

/** A command that was called wrongly. */
class UsageError extends Error {}

const version = (): string => {
  const root = process.env['DENGUNG_ROOT'] ?? '.';
  const { version: found } = JSON.parse(readFileSync(`${root}/package.json`, 'utf8')) as { version: string };
  return found;
};

const MEASURE_ONLY = ['csv', 'series', 'range', 'as-one', 'exact-peak', 'dialogue'] as const;
const RENDER_ONLY = ['media', 'fps', 'most-hours'] as const;
/** Options that say what is written. */
const WRITING = ['out', 'format', 'no-clobber'] as const;
const MANY_ONLY = ['each', 'together', 'goal', 'ceiling', 'plan', 'report', 'dry-run', 'sets'] as const;
const LEVEL_ONLY = ['target', 'by', ...MANY_ONLY] as const;

/** A level under zero belongs to its option, though it begins like another one: `--goal -6`. */
function withLevels(args: readonly string[]): string[] {
  const joined: string[] = [];
  for (const arg of args) {
    const option = joined.at(-1);
    if ((option === '--goal' || option === '--ceiling') && /^[-−]\d/.test(arg))
      joined[joined.length - 1] = `${option}=${arg}`;
    else joined.push(arg);
  }
  return joined;
}

function parse(args: readonly string[]) {
  try {
    return parseArgs({
      args: withLevels(args),
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        csv: { type: 'boolean' },
        series: { type: 'boolean' },
        range: { type: 'string' },
        layout: { type: 'string' },
        'as-one': { type: 'string' },
        track: { type: 'string' },
        'exact-peak': { type: 'boolean' },
        dialogue: { type: 'string' },
        jobs: { type: 'string' },
        target: { type: 'string' },
        by: { type: 'string' },
        out: { type: 'string' },
        each: { type: 'boolean' },
        together: { type: 'boolean' },
        goal: { type: 'string' },
        ceiling: { type: 'string' },
        plan: { type: 'string' },
        report: { type: 'string' },
        'dry-run': { type: 'boolean' },
        sets: { type: 'string' },
        media: { type: 'string' },
        fps: { type: 'string' },
        'most-hours': { type: 'string' },
        format: { type: 'string' },
        'no-clobber': { type: 'boolean' },
        help: { type: 'boolean', short: 'h', default: false },
        version: { type: 'boolean', short: 'v', default: false },
      },
    });
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
}

type Values = ReturnType<typeof parse>['values'];

function whole(text: string, option: string, most: number): number {
  const message = `--${option} is a whole number from 1 to ${most}.`;
  try {
    return number()
      .transform((_, original: unknown) => (/^\d+$/.test(String(original)) ? Number(original) : NaN))
      .typeError(message)
      .required(message)
      .min(1, message)
      .max(most, message)
      .validateSync(text);
  } catch (error) {
    if (error instanceof ValidationError) throw new UsageError(error.message);
    throw error;
  }
}

function rangeOf(text: string): TimeRange {
  const [first = '', second = '', ...rest] = text.split(/[-–]/);
  const from = first.trim() === '' ? 0 : parseTime(first);
  const to = second.trim() === '' ? Infinity : parseTime(second);
  if (rest.length > 0 || !(from < to))
    throw new UsageError(
      '--range is two times with a dash between them, the first before the second, such as 1:20-2:05 or 90-.',
    );
  return { from, to };
}

function layoutId(id: string | undefined): string | null {
  if (id === undefined) return null;
  if (DECLARABLE.some((layout) => layout.id === id)) return id;
  throw new UsageError(`There is no layout “${id}”; there are ${LAYOUTS}.`);
}

/** More at a time than there are cores only takes memory. */
function jobsOf(text: string | undefined): number {
  const cores = availableParallelism();
  const wanted = text === undefined ? cores : whole(text, 'jobs', 64);
  if (wanted > cores) complain(`--jobs ${wanted}: ${cores} at a time, as many as there are cores.`);
  return Math.min(wanted, cores);
}

/** What a file is written as. */
function formatOf(text: string | undefined): '24' | 'float' | undefined {
  if (text === undefined || text === '24' || text === 'float') return text;
  throw new UsageError('--format is 24 or float.');
}

const common = (values: Values) => ({
  choice: {
    track: values.track === undefined ? 0 : whole(values.track, 'track', 1000) - 1,
    layoutId: layoutId(values.layout),
    range: values.range === undefined ? null : rangeOf(values.range),
  },
  jobs: jobsOf(values.jobs),
});

/** Refuses options that a command does not have. */
function notFor(command: string, values: Values, options: readonly (keyof Values)[]): void {
  const wrong = options.find((option) => values[option] !== undefined);
  if (!wrong) return;
  const among = (list: readonly string[]): boolean => list.includes(wrong);
  const owner = among(WRITING)
    ? 'level and render'
    : among(LEVEL_ONLY)
      ? 'level'
      : among(RENDER_ONLY)
        ? 'render'
        : 'measure';
  throw new UsageError(`--${wrong} belongs to ${owner}, not to ${command}.`);
}

function runMeasure(values: Values, files: readonly string[]): Promise<number> {
  notFor('measure', values, [...WRITING, ...LEVEL_ONLY, ...RENDER_ONLY]);
  if (files.length === 0) throw new UsageError('Name at least one file to measure.');
  if (values.json && values.csv) throw new UsageError('Choose --json or --csv, not both.');
  if (values.series && !values.json) throw new UsageError('--series needs --json.');
  const asOne = layoutId(values['as-one']);
  const alone = (['range', 'layout', 'track', 'exact-peak'] as const).find(
    (name) => values[name] !== undefined,
  );
  if (asOne !== null && alone) throw new UsageError(`--${alone} cannot be used with --as-one.`);
  return measureCommand({
    ...common(values),
    files,
    form: values.json ? 'json' : values.csv ? 'csv' : 'people',
    asOne,
    series: values.series ?? false,
    exactPeak: values['exact-peak'] ?? false,
    dialogue: values.dialogue ?? null,
  });
}

function runLevel(values: Values, files: readonly string[]): Promise<number> {
  notFor('level', values, [...MEASURE_ONLY, ...RENDER_ONLY]);
  const target = SHIPPED_TARGETS.find((candidate) => candidate.id === values.target);
  if (!target) {
    throw new UsageError(
      values.target === undefined
        ? 'Choose a target with --target.'
        : `There is no target “${values.target}”.`,
    );
  }
  if (values.each || values.together || values.plan !== undefined) return runLevelMany(values, files, target);
  const wrong = MANY_ONLY.find((option) => values[option] !== undefined);
  if (wrong) throw new UsageError(`--${wrong} needs --each or --together.`);
  const [file, ...more] = files;
  if (!file || more.length > 0)
    throw new UsageError('Name exactly one file to level, or say --each or --together.');
  const by = values.by ?? 'integrated';
  if (by !== 'integrated' && by !== 'truePeak') throw new UsageError('--by is integrated or truePeak.');
  return levelCommand({
    ...common(values),
    file,
    target,
    by,
    out: values.out ?? null,
    fileFormat: formatOf(values.format) ?? 'asItComes',
    keepExisting: values['no-clobber'] ?? false,
    json: values.json ?? false,
  });
}

const MEASURES: readonly LevelMeasure[] = [
  'integrated',
  'maxShortTerm',
  'maxMomentary',
  'truePeak',
  'samplePeak',
];

/** A level that was given, checked. */
function levelOf(
  text: string | undefined,
  option: string,
  otherwise: number,
  [most, unit]: readonly [number, string],
): number {
  if (text === undefined) return otherwise;
  const read = readNumber(text, `--${option} is a number from −70 to ${most} ${unit}.`, [-70, most, unit]);
  if (typeof read !== 'number') throw new UsageError(read.error);
  return read;
}

/** How files are put in sets: by folder, or by the names that were given. */
function setsFrom(text: string | undefined): 'folder' | readonly string[] | null {
  if (text === undefined || text === 'folder') return text ?? null;
  const names = readNames(text);
  if ('error' in names) throw new UsageError(`--sets: ${names.error}.`);
  return names;
}

function runLevelMany(values: Values, files: readonly string[], target: Target): Promise<number> {
  if (files.length === 0) throw new UsageError('Name at least one file to level.');
  if (values.each && values.together) throw new UsageError('Choose --each or --together, not both.');
  if (values.sets !== undefined && !values.together) throw new UsageError('--sets needs --together.');
  if (values.plan !== undefined && values.together) throw new UsageError('--plan levels each by itself.');
  const by = MEASURES.find((measure) => measure === (values.by ?? 'integrated'));
  if (!by) throw new UsageError(`--by is one of ${MEASURES.join(', ')}.`);
  if (values.report !== undefined && !/\.(csv|json)$/i.test(values.report))
    throw new UsageError('--report ends in .csv or .json.');
  return levelManyCommand({
    ...common(values),
    files,
    target,
    mode: values.together ? 'together' : 'each',
    by,
    goal: levelOf(values.goal, 'goal', usualGoal(by, target), [3, UNIT[by]]),
    ceiling: levelOf(values.ceiling, 'ceiling', target.maxTruePeakDbtp, [3, 'dBTP']),
    sets: setsFrom(values.sets),
    plan: values.plan ?? null,
    out: values['dry-run'] ? null : (values.out ?? null),
    report: values.report ?? null,
    fileFormat: formatOf(values.format) ?? 'asItComes',
    keepExisting: values['no-clobber'] ?? false,
    json: values.json ?? false,
  });
}

function runRender(values: Values, files: readonly string[]): Promise<number> {
  const others = [...MEASURE_ONLY, ...LEVEL_ONLY, 'layout', 'track'] as const;
  notFor(
    'render',
    values,
    others.filter((option) => option !== 'range'),
  );
  const [cut, ...more] = files;
  if (!cut || more.length > 0) throw new UsageError('Name exactly one cut to render.');
  const { media, out, fps = '25' } = values;
  if (media === undefined) throw new UsageError('Name the folder that holds the media with --media.');
  if (out === undefined) throw new UsageError('Name the file to write with --out.');
  const frameRate = FRAME_RATES.find(({ id }) => id === fps);
  if (!frameRate) throw new UsageError(`--fps is one of ${FRAME_RATES.map(({ id }) => id).join(', ')}.`);
  const { choice, jobs } = common(values);
  const hours = values['most-hours'];
  return renderCommand({
    cut,
    media,
    out,
    fileFormat: formatOf(values.format) ?? '24',
    keepExisting: values['no-clobber'] ?? false,
    range: choice.range,
    mostHours: hours === undefined ? USUAL_MOST_HOURS : whole(hours, 'most-hours', 1000),
    frameRate,
    json: values.json ?? false,
    jobs,
  });
}

async function run(args: readonly string[]): Promise<number> {
  const { values, positionals } = parse(args);
  const [command, ...files] = positionals;
  const empty = (['out', 'report', 'media', 'plan', 'dialogue'] as const).find((name) => values[name] === '');
  if (empty) throw new UsageError(`--${empty} needs a name.`);
  if (files.includes('')) throw new UsageError('A file’s name cannot be empty.');
  if (values.help || command === 'help') {
    say(HELP);
    return 0;
  }
  if (values.version) {
    say(version());
    return 0;
  }
  if (!command) throw new UsageError('Say what to do: measure, level or render.');
  if (command === 'measure') return runMeasure(values, files);
  if (command === 'level') return runLevel(values, files);
  if (command === 'render') return runRender(values, files);
  throw new UsageError(`“${command}” is not a command; there are measure, level and render.`);
}

/** Tells what is wrong with a call, as data where they were asked for. */
function misused(message: string): void {
  const hint = 'See: dengung --help';
  if (process.argv.includes('--json')) sayJson({ error: { code: 'usage', message, hint } });
  else complain(`${message}\n${hint}`);
}

watchOutput();
run(process.argv.slice(2)).then(
  (code) => (process.exitCode = printingFailed() ? 1 : code),
  (error: unknown) => {
    if (error instanceof UsageError) misused(error.message);
    else failed(error, process.argv.includes('--json'), {});
    process.exitCode = error instanceof UsageError ? 2 : 1;
  },
);
