import { availableParallelism } from 'node:os';
import { Command } from '@commander-js/extra-typings';
import { UNIT } from '@/core/measuring/clipReading';
import { planFileLines, writePlan } from '@/core/proposals/planFile';
import { SPEECH_FIRST } from '@/core/programme/plan';
import { usualGoal } from '@/core/proposals/usualGoal';
import type { LevelMeasure, Role } from '@/core/programme/model';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { FRAME_RATES } from '@/core/text/timecode';
import { USUAL_MOST_HOURS } from '@/core/timeline/cut';
import { check } from './checkProgram';
import { project } from './projectProgram';
import { film } from './filmProgram';
import { report } from './reportProgram';
import { send } from './sendProgram';
import { named, quiet, READ, TARGETS, type Ended } from './programParts';
import { deliver } from './deliverProgram';
import { say } from './say';
import * as usage from './usage';
import { UsageError } from './usage';

const EXIT_CODES = 'Exit code: 0 all well, 1 a file failed or media was missing or ambiguous, 2 wrong usage.';

const MEASURES: readonly LevelMeasure[] = [
  'integrated',
  'maxShortTerm',
  'maxMomentary',
  'truePeak',
  'samplePeak',
];
const FORMATS = ['24', 'float'] as const;
const RATES = FRAME_RATES.map(({ id }) => id);

const readSound = (command: Command) =>
  command
    .option('--json', 'figures as data, unrounded')
    .option(
      '--range <A-B>',
      'only that part; times as 83.5, 1:23.5 or 1:02:03, either may be left out',
      usage.range,
    )
    .option('--layout <ID>', `how the channels stand: ${usage.LAYOUTS}`, usage.layoutId)
    .option('--track <N>', 'which sound of a file that holds several, from 1', usage.whole('track', 1000))
    .option(
      '--jobs <N>',
      'files, and parts of long files, at a time; at most, and otherwise, as many as there are cores',
      usage.jobs,
    );

interface Chosen {
  readonly track?: number | undefined;
  readonly layout?: string | undefined;
  readonly range?: ReturnType<typeof usage.range> | undefined;
  readonly jobs?: number | undefined;
}

const chosen = ({ track = 1, layout, range, jobs }: Chosen) => ({
  choice: { track: track - 1, layoutId: layout ?? null, range: range ?? null },
  jobs: jobs ?? availableParallelism(),
});

function measure(ended: Ended): Command {
  const command = readSound(quiet(new Command('measure')))
    .summary('loudness, range, peaks, noise floor and faults of sound files')
    .description(
      `Measures loudness, range, peaks, noise floor and faults of sound files. FILE may be a folder, a pattern, or - for standard input.\n\n${READ}`,
    )
    .argument('[FILE...]')
    .option('--csv', 'one line a file')
    .option('--series', 'with --json: loudness and peaks every 100 ms as well')
    .option(
      '--as-one <ID>',
      'the mono files named are the channels of one sound of that layout, in its order',
      usage.layoutId,
    )
    .option('--exact-peak', 'also the true peak at 16 times the rate')
    .option(
      '--dialogue <FILE>',
      'also the loudness while somebody speaks, by a subtitle file (.srt or .vtt)',
      named('dialogue'),
    );
  command.action(async (files, options) => {
    usage.named(files, 'Name at least one file to measure.');
    if (options.json && options.csv) throw new UsageError('Select --json or --csv, not both.');
    if (options.series && !options.json) throw new UsageError('--series needs --json.');
    const alone = (
      [
        ['range', options.range],
        ['layout', options.layout],
        ['track', options.track],
        ['exact-peak', options.exactPeak],
      ] as const
    ).find(([, value]) => value !== undefined);
    if (options.asOne !== undefined && alone)
      throw new UsageError(`--${alone[0]} cannot be used with --as-one.`);
    ended(
      await (
        await import('./measure')
      ).measureCommand({
        ...chosen(options),
        files,
        form: options.json ? 'json' : options.csv ? 'csv' : 'people',
        asOne: options.asOne ?? null,
        series: options.series ?? false,
        exactPeak: options.exactPeak ?? false,
        dialogue: options.dialogue ?? null,
      }),
    );
  });
  return command as unknown as Command;
}

function level(ended: Ended): Command {
  const command = readSound(quiet(new Command('level')))
    .summary('the gain that brings files to a target, never past its true-peak ceiling; or through a limiter')
    .description(
      `The gain that brings a file to a target, never past its true-peak ceiling; with --each, --together or --plan many files by one proposal, every one of them explained.\n\n${READ}`,
    )
    .argument('[FILE...]')
    .option('--target <ID>', `one of ${TARGETS.join(', ')}`)
    .option(
      '--by <WHAT>',
      `what is brought to the target, integrated (as is usual) or truePeak; of many files also ${MEASURES.filter((one) => one !== 'integrated' && one !== 'truePeak').join(', ')}`,
    )
    .option('--out <PATH>', 'the file to write, of many files the folder to write to', named('out'))
    .option(
      '--format <WHAT>',
      '24 (bits) or float; otherwise float where it comes as float, else 24',
      usage.oneOf('format', FORMATS),
    )
    .option('--no-clobber', 'write no file that is there already; otherwise it is replaced, and that is said')
    .option(
      '--limit',
      'limit true peaks at the ceiling, so that the loudness is reached; otherwise the gain stops there',
    )
    .option('--limiter <FILE>', 'with --limit: its settings, from a limiter preset (.json)', named('limiter'))
    .optionsGroup('Of many files:')
    .option('--each', 'every file by itself')
    .option('--together', 'all by one gain, so that their balance stays')
    .option(
      '--sets <WHAT>',
      'with --together: one gain a set; folder, or what the names of each set hold, parted by commas (* is anything); a file that none holds for stands by itself',
      usage.sets,
    )
    .option('--goal <N>', 'where to, in LUFS, dBTP or dBFS; the target’s own figure otherwise')
    .option('--ceiling <N>', 'true peak that none may pass, dBTP; the target’s otherwise')
    .option(
      '--plan <FILE>',
      'by a plan; files lie in folders called dialogue, narration, music, music under, effects or ambience',
      named('plan'),
    )
    .option('--report <FILE>', 'the proposal as .csv or .json', named('report'))
    .option('--dry-run', 'write no sound');
  command.action(async (files, options) => {
    usage.named(files);
    const target = levelTarget(options.target);
    const { by = 'integrated', each, together, plan } = options;
    const writing = { keepExisting: !options.clobber, fileFormat: options.format ?? 'asItComes' } as const;
    const limiting = { limit: options.limit ?? false, limiter: options.limiter ?? null };
    if (limiting.limiter !== null && !limiting.limit) throw new UsageError('--limiter needs --limit.');
    const shared = { ...chosen(options), ...writing, ...limiting, target, json: options.json ?? false };
    if (each || together || plan !== undefined) {
      usage.named(files, 'Name at least one file to level.');
      if (each && together) throw new UsageError('Select --each or --together, not both.');
      if (options.sets !== undefined && !together) throw new UsageError('--sets needs --together.');
      if (plan !== undefined && together) throw new UsageError('--plan levels each by itself.');
      if (options.report !== undefined && !/\.(csv|json)$/i.test(options.report))
        throw new UsageError('--report ends in .csv or .json.');
      const measure = usage.oneOf('by', MEASURES)(by);
      return ended(
        await (
          await import('./levelMany')
        ).levelManyCommand({
          ...shared,
          files,
          mode: together ? 'together' : 'each',
          by: measure,
          goal: usage.level(options.goal, 'goal', usualGoal(measure, target), [3, UNIT[measure]]),
          ceiling: usage.level(options.ceiling, 'ceiling', target.maxTruePeakDbtp, [3, 'dBTP']),
          sets: options.sets ?? null,
          plan: plan ?? null,
          out: options.dryRun ? null : (options.out ?? null),
          report: options.report ?? null,
        }),
      );
    }
    const { goal, ceiling, report, dryRun, sets } = options;
    const wrong = Object.entries({ goal, ceiling, report, 'dry-run': dryRun, sets }).find(
      ([, value]) => value !== undefined,
    );
    if (wrong) throw new UsageError(`--${wrong[0]} needs --each or --together.`);
    const file = usage.oneFile(files, 'Name exactly one file to level, or say --each or --together.');
    const measure = usage.oneOf('by', ['integrated', 'truePeak'])(by);
    if (limiting.limit && measure === 'truePeak')
      throw new UsageError('--limit levels by loudness, not by truePeak.');
    ended(
      await (
        await import('./level')
      ).levelCommand({ ...shared, file, by: measure, out: options.out ?? null }),
    );
  });
  return command as unknown as Command;
}

/** What `render` is told of a plan; `null` without one. @throws UsageError for what needs one */
function planned(options: {
  readonly plan?: string | undefined;
  readonly target?: string | undefined;
  readonly roles?: ReadonlyMap<string, Role> | undefined;
  readonly limit?: boolean | undefined;
  readonly limiter?: string | undefined;
  readonly findSpeech?: true | undefined;
}) {
  const { plan, target: id, roles = new Map<string, Role>(), limiter = null } = options;
  const limit = options.limit === true;
  if (plan === undefined) {
    const { target, roles: given, limiter: preset, findSpeech } = options;
    const wrong = Object.entries({
      target,
      roles: given,
      limiter: preset,
      limit: limit || undefined,
      'find-speech': findSpeech,
    }).find(([, value]) => value !== undefined);
    if (wrong) throw new UsageError(`--${wrong[0]} needs --plan.`);
    return null;
  }
  if (limiter !== null && !limit) throw new UsageError('--limiter needs --limit.');
  if (limit && (targetNamed(id).anchor ?? 'programme') !== 'programme')
    throw new UsageError('--limit brings all of the programme to the target; this one goes by dialogue.');
  return {
    file: plan,
    target: targetNamed(id),
    roles,
    limit,
    limiter,
    findSpeech: options.findSpeech === true,
  };
}

/** @throws UsageError for none, or one that does not exist */
function targetNamed(id: string | undefined): Target {
  const target = SHIPPED_TARGETS.find((one) => one.id === id);
  if (target) return target;
  throw new UsageError(
    id === undefined
      ? 'Select a target with --target.'
      : `There is no target “${id}”; there are ${TARGETS.join(', ')}.`,
  );
}

/** The same for files that are levelled by all of their sound. @throws UsageError for a target that goes by dialogue */
function levelTarget(id: string | undefined): Target {
  const target = targetNamed(id);
  if (target.anchor === undefined || target.anchor === 'programme') return target;
  throw new UsageError(
    `“${target.id}” goes by dialogue; files are levelled by all of their sound. Select another target, or see: dengung check.`,
  );
}

function render(ended: Ended): Command {
  const command = quiet(new Command('render'))
    .summary('a cut of an edit system, mixed from its media and measured')
    .description(
      'Mixes a cut of an edit system (.otio or .edl) from its media, measures it, and tells every clip’s own figures.',
    )
    .argument('[CUT...]')
    .usage('[options] CUT')
    .option('--media <FOLDER>', 'where the media of the cut lies, folders within it included', named('media'))
    .option('--out <FILE>', 'the file to write; what was written is measured', named('out'))
    .option('--json', 'figures as data, unrounded')
    .option('--range <A-B>', 'only that part; times as 83.5, 1:23.5 or 1:02:03', usage.range)
    .option(
      '--fps <RATE>',
      `frame rate of a list’s timecode: ${RATES.join(', ')} (25 otherwise)`,
      usage.oneOf('fps', RATES),
    )
    .option('--format <WHAT>', '24 (bits, as is usual) or float', usage.oneOf('format', FORMATS))
    .option('--no-clobber', 'write no file that is there already; otherwise it is replaced, and that is said')
    .option(
      '--most-hours <N>',
      `the longest programme that is taken for no mistake (1 to 1000; ${USUAL_MOST_HOURS} otherwise)`,
      usage.whole('most-hours', 1000),
    )
    .optionsGroup('By a plan:')
    .option(
      '--plan <FILE>',
      'carry out a plan first: a level for every role, then all of it to the target',
      named('plan'),
    )
    .option('--target <ID>', `with --plan: one of ${TARGETS.join(', ')}`)
    .option(
      '--roles <LIST>',
      'with --plan: roles of tracks, as NAME=role, parted by commas; others keep the cut’s, or are dialogue',
      usage.roles,
    )
    .option(
      '--find-speech',
      'with --plan: find when somebody speaks in dialogue and narration; otherwise all of each clip counts',
    )
    .option(
      '--limit',
      'with --plan: a limiter on the programme, so that the target is reached; otherwise the gain stops at the ceiling',
    )
    .option('--limiter <FILE>', 'with --limit: its settings, from a limiter preset (.json)', named('limiter'))
    .optionsGroup('To compare:')
    .option('--no-curves', 'without the gain curves of the cut, to compare')
    .option('--no-limit', 'without the limiters of the cut, to compare')
    .optionsGroup('Options:')
    .option('--jobs <N>', 'media opened at a time', usage.jobs);
  command.action(async (cuts, options) => {
    const cut = usage.oneFile(cuts, 'Name exactly one cut to render.');
    const { media, out, fps = '25' } = options;
    if (media === undefined) throw new UsageError('Name the folder that holds the media with --media.');
    if (out === undefined) throw new UsageError('Name the file to write with --out.');
    const { choice, jobs } = chosen(options);
    ended(
      await (
        await import('./render')
      ).renderCommand({
        cut,
        media,
        out,
        fileFormat: options.format ?? '24',
        keepExisting: !options.clobber,
        range: choice.range,
        mostHours: options.mostHours ?? USUAL_MOST_HOURS,
        frameRate: FRAME_RATES.find(({ id }) => id === fps)!,
        json: options.json ?? false,
        curves: options.curves,
        limiters: options.limit !== false,
        plan: planned(options),
        jobs,
      }),
    );
  });
  return command as unknown as Command;
}

function plan(ended: Ended): Command {
  const command = quiet(new Command('plan'))
    .summary('what a plan file holds; prints the one that comes with the product')
    .description(
      `Prints the plan that comes with the product, to begin your own from. A plan file is JSON:\n\n${planFileLines().join('\n')}`,
    );
  command.action(() => {
    say(writePlan(SPEECH_FIRST).trimEnd());
    ended(0);
  });
  return command as unknown as Command;
}

/** All that can be called. @param ended told the exit code of what was done */
export function program(version: string, ended: Ended): Command {
  const all = quiet(new Command('dengung'))
    .description('Dengung measures loudness and true peak, and sets gain to a delivery target.')
    .version(version, '-v, --version', 'the version')
    .addHelpText('after', `\n${EXIT_CODES}\n\nOptions of a command: dengung help COMMAND`);
  for (const make of [measure, check, level, render, plan]) all.addCommand(make(ended));
  all.addCommand(deliver(ended, USUAL_MOST_HOURS));
  all.addCommand(film(ended));
  all.addCommand(report(version, ended));
  all.addCommand(send(ended));
  all.addCommand(project(version, ended));
  return all as unknown as Command;
}
