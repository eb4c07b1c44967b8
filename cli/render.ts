import { readFile, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { programmeLayout } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { newProject } from '@/core/programme/newProject';
import { programmeFrames, type Project, type Source } from '@/core/programme/model';
import { clipStretch } from '@/core/render/clipKey';
import { measureClip } from '@/core/render/measureClip';
import { renderRange } from '@/core/render/mix';
import { renderFile } from '@/core/render/renderFile';
import { clock, signed, withUnit } from '@/core/text/figures';
import { CutError, type Cut } from '@/core/timeline/cut';
import { checkCutSize, readCut } from '@/core/timeline/readCut';
import type { FrameRate } from '@/core/timeline/timecode';
import { matchMedia, placeCut } from '@/core/timeline/toProject';
import { expand } from './expand';
import { absolute, FileError, trouble, writeWhole } from './files';
import { measureFile } from './measureFile';
import { MediaShelf } from './media';
import { openPool, type Pool } from './pool';
import { ProgressLine } from './progress';
import { describe, reportOf, type FileReport } from './report';

export interface RenderOptions {
  readonly cut: string;
  /** Folder that holds the media. */
  readonly media: string;
  readonly out: string;
  readonly range: TimeRange | null;
  readonly frameRate: FrameRate;
  readonly json: boolean;
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
}

/** What `render --json` says. */
interface RenderReport {
  readonly cut: string;
  readonly out: string;
  /** Measured from the written file. */
  readonly programme: FileReport;
  readonly clips: readonly ClipReport[];
  readonly missing: readonly string[];
  readonly warnings: readonly string[];
}

async function openCut(path: string, frameRate: FrameRate): Promise<Cut> {
  checkCutSize((await stat(absolute(path))).size);
  return readCut(await readFile(absolute(path), 'utf8'), path, frameRate);
}

/** Opens the media a cut names, as far as it is in the folder. */
async function gather(
  cut: Cut,
  folder: string,
  shelf: MediaShelf,
): Promise<{ media: Map<string, Source>; warnings: string[] }> {
  const files = (await expand([folder])).flatMap((named) => ('error' in named ? [] : [named.file]));
  const media = new Map<string, Source>();
  const warnings: string[] = [];
  const opened = new Map<number, Source | null>();
  for (const [name, index] of matchMedia(
    cut,
    files.map((file) => basename(file)),
  )) {
    if (!opened.has(index)) {
      opened.set(
        index,
        await shelf.add(files[index]!).catch((error: unknown) => {
          const { message, hint } = trouble(error);
          warnings.push(`${files[index]}: ${message} ${hint}`);
          return null;
        }),
      );
    }
    const found = opened.get(index);
    if (found) media.set(name, found);
  }
  return { media, warnings };
}

/** Programme rate and layout: the most frequent rate of the media; stereo unless some of it has more channels. */
function shapeOf(media: ReadonlyMap<string, Source>): { sampleRate: number; layoutId: string } {
  const counts = new Map<number, number>();
  for (const source of media.values())
    counts.set(source.sampleRate, (counts.get(source.sampleRate) ?? 0) + 1);
  const [sampleRate = 48_000] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [];
  const wide = [...media.values()].some(({ layout }) => layout.labels.length > 2);
  return { sampleRate, layoutId: wide ? '5.1' : 'stereo' };
}

async function clipReports(project: Project, shelf: MediaShelf): Promise<ClipReport[]> {
  const tracks = new Map(project.tracks.map((track) => [track.id, track.name]));
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const { sampleRate } = project;
  const reports: ClipReport[] = [];
  for (const clip of project.clips) {
    const source = sources.get(clip.sourceId)!;
    const measured = await measureClip(await shelf.open(source), clipStretch(project, clip)!, () => true);
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
      figures: measured!.figures,
    });
  }
  return reports;
}

async function render(options: RenderOptions, pool: Pool, shelf: MediaShelf): Promise<RenderReport> {
  const cut = await openCut(options.cut, options.frameRate);
  const { media, warnings } = await gather(cut, options.media, shelf);
  const { sampleRate, layoutId } = shapeOf(media);
  let ids = 0;
  const sources = [...new Set(media.values())];
  const empty = { ...newProject('render', cut.name, 'none'), sampleRate, layoutId, sources };
  const placed = placeCut(empty, cut, media, () => `i${ids++}`);
  const { project, missing } = placed;
  if (project.clips.length === 0)
    throw new FileError(
      'mediaMissing',
      `None of the media of this cut is in ${options.media}: ${missing.slice(0, 5).join(', ')}${missing.length > 5 ? ' …' : ''}.`,
      'Name the folder that holds it with --media.',
    );
  const end = programmeFrames(project);
  const from = Math.round((options.range?.from ?? 0) * sampleRate);
  const to = Math.min(end, options.range ? Math.round(Math.min(options.range.to, 1e6) * sampleRate) : end);
  if (from >= to)
    throw new FileError(
      'rangeOutside',
      `The range begins at ${clock(from / sampleRate)}, but the programme is ${clock(end / sampleRate)} long.`,
      'Choose a range within the programme.',
    );
  const progress = new ProgressLine(2);
  await writeWhole(options.out, options.cut, async (sink) => {
    const spec = { sampleRate, layout: programmeLayout(layoutId), frames: to - from, format: 's24' } as const;
    await renderFile(
      spec,
      (start, count) => renderRange(project, shelf.open, from + start, count),
      sink,
      (done) => {
        progress.at(options.out, done);
        return true;
      },
    );
  });
  progress.finish(options.out);
  const sound = await measureFile(options.out, WHOLE_FIRST_SOUND, pool, (done) =>
    progress.at(options.out, done),
  );
  progress.finish(options.out);
  return {
    cut: options.cut,
    out: options.out,
    programme: reportOf(options.out, sound, {
      range: null,
      exactTruePeak: null,
      speech: null,
      series: false,
    }),
    clips: await clipReports(project, shelf),
    missing,
    warnings: [...placed.warnings, ...warnings],
  };
}

function forPeople({ programme, clips, missing, warnings }: RenderReport): string {
  return [
    describe(programme),
    '',
    ...clips.map(
      ({ name, track, startSeconds, lengthSeconds, gainDb, figures }) =>
        `  ${clock(startSeconds)}  ${clock(lengthSeconds)}  ${signed(gainDb, 1)} dB  ${withUnit(figures.integratedLufs, 'LUFS')}  ${track}: ${name}`,
    ),
    ...missing.map((name) => `  ! Missing: ${name}`),
    ...warnings.map((warning) => `  ! ${warning}`),
  ].join('\n');
}

/** `dengung render`. @returns the exit code: 1 also when media was missing */
export async function renderCommand(options: RenderOptions): Promise<number> {
  const pool = openPool(options.jobs);
  const shelf = new MediaShelf();
  try {
    const report = await render(options, pool, shelf);
    console.log(options.json ? JSON.stringify(report, null, 2) : forPeople(report));
    return report.missing.length > 0 ? 1 : 0;
  } catch (error) {
    const failure =
      error instanceof CutError
        ? { code: error.code, message: error.message, hint: error.hint }
        : trouble(error);
    if (options.json) console.log(JSON.stringify({ cut: options.cut, error: failure }, null, 2));
    else console.error(`${options.cut}\n  ${failure.message} ${failure.hint}`);
    return 1;
  } finally {
    await shelf.close();
    await pool.close();
  }
}
