import { programmeLayout } from '@/core/audio/layout';
import { OUTCOME_WORDS } from '@/core/check/verdict';
import { count } from '@/core/text/words';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { LoudnessMeter } from '@/core/loudness/meter';
import type { Target } from '@/core/check/target';
import { programmeFrames, type Project, type Role } from '@/core/programme/model';
import type { Plan } from '@/core/programme/plan';
import { clipSound } from '@/core/signal/clipSound';
import { readClip } from '@/core/measuring/clipReading';
import { measureClip } from '@/core/measuring/measureClip';
import { withoutCurves, withoutLimiters } from '@/core/signal/asRecorded';
import { pieceSeconds, renderRange } from '@/core/signal/mix';
import { clock, signed, withUnit } from '@/core/text/figures';
import { failed } from './failed';
import { FileError } from './files';
import { withSpeechFound } from './findSpeech';
import { mediaIn } from './gather';
import { MediaShelf } from './media';
import { checkOutput, replacedNotes, WAV_ENDINGS, type Output } from './output';
import { placedProject, type CutAndMedia } from './placedCut';
import { openPool, type TaskPool } from './pool';
import { ProgressLine } from './progress';
import { carryOut, planLines, withRoles, type PlanReport } from './carryOut';
import { limiterFor } from './limiting';
import { planOf } from './proposeMany';
import { describe, reportOf, type FileReport } from './report';
import { say, sayJson, shown } from './say';
import { writeSound, type Written } from './writeSound';

export interface RenderOptions extends CutAndMedia {
  readonly out: string;
  readonly fileFormat: '24' | 'float';
  readonly keepExisting: boolean;
  readonly range: TimeRange | null;
  readonly json: boolean;
  /** Whether the gain curves and the limiters of the cut are heard. */
  readonly curves: boolean;
  readonly limiters: boolean;
  /** A plan that is carried out first, on which target, and the roles of tracks; `null`: the cut as it is. */
  readonly plan: {
    readonly file: string;
    readonly target: Target;
    readonly roles: ReadonlyMap<string, Role>;
    readonly limit: boolean;
    readonly limiter: string | null;
    /** Look for speech in what speaks by its track’s role. */
    readonly findSpeech: boolean;
  } | null;
  readonly jobs: number;
}

interface ClipReport {
  readonly name: string;
  readonly track: string;
  readonly media: string;
  readonly startSeconds: number;
  readonly lengthSeconds: number;
  readonly sourceStartSeconds: number;
  readonly gainDb: number;
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
  /** By itself, before its gain. */
  readonly figures: LoudnessFigures;
  /** It is shorter than 400 ms: its integrated loudness is that of all of it, ungated. */
  readonly ungated: boolean;
  /** What is wrong with its media: its figures rest on it. */
  readonly warnings: readonly string[];
}

/** What `render --json` says. */
interface RenderReport {
  readonly cut: string;
  readonly out: string;
  /** Measured from the written file. */
  readonly programme: FileReport;
  readonly clips: readonly ClipReport[];
  /** What a plan did, with `--plan`. */
  readonly plan?: PlanReport;
  readonly missing: readonly string[];
  /** Media that several files could be; none was taken. */
  readonly ambiguous: readonly { readonly name: string; readonly files: readonly string[] }[];
  /** The file stood there before and was replaced. */
  readonly replaced: boolean;
  /** Samples that were cut off at full scale. */
  readonly clippedSamples: number;
  readonly warnings: readonly string[];
  /** Why the file cannot be certified; empty where it is the whole of the cut. */
  readonly integrity: readonly string[];
}

async function clipReports(project: Project, shelf: MediaShelf): Promise<ClipReport[]> {
  const tracks = new Map(project.tracks.map((track) => [track.id, track.name]));
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const { sampleRate } = project;
  const reports: ClipReport[] = [];
  for (const clip of project.clips) {
    const source = sources.get(clip.sourceId)!;
    const measured = (await measureClip(await shelf.open(source), clipSound(project, clip)!, () => true))!;
    const { integratedLufs, ungated } = readClip(measured, 0);
    reports.push({
      name: clip.name,
      track: tracks.get(clip.trackId)!,
      media: source.name,
      startSeconds: clip.start / sampleRate,
      lengthSeconds: clip.length / sampleRate,
      sourceStartSeconds: clip.sourceStart / sampleRate,
      gainDb: clip.gain.db,
      fadeInSeconds: clip.fadeIn / sampleRate,
      fadeOutSeconds: clip.fadeOut / sampleRate,
      figures: { ...measured.figures, integratedLufs },
      ungated,
      warnings: source.warnings,
    });
  }
  return reports;
}

/** First frame to be rendered, and the frame after the last. */
function framesOf(project: Project, range: TimeRange | null): [from: number, to: number] {
  const { sampleRate } = project;
  const end = programmeFrames(project);
  const from = Math.round((range?.from ?? 0) * sampleRate);
  const to = Math.min(end, range ? Math.round(Math.min(range.to, 1e6) * sampleRate) : end);
  if (from < to) return [from, to];
  throw new FileError(
    'rangeOutside',
    `The range begins at ${clock(from / sampleRate)}, but the programme is ${clock(end / sampleRate)} long.`,
    'Select a range within the programme.',
  );
}

/** Mixes the programme into a file, measuring on the way what the file has to measure when it is read back. */
async function write(
  project: Project,
  [from, to]: readonly [number, number],
  output: Output,
  { fileFormat }: RenderOptions,
  pool: TaskPool,
  shelf: MediaShelf,
  onProgress: (done: number) => void,
): Promise<Written> {
  const { sampleRate } = project;
  const layout = programmeLayout(project.layoutId);
  const meter = new LoudnessMeter(layout, sampleRate);
  try {
    const make = async (start: number, count: number): Promise<Float32Array[]> => {
      const samples = await renderRange(project, shelf.open, from + start, count);
      meter.push(samples);
      return samples;
    };
    const format = fileFormat === 'float' ? 'f32' : 's24';
    const spec = {
      ...({ sampleRate, layout, frames: to - from, format } as const),
      pieceSeconds: pieceSeconds(project, 2),
    };
    return await writeSound(output, spec, make, () => figuresOf(meter.finish()), pool, onProgress);
  } finally {
    meter.release();
  }
}

/** The programme with a plan carried out. */
async function withPlan(
  cut: Project,
  plan: Plan,
  { file, target, roles, limit, limiter, findSpeech }: NonNullable<RenderOptions['plan']>,
  shelf: MediaShelf,
  progress: ProgressLine,
) {
  const settings = limit ? await limiterFor(limiter, target.maxTruePeakDbtp) : null;
  const given = withRoles({ ...cut, target }, roles);
  const project = findSpeech
    ? await withSpeechFound(given, shelf.open, (done) => progress.at(file, done / 2))
    : given;
  const told = await carryOut(project, plan, settings, shelf.open, (done) =>
    progress.at(file, findSpeech ? 0.5 + done / 2 : done),
  );
  progress.finish(file);
  return told;
}

async function render(
  options: RenderOptions,
  pool: TaskPool,
  shelf: MediaShelf,
  progress: ProgressLine,
): Promise<RenderReport> {
  const { keepExisting } = options;
  const walked = await mediaIn(options.media);
  const inputs = [options.cut, ...walked.files, ...(options.plan ? [options.plan.file] : [])];
  const plan = await planOf(options.plan?.file ?? null);
  const output = await checkOutput(options.out, { inputs, keepExisting, endings: WAV_ENDINGS });
  const placed = await placedProject(options, walked, shelf);
  const limited = options.limiters ? placed.project : withoutLimiters(placed.project);
  const asCut = options.curves ? limited : withoutCurves(limited);
  const planned = plan && (await withPlan(asCut, plan, options.plan!, shelf, progress));
  const project = planned?.project ?? asCut;
  const range = framesOf(project, options.range);
  const written = await write(project, range, output, options, pool, shelf, (done) =>
    progress.at(options.out, done),
  );
  progress.finish(options.out);
  return {
    cut: options.cut,
    out: options.out,
    programme: reportOf(options.out, written.sound, {
      range: null,
      exactTruePeak: null,
      speech: null,
      series: false,
    }),
    clips: await clipReports(project, shelf),
    ...(planned && { plan: planned.report }),
    missing: placed.missing,
    ambiguous: placed.ambiguous,
    replaced: output.before !== null,
    clippedSamples: written.clippedSamples,
    warnings: [...placed.warnings, ...written.notes, ...replacedNotes(output)],
    integrity: placed.integrity.map(({ sentence }) => sentence),
  };
}

function forPeople(report: RenderReport): string {
  const { programme, clips, plan, missing, ambiguous, warnings, integrity } = report;
  return [
    describe(programme),
    '',
    ...(plan ? [...planLines(plan), ''] : []),
    ...clips.map(
      ({ name, track, startSeconds, lengthSeconds, gainDb, figures, ungated }) =>
        `  ${clock(startSeconds)}  ${clock(lengthSeconds)}  ${signed(gainDb, 1)} dB  ${withUnit(figures.integratedLufs, 'LUFS')}${ungated ? ' ungated' : ''}  ${shown(track)}: ${shown(name)}`,
    ),
    ...missing.map((name) => `  ! Missing: ${shown(name)}`),
    ...ambiguous.map(
      ({ name, files }) =>
        `  ! Not taken, as several files could be it: ${shown(name)} (${files.map(shown).join(', ')})`,
    ),
    ...warnings.map((warning) => `  ! ${warning}`),
    ...(integrity.length > 0
      ? [`  ${OUTCOME_WORDS.notWhole}: ${count(integrity.length, 'reason')}, see above.`]
      : []),
  ].join('\n');
}

/** `dengung render`. @returns the exit code: 1 also where the file is not the whole of the cut */
export async function renderCommand(options: RenderOptions): Promise<number> {
  const progress = new ProgressLine(options.plan ? 3 : 2);
  const pool = openPool(options.jobs);
  const shelf = new MediaShelf(pool);
  try {
    const report = await render(options, pool, shelf, progress).finally(() => progress.end());
    if (options.json) sayJson(report);
    else say(forPeople(report));
    return report.integrity.length > 0 ? 1 : 0;
  } catch (error) {
    return failed(error, options.json, { cut: options.cut });
  } finally {
    await shelf.close();
    await pool.close();
  }
}
