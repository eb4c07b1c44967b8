import type { IntegrityFault } from '@/core/audio/integrity';
import type { Layout } from '@/core/audio/layout';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Delivery } from './delivery';
import type { FileSays } from './fileSays';
import type { Plan } from './plan';
import type { Role } from './role';
import type { Thresholds } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';

export { ROLES, type Role } from './role';

export type Id = string;

/** What an edit system said of something that is of no use here, as its file had it: to be written back. */
export type Passthrough = Readonly<Record<string, unknown>>;

/** When somebody speaks. */
export interface Speech {
  /** The file that says so, or the voice detector by its name. */
  readonly from: string;
  /** Left out where subtitles say so. */
  readonly by?: 'detector' | 'hand';
  readonly ranges: readonly TimeRange[];
}

/** Sound brought in, stored whole; clips point into it. */
export interface Source {
  readonly id: Id;
  readonly name: string;
  /** The folder it came out of; empty when that is not known. */
  readonly folder: string;
  /** Where the bytes and their measurement are kept. Sources that share it share the sound. */
  readonly audioKey: string;
  readonly byteLength: number;
  readonly container: string;
  readonly codec: string;
  readonly sampleRate: number;
  readonly layout: Layout;
  /** Length in frames of the source's own rate. */
  readonly frames: number;
  /** The file was damaged or cut short: this is not the whole of it. */
  readonly partial: boolean;
  readonly warnings: readonly string[];
  /** Why its figures cannot be certified; left out by older projects: see `sourceFaults`. */
  readonly integrity?: readonly IntegrityFault[];
  /** When somebody speaks in it, as a subtitle file says; `null` when none was given. */
  readonly speech: Speech | null;
  /** Frames of its own rate since midnight at which it begins, as the file says; `null` when it does not. */
  readonly timeReference: number | null;
  /** What its file says of itself; left out by older projects. */
  readonly says?: FileSays | null;
  /** Correction that every clip placed from now on begins with, dB. */
  readonly trimDb: number;
}

/** What a gain was worked out to do. */
export type LevelMeasure = 'integrated' | 'maxShortTerm' | 'maxMomentary' | 'truePeak' | 'samplePeak';
/** Each clip brought to the goal on its own, or all moved by one amount so that their balance stays. */
export type LevelMode = 'each' | 'together';

/** How a gain came about. */
export type GainReason =
  | { readonly kind: 'asRecorded' }
  | { readonly kind: 'byHand' }
  | {
      readonly kind: 'levelled';
      readonly measure: LevelMeasure;
      readonly mode: LevelMode | 'programme' | 'plan';
      /** LUFS, dBTP or dBFS. */
      readonly goal: number;
      /** The true-peak ceiling stopped it short of the goal. */
      readonly stoppedByCeiling: boolean;
      /** For what it was worked out, see `clipKey`: once the clip is another, the gain is stale. */
      readonly of?: string;
      /** What the measure read then, before the gain and without track and groups: unchanged, the gain is not stale. */
      readonly measured?: number;
      /** What its track and groups gave it then, dB: the goal moves with them. */
      readonly besidesDb?: number;
    };

export interface ClipGain {
  /** In all, dB. */
  readonly db: number;
  /** The last change, dB. */
  readonly lastChangeDb: number;
  readonly reason: GainReason;
}

/**
 * How a curve goes from one point to the next: eased at its start, at its end or at both, or a step; straight where nothing
 * is said. The formulae are those of `shapedPart`.
 */
export type SegmentShape = 'easeStart' | 'easeEnd' | 'ease' | 'step';

/** A point of a curve; before the first and after the last the curve stays level. */
interface Point {
  /**
   * On a clip, frame of the source at the programme's rate: the curve stays with the sound when the clip's edges move. On a
   * track or the programme, programme frame.
   */
  readonly at: number;
  /** Of the segment that begins here. */
  readonly shape?: SegmentShape;
}

/** A point of a gain curve: segments go in dB. */
export interface CurvePoint extends Point {
  /** dB; at `SILENT_DB` nothing sounds. */
  readonly db: number;
}

/** A point of a balance over time. */
export interface BalancePoint extends Point {
  /** Between −1 (left only) and 1 (right only). */
  readonly balance: number;
}

/**
 * How a gain curve came about, where it was worked out. It holds for these points only: as soon as a hand moves one, the
 * curve is set by hand.
 */
export interface CurveReason {
  readonly kind: 'ducked' | 'evened';
  /** Whose curve it is, see `curveWords`. */
  readonly points: string;
  /** For what it was worked out: once that is another, the curve is stale. */
  readonly of: string;
}

/** How a fade goes; a number is the correlation of the two sounds that cross in it. The formulae are those of `fadeAt`. */
export type FadeShape = 'equalPower' | 'straight' | 'smooth' | 'exponential' | number;

/** What a true-peak limiter does: see `signal/limiter`. */
export interface Limiter {
  /** Of the preset that it was set from, or its own. */
  readonly name: string;
  /** dBTP. */
  readonly ceilingDbtp: number;
  /** Gain before it, dB. */
  readonly inputDb: number;
  /** Over how long it goes down before a peak, ms. */
  readonly lookAheadMs: number;
  /** Over how long it comes back up, ms; `null`: longer the longer it has been at work. */
  readonly releaseMs: number | null;
  /** The LFE channel is limited on its own. */
  readonly lfeApart: boolean;
  /** Left out of the path, to compare. */
  readonly bypassed: boolean;
}

export interface Clip {
  readonly id: Id;
  readonly trackId: Id;
  readonly sourceId: Id;
  readonly name: string;
  /** Where it begins in the programme, programme frames. */
  readonly start: number;
  /** Length, programme frames. */
  readonly length: number;
  /** Where it begins in its source, frames at the programme's rate. */
  readonly sourceStart: number;
  /** The source's trim when it was placed, dB; sounds besides the gain. */
  readonly trimDb: number;
  readonly gain: ClipGain;
  /** The nested group it belongs to; `null` when it stands by itself. */
  readonly groupId: Id | null;
  /** Gain of each channel of its source besides all else, dB; empty when none differs from 0. */
  readonly channelDb: readonly number[];
  /** Between −1 (left only) and 1 (right only). */
  readonly balance: number;
  /** Balance over time, in order of time, in place of the one above; empty when it stays. */
  readonly balanceCurve: readonly BalancePoint[];
  /** Length of the fade from silence at its start and to silence at its end, programme frames. */
  readonly fadeIn: number;
  readonly fadeOut: number;
  readonly fadeInShape: FadeShape;
  readonly fadeOutShape: FadeShape;
  /** Gain over time besides all else, in order of time; empty when it is 0 dB throughout. */
  readonly curve: readonly CurvePoint[];
  /** How that came about; `null` or left out where a hand set it. */
  readonly curveReason?: CurveReason | null;
  /** Behind its gain; `null` when it has none. */
  readonly limiter: Limiter | null;
  /** The set it was put in by hand, to be levelled together; `null` when in none. */
  readonly setName: string | null;
  readonly passthrough: Passthrough | null;
}

export interface Track {
  readonly id: Id;
  readonly name: string;
  readonly role: Role;
  readonly muted: boolean;
  /** On all its clips, besides their own gain, dB. */
  readonly gainDb: number;
  /** What of it came with all tracks being moved together, dB; the rest was set by ear. */
  readonly shiftDb: number;
  /** Tracks with the same word here are linked: their gains move together. */
  readonly linkId: Id | null;
  /** Gain over time besides all else, in order of time; empty when it is 0 dB throughout. */
  readonly curve: readonly CurvePoint[];
  readonly limiter: Limiter | null;
  readonly passthrough: Passthrough | null;
}

/** Several clips treated as one, with one gain. */
export interface Group {
  readonly id: Id;
  readonly name: string;
  /** The group it is nested in. */
  readonly parentId: Id | null;
  readonly gain: ClipGain;
}

/** A place with a name. */
export interface Marker {
  readonly id: Id;
  /** Programme frames. */
  readonly at: number;
  readonly name: string;
  /** Left out where no file said more of it. */
  readonly passthrough?: Passthrough | null;
}

/** How a mono source is laid into a programme that has no centre: see `clipMatrix`. */
export type MonoLaw = 'constantPower' | 'full';

/** How time is shown and typed. */
export interface TimeDisplay {
  /** Id of a frame rate for timecode; `null` for hours, minutes and seconds. */
  readonly frameRateId: string | null;
  /** What the programme's first frame is called, seconds since midnight. */
  readonly startSeconds: number;
}

/** A finding that is to stay as it is. */
export interface Accepted {
  /** Of the finding. */
  readonly id: Id;
  /** What it was, in a sentence. */
  readonly sentence: string;
  /** Why, in the editor’s words. */
  readonly note: string;
}

/** Everything the editor works on; plain data, never changed in place. */
export interface Project {
  readonly schema: number;
  readonly id: Id;
  readonly name: string;
  /** Hz. */
  readonly sampleRate: number;
  /** Id of a programme layout. */
  readonly layoutId: string;
  readonly monoLaw: MonoLaw;
  readonly time: TimeDisplay;
  /** The one that leads: everything is drawn and levelled against it. */
  readonly target: Target;
  /** In force besides: the programme is checked against them as well. */
  readonly otherTargets: readonly Target[];
  /** From where on something is worth a look, where that is not as usual. */
  readonly thresholds: Partial<Thresholds>;
  /** Findings that are to stay as they are. */
  readonly accepted: readonly Accepted[];
  /** In the order they came in. */
  readonly sources: readonly Source[];
  readonly tracks: readonly Track[];
  readonly clips: readonly Clip[];
  readonly groups: readonly Group[];
  /** In order of time. */
  readonly markers: readonly Marker[];
  /** What is handed over, in the order in which it is shown. */
  readonly deliveries: readonly Delivery[];
  /** The levels by role that it is made to; `null` for those that come with the product. */
  readonly plan: Plan | null;
  /** Where a plan's level of 0 LU stands since it was carried out, LUFS; `null` before any was: then it is the target's loudness. */
  readonly planAnchorLufs: number | null;
  /** Gain over time of the whole programme, in order of time; empty when it is 0 dB throughout. */
  readonly curve: readonly CurvePoint[];
  /** On the whole programme, last of all; `null` when it has none. */
  readonly limiter: Limiter | null;
  readonly passthrough: Passthrough | null;
  /** Where its sound differs from the timelines it was placed from, until the editor accepts that. */
  readonly cutFaults: readonly IntegrityFault[];
}

export const AS_RECORDED: ClipGain = { db: 0, lastChangeDb: 0, reason: { kind: 'asRecorded' } };

/** A clip on which nothing was done yet. */
export const PLAIN_CLIP = {
  trimDb: 0,
  gain: AS_RECORDED,
  groupId: null,
  channelDb: [],
  balance: 0,
  balanceCurve: [],
  fadeIn: 0,
  fadeOut: 0,
  fadeInShape: 'equalPower',
  fadeOutShape: 'equalPower',
  curve: [],
  limiter: null,
  setName: null,
  passthrough: null,
} as const satisfies Partial<Clip>;

/** A track on which nothing was done yet. */
export const PLAIN_TRACK = {
  muted: false,
  gainDb: 0,
  shiftDb: 0,
  linkId: null,
  curve: [],
  limiter: null,
  passthrough: null,
} as const satisfies Partial<Track>;

/** Where a clip ends, programme frames. */
export const clipEnd = (clip: Clip): number => clip.start + clip.length;

/** Length of the programme: to the end of its last clip, in frames. */
export function programmeFrames({ clips }: Pick<Project, 'clips'>): number {
  const known = lengths.get(clips);
  if (known !== undefined) return known;
  const length = clips.reduce((end, clip) => Math.max(end, clipEnd(clip)), 0);
  lengths.set(clips, length);
  return length;
}

/** Of every list of clips once: it is asked for with every frame that is drawn. */
const lengths = new WeakMap<Project['clips'], number>();
