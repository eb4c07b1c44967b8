import type { CheckDetails } from '@/core/check/findings/details';
import { targetsOf } from '@/core/programme/edits/check';
import type { Target } from '@/core/check/target';
import {
  verdictOf,
  whyNot,
  type FigureVerdict,
  type FormVerdict,
  type Judged,
  type Outcome,
  type Verdict,
} from '@/core/check/verdict';
import { programmeLayout } from '@/core/audio/layout';
import { meanSquareToLufs } from '@/core/loudness/decibels';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { distributionOf, type LoudnessDistribution } from '@/core/loudness/levelTrack';
import { programmeFaults } from '@/core/programme/damagedSources';
import { totalDbOf } from '@/core/programme/clipGain';
import { clipEnd, programmeFrames, type Project } from '@/core/programme/model';
import type { FixRow } from '@/core/proposals/fixes/fixProposal';
import { reasonWords } from '@/core/proposals/reasonWords';
import { audibleClips } from '@/core/signal/audible';
import { findingsReport, type ProgrammeFinding } from '../findingsReport';
import { handoverReport, type HandedOver, type HandedReport } from '../handoverReport';
import { busProcessing, clipProcessing, type BusProcessing } from './processing';

/** What a programme comes to by one target. */
export interface TargetReport {
  readonly id: string;
  readonly name: string;
  /** The standard it comes from, and the edition that says how it is measured; `null` where none is said. */
  readonly source: string;
  readonly edition: string | null;
  readonly outcome: Outcome;
  readonly meets: boolean | null;
  /** Why it cannot be certified or judged, a full sentence; `null` where it meets or misses. */
  readonly reason: string | null;
  readonly figures: readonly FigureVerdict[];
  readonly form: readonly FormVerdict[];
}

/** A clip and what was done to its level. */
interface ClipReport {
  readonly name: string;
  readonly track: string;
  /** Seconds of the programme. */
  readonly from: number;
  readonly to: number;
  /** In all: clip, group, track. */
  readonly gainDb: number;
  /** Of the clip itself. */
  readonly clipGainDb: number;
  readonly reason: string;
  /** What works on it besides gain: see `clipProcessing`. */
  readonly processing: readonly string[];
}

/** A programme with what was handed over of it, for a client or to be kept. */
export interface ProgrammeReport {
  /** Which version of the report's shape it is. */
  readonly format: 'dengung-report-1';
  readonly software: { readonly name: string; readonly version: string };
  /** Local time as “2026-01-31 21:04:00”. */
  readonly made: string;
  /** How it was measured. */
  readonly standards: readonly string[];
  readonly programme: {
    readonly name: string;
    readonly seconds: number;
    readonly sampleRate: number;
    readonly layout: string;
  };
  /** The leading target first. */
  readonly targets: readonly TargetReport[];
  readonly figures: LoudnessFigures;
  /** Places of what is highest, range, gate and more; `null` where the programme was not checked. */
  readonly details: CheckDetails | null;
  /** Loudness while somebody speaks; `null` where it was not checked, or nobody does. */
  readonly dialogue: {
    readonly lufs: number | null;
    readonly sharePercent: number;
    readonly overRestLu: number | null;
  } | null;
  /** Short-term loudness, a value every so many seconds; the first 3 s after the start. */
  readonly course: { readonly stepSeconds: number; readonly shortTermLufs: readonly (number | null)[] };
  /** How long the short-term loudness lies where, seconds in bins of 1 LU. */
  readonly distribution: LoudnessDistribution;
  /** `null` where the programme was not checked. */
  readonly findings: readonly ProgrammeFinding[] | null;
  readonly clips: readonly ClipReport[];
  /** What works on tracks and on the whole programme besides gain. */
  readonly processing: readonly BusProcessing[];
  /** Clips that do not sound because their track is muted. */
  readonly mutedTracks: readonly string[];
  /** The plan it was made to; `null` without one. */
  readonly plan: string | null;
  readonly files: readonly HandedReport[];
  /** The finished file that the report is on; `null` where it is on a programme. */
  readonly file: FileFacts | null;
}

/** A finished file, told from any other by its checksum. */
export interface FileFacts {
  readonly container: string;
  readonly codec: string;
  readonly bytes: number;
  /** In hexadecimal. */
  readonly sha256: string;
}

/** What a report is made from. */
export interface ReportMaterial {
  readonly project: Project;
  readonly figures: LoudnessFigures;
  /** Weighted mean squares of the short-term windows, one every 100 ms. */
  readonly shortTerm: Float64Array;
  /** `null` where the programme was not checked. */
  readonly checked: {
    readonly judged: Judged;
    readonly details: CheckDetails;
    readonly rows: readonly FixRow[];
  } | null;
  readonly files: readonly HandedOver[];
  readonly version: string;
  readonly made: string;
}

/** The editions by which everything is measured. */
export const STANDARDS = ['ITU-R BS.1770-5', 'EBU Tech 3341 (2023)', 'EBU Tech 3342 (2023)'];

/** Values of a course at most: more cannot be told apart on a page. */
const MOST_VALUES = 1_200;
const HOPS_PER_SECOND = 10;

/** The course in whole tenths of a second, the highest of each step. */
export function courseOf(shortTerm: Float64Array): ProgrammeReport['course'] {
  const hops = Math.max(1, Math.ceil(shortTerm.length / MOST_VALUES));
  const values: (number | null)[] = [];
  for (let k = 0; k < shortTerm.length; k += hops) {
    let most = 0;
    for (let j = k; j < Math.min(k + hops, shortTerm.length); j++) most = Math.max(most, shortTerm[j]!);
    values.push(meanSquareToLufs(most));
  }
  return { stepSeconds: hops / HOPS_PER_SECOND, shortTermLufs: values };
}

function clipsOf(project: Project): ClipReport[] {
  const { sampleRate } = project;
  const tracks = new Map(project.tracks.map(({ id, name }) => [id, name]));
  const totalDb = totalDbOf(project);
  return audibleClips(project).map((clip) => ({
    ...{ name: clip.name, track: tracks.get(clip.trackId) ?? '' },
    ...{ from: clip.start / sampleRate, to: clipEnd(clip) / sampleRate },
    ...{ gainDb: totalDb(clip), clipGainDb: clip.gain.db, reason: reasonWords(clip.gain.reason) },
    processing: clipProcessing(clip, sampleRate),
  }));
}

/** What a sound comes to by a target. */
export function targetReport(target: Target, verdict: Verdict): TargetReport {
  const { id, name, source, edition = null } = target;
  const { outcome, meets, figures, form } = verdict;
  return { id, name, source, edition, outcome, meets, reason: whyNot(verdict), figures, form };
}

/** Puts together what is told of a programme; nothing in it is worked out anew. */
export function programmeReport(material: ReportMaterial): ProgrammeReport {
  const { project, figures, shortTerm, checked, files, version, made } = material;
  const judged = checked?.judged ?? { ...figures, integrity: programmeFaults(project) };
  return {
    ...({ format: 'dengung-report-1', software: { name: 'Dengung', version }, made } as const),
    standards: STANDARDS,
    programme: {
      name: project.name,
      seconds: programmeFrames(project) / project.sampleRate,
      sampleRate: project.sampleRate,
      layout: programmeLayout(project.layoutId).name,
    },
    targets: targetsOf(project).map((target) => targetReport(target, verdictOf(judged, target))),
    figures,
    details: checked?.details ?? null,
    dialogue: checked?.judged.spoken ?? null,
    course: courseOf(shortTerm),
    distribution: distributionOf(shortTerm),
    findings: checked ? findingsReport(checked.rows) : null,
    clips: clipsOf(project),
    processing: busProcessing(project),
    mutedTracks: project.tracks.filter(({ muted }) => muted).map(({ name }) => name),
    plan: project.plan?.name ?? null,
    files: handoverReport(files),
    file: null,
  };
}
