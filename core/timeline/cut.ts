import type { IntegrityFault } from '@/core/audio/integrity';
import type {
  CurveReason,
  BalancePoint,
  Clip,
  GainReason,
  Limiter,
  Passthrough,
  Role,
  SegmentShape,
} from '@/core/programme/model';

/** A piece of media that a cut names. */
export interface MediaReference {
  /** File name, reel, or whatever it is called; not empty. */
  readonly name: string;
  /** Where the cut says it lies; `null` when it does not. */
  readonly url: string | null;
}

/** What tells the media of a cut apart: two of the same name in different folders are two. */
export const mediaKey = ({ url, name }: MediaReference): string => url ?? name;

/** A point of a gain curve. */
export interface CutPoint {
  /** From the media's first frame. */
  readonly seconds: number;
  readonly db: number;
  readonly shape?: SegmentShape;
}

/** What a clip sounds like besides its gain and its place; what is left out is as usual. */
export interface CutSound extends Partial<
  Pick<Clip, 'fadeInShape' | 'fadeOutShape' | 'balance' | 'channelDb' | 'limiter'>
> {
  /** How its gain curve came about, where it was worked out. */
  readonly curveReason?: Pick<CurveReason, 'kind' | 'of'>;
  readonly balancePoints?: readonly (Omit<BalancePoint, 'at'> & { readonly seconds: number })[];
}

/** What lies on a track, or on the whole programme. */
interface CutBus {
  readonly curve: readonly CutPoint[];
  readonly limiter: Limiter | null;
}

/** A slice of media on a track. Times are in seconds. */
export interface CutClip {
  readonly name: string;
  readonly media: MediaReference;
  /** From the programme's start. */
  readonly start: number;
  readonly length: number;
  /** From the media's first frame; or, when `sourceIsTimecode`, from 00:00:00:00 of its timecode. */
  readonly sourceStart: number;
  readonly sourceIsTimecode: boolean;
  readonly gainDb: number;
  /** How that came about, where the file says it. */
  readonly reason?: GainReason | null;
  readonly fadeIn: number;
  readonly fadeOut: number;
  /** Gain over time, by seconds from the media's first frame; empty when there is none. */
  readonly curve: readonly CutPoint[];
  readonly sound?: CutSound;
  readonly passthrough: Passthrough | null;
}

export interface CutTrack {
  readonly name: string;
  /** What it is for, where the file says it. */
  readonly role?: Role | null;
  readonly clips: readonly CutClip[];
  readonly bus?: CutBus;
  readonly passthrough: Passthrough | null;
}

/** A named place of a cut. */
export interface CutMarker {
  /** From the programme's start. */
  readonly seconds: number;
  readonly name: string;
  readonly passthrough: Passthrough | null;
}

/** What an edit system made, as far as sound is concerned. */
export interface Cut {
  readonly name: string;
  readonly tracks: readonly CutTrack[];
  readonly bus?: CutBus;
  readonly markers?: readonly CutMarker[];
  /** In how many frames a second its clips are counted, the coarsest of them. */
  readonly perSecond?: number;
  /** The timecode of what it counts from, seconds; left out where it says none. */
  readonly beginsAt?: number;
  /** How its timecode counts, where it says it. */
  readonly frameRateId?: string;
  /** What could not be taken over, as full sentences, {@link faults} included. */
  readonly warnings: readonly string[];
  /** Why the programme does not sound as the cut: those of the warnings that concern its sound. */
  readonly faults: readonly IntegrityFault[];
  readonly passthrough: Passthrough | null;
}

/** Why a cut cannot be read. */
export class CutError extends Error {
  override readonly name = 'CutError';

  constructor(
    readonly code: 'notACut' | 'damaged' | 'empty' | 'tooLarge' | 'tooLong',
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

/** Clips a cut may have: far more than any programme, little enough to be held. */
export const MOST_CUT_CLIPS = 100_000;

/** A programme longer than this is a mistake, hours, unless somebody says otherwise. */
export const USUAL_MOST_HOURS = 24;

/**
 * The clips in order of time.
 * @param mostHours the longest that the programme may be
 * @throws CutError when there are none, too many, or one ends later than that
 */
export function checkedCut(cut: Cut, mostHours: number): Cut {
  const clips = cut.tracks.reduce((sum, track) => sum + track.clips.length, 0);
  if (clips === 0)
    throw new CutError(
      'empty',
      'There is no audio in this timeline.',
      'Export it again with its audio tracks.',
    );
  if (clips > MOST_CUT_CLIPS)
    throw new CutError('tooLarge', `The cut has over ${MOST_CUT_CLIPS} clips.`, 'Export a part of it.');
  let end = 0;
  for (const track of cut.tracks)
    for (const { start, length } of track.clips) end = Math.max(end, start + length);
  if (!(end <= mostHours * 3600))
    throw new CutError(
      'tooLong',
      `The cut ends at ${(end / 3600).toFixed(1)} hours; up to ${mostHours} are read.`,
      'Check its gaps, or export a part of it.',
    );
  return {
    ...cut,
    tracks: cut.tracks.map((track) => ({
      ...track,
      clips: [...track.clips].sort((a, b) => a.start - b.start),
    })),
  };
}
