import { programmeLayout } from '@/core/audio/layout';
import type { SignalDetails } from '@/core/loudness/details';
import { figuresOf } from '@/core/loudness/figures';
import type { SignalBlocks } from '@/core/loudness/signalBlocks';
import { overChannels } from '@/core/loudness/sound';
import { weightedEnergy, type WeightedHistory } from '@/core/loudness/subBlocks';
import { programmeFaults } from '@/core/programme/damagedSources';
import { dialogueRanges, spokenClips } from '@/core/programme/dialogue';
import { clipEnd, type Clip, type Project, type Source } from '@/core/programme/model';
import { audibleClips } from '@/core/signal/audible';
import { faultsOf } from './fileMaterial';
import type { ApartLevels, CheckMaterial, ClickPlace, ClippedRun, Fault } from './material';

/** What the samples of a programme bring along from its sources, seconds of the programme. */
export interface BroughtFaults {
  readonly clipped: readonly ClippedRun[];
  readonly dropOuts: readonly Fault[];
  readonly clicks: readonly ClickPlace[];
}

/** Faults told of a clip at most: beyond that, it is the clip that is faulty. */
const MOST_OF_A_CLIP = 200;

/** What clips have of the faults of their sources. @param detailsOf what was found in a source; `null` while it is not measured */
export function broughtFaults(
  project: Project,
  detailsOf: (source: Source) => SignalDetails | null,
): BroughtFaults {
  const { sampleRate } = project;
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const known = new Map<Source, BroughtFaults>();
  const of = (source: Source): BroughtFaults | null => {
    const details = detailsOf(source);
    if (!details) return null;
    const found = known.get(source) ?? faultsOf(details, source.sampleRate);
    known.set(source, found);
    return found;
  };
  const all = { clipped: [] as ClippedRun[], dropOuts: [] as Fault[], clicks: [] as ClickPlace[] };
  for (const clip of audibleClips(project)) {
    const source = sources.get(clip.sourceId);
    const faults = source && of(source);
    if (!faults) continue;
    const { id: clipId, name: clipName } = clip;
    const [begin, end] = [clip.sourceStart, clip.sourceStart + clip.length].map((at) => at / sampleRate);
    const shift = (clip.start - clip.sourceStart) / sampleRate;
    const within = <T extends Fault>(list: readonly T[]): T[] =>
      list
        .filter(({ from, to }) => to > begin! && from < end!)
        .slice(0, MOST_OF_A_CLIP)
        .map((fault) => ({
          ...fault,
          ...{ from: Math.max(begin!, fault.from) + shift, to: Math.min(end!, fault.to) + shift },
          ...{ clipId, clipName },
        }));
    all.clipped.push(...within(faults.clipped));
    all.dropOuts.push(...within(faults.dropOuts));
    all.clicks.push(
      ...faults.clicks
        .filter(({ at }) => at > begin! && at < end!)
        .slice(0, MOST_OF_A_CLIP)
        .map((click) => ({ ...click, at: click.at + shift, clipId, clipName })),
    );
  }
  return all;
}

/** A gap in what is laid is a hole where it is no longer than this, and no shorter, seconds. */
const GAP_SECONDS = { least: 0.02, most: 0.5 };

/** Short gaps between clips in which nothing is laid. */
function gaps(project: Project): Fault[] {
  const { sampleRate } = project;
  const found: Fault[] = [];
  let end: number | null = null;
  for (const clip of [...audibleClips(project)].sort((a, b) => a.start - b.start)) {
    const seconds = end === null ? 0 : (clip.start - end) / sampleRate;
    if (end !== null && seconds >= GAP_SECONDS.least && seconds <= GAP_SECONDS.most)
      found.push({ from: end / sampleRate, to: clip.start / sampleRate, channel: 'all channels' });
    end = Math.max(end ?? 0, clipEnd(clip));
  }
  return found;
}

/** What a click at an edge of a clip is told by. */
export interface EdgeClick {
  readonly clipId: string;
  /** Programme frame. */
  readonly at: number;
  readonly click: { readonly dbfs: number; readonly overDb: number };
}

/** What is measured of a programme as it stands. */
export interface MeasuredProgramme {
  readonly history: WeightedHistory;
  readonly signal: SignalBlocks;
  /** Clips for speech against the rest, before limiters; `null` where there is no speech. */
  readonly apart: ApartLevels | null;
}

/** The places where one clip follows on another, or one begins or ends, seconds, in order. */
function cutsOf(clips: readonly Clip[], sampleRate: number): number[] {
  const places = new Set(clips.flatMap((clip) => [clip.start, clipEnd(clip)]));
  return [...places].sort((a, b) => a - b).map((frame) => frame / sampleRate);
}

/** What findings of a programme are worked out from. */
export function programmeMaterial(
  project: Project,
  { history, signal, apart }: MeasuredProgramme,
  brought: BroughtFaults,
  edgeClicks: readonly EdgeClick[],
): CheckMaterial {
  const { sampleRate } = project;
  const layout = programmeLayout(project.layoutId);
  const seconds = history.frames / sampleRate;
  const names = new Map(project.clips.map(({ id, name }) => [id, name]));
  const clicks = edgeClicks.map(({ clipId, at, click }): ClickPlace => ({
    ...{ at: at / sampleRate, dbfs: click.dbfs, overDb: click.overDb, clipId },
    clipName: names.get(clipId) ?? '',
  }));
  return {
    ...{ seconds, sampleRate, layout },
    figures: figuresOf(history),
    energy: weightedEnergy(history),
    truePeaks: overChannels(history.truePeak),
    samplePeak: history.samplePeak,
    signal,
    clipped: brought.clipped,
    dropOuts: [...brought.dropOuts, ...gaps(project)],
    clicks: [...brought.clicks, ...clicks].sort((a, b) => a.at - b.at),
    speech: spokenClips(project).length > 0 ? dialogueRanges(project) : null,
    apart,
    cuts: cutsOf(audibleClips(project), sampleRate),
    form: {
      ...{ seconds, sampleRate, layoutId: layout.id, layoutName: layout.name },
      ...{ bitDepth: null, container: null },
    },
    integrity: programmeFaults(project),
  };
}
