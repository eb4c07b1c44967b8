import type { TimeRange } from '@/core/loudness/levelTrack';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { wholeSoundMeasurement, type ClipMeasurement } from '@/core/measuring/measureClip';
import type { WorkedCurve } from '@/core/programme/curveReason';
import { CLIP_GAIN, type GainRange } from '@/core/programme/gainField';
import {
  AS_RECORDED,
  type Clip,
  type ClipGain,
  type GainReason,
  type Id,
  type LevelMeasure,
  type LevelMode,
} from '@/core/programme/model';
import type { ProposedRow } from './protocol';

/** What to do with a clip whose true peak meets the ceiling before it reaches the goal: stop there, ignore it, or limit its peaks. */
export type CeilingPolicy = 'stop' | 'pass' | 'limit';

/** What the editor asks for. */
export interface LevelRequest {
  readonly measure: LevelMeasure;
  readonly mode: LevelMode;
  /** In the measure's unit: LUFS, dBTP or dBFS. */
  readonly goal: number;
  /** True peak that no clip may pass, dBTP. */
  readonly ceilingDbtp: number;
  readonly policy: CeilingPolicy;
  /** Loudness is measured only while somebody speaks, where subtitles of the source say when. */
  readonly spokenOnly: boolean;
  /** A noise floor that comes up past this is warned of, LUFS; `null`: never. */
  readonly floorLufs: number | null;
}

/** What is asked for where nothing else is said, goal and ceiling aside. */
export const PLAIN_REQUEST = {
  measure: 'integrated',
  mode: 'each',
  policy: 'stop',
  spokenOnly: false,
  floorLufs: null,
} as const satisfies Partial<LevelRequest>;

/** Something that can be given a gain: a clip, a source by its trim, a file. */
export interface Subject {
  readonly id: Id;
  readonly name: string;
  /** The gain that it has, how that came about, and how far it goes. */
  readonly gain: Pick<ClipGain, 'db' | 'reason'>;
  readonly range: GainRange;
  /** Before that gain; `null` while there is none. */
  readonly measurement: ClipMeasurement | null;
  /** When somebody speaks in it, seconds of it; `null` when nothing says so. */
  readonly speech?: readonly TimeRange[] | null | undefined;
  /** What is wrong with the file it comes from, as full sentences: its figures rest on it. */
  readonly damage?: readonly string[];
  /** What its own measurement depends on, see `clipKey`: a gain remembers for what it was worked out. */
  readonly key?: string | null;
  /** True peak over which a limiter of its own takes something off what is measured, dBTP; left out where it has none. */
  readonly limitedOverDbtp?: number | null;
  /** Its gain was set by hand and is not released: alone it stays; levelled together with others it moves along, by hand still. */
  readonly staysByHand?: boolean;
  /** What its track and groups give it, dB, part of what is measured: its goal moves with them. */
  readonly besidesDb?: number;
  /** What of that was set by ear and stays on top of the goal, dB. */
  readonly onTopDb?: number;
}

/** A clip as something that can be given a gain. */
export interface MeasuredClip extends Subject {
  readonly clip: Clip;
  /** Its gain curve was worked out for what there is no more. */
  readonly curveStale?: boolean;
}

/** A clip with its own measurement before its own gain. */
export const measuredClip = (
  clip: Clip,
  measurement: ClipMeasurement | null,
  more: Pick<MeasuredClip, 'speech' | 'damage' | 'key' | 'besidesDb' | 'curveStale' | 'limitedOverDbtp'> = {},
): MeasuredClip => ({
  ...{ clip, id: clip.id, name: clip.name, gain: clip.gain, range: CLIP_GAIN },
  ...{ measurement, ...more },
});

/** A whole sound, at its own rate and in its own channels, as something that can be given a gain. @param frames its length */
export const wholeSound = (
  { id, name, gainDb = 0, range }: { id: Id; name: string; gainDb?: number; range: GainRange },
  sound: SoundMeasurement | null,
  frames: number,
  damage: readonly string[] = [],
): Subject => ({
  ...{ id, name, range, damage },
  gain: { ...AS_RECORDED, db: gainDb },
  measurement: sound && wholeSoundMeasurement(sound, frames),
});

/** Why something gets no gain. */
export type SkipReason = Exclude<ProposedRow['skipped'], 'noRest' | 'notMended' | null>;

/** One clip, source or file of a proposal. */
export interface ProposalRow extends ProposedRow {
  /** Integrated loudness with the gain proposed. */
  readonly integratedAfter: number | null;
  readonly skipped: SkipReason | null;
  /** Its peaks would go over the ceiling, and a limiter is to keep them under it: the figures are without it. */
  readonly needsLimiter: boolean;
  /** A part of the clip is far over the rest: a gain on that part only would work better. */
  readonly uneven: boolean;
  readonly reason: GainReason;
  /** The gain curve that comes with it: a plan has music step aside within one clip. */
  readonly ducked?: WorkedCurve;
  /** That is another curve than the clip has. */
  readonly curveChanges?: boolean;
}

/** Rows worked out as asked. */
export interface Worked {
  readonly request: LevelRequest;
  readonly rows: readonly ProposalRow[];
}
