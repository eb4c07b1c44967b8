import type { Kept } from '@/core/programme/model';

/** A piece of media that a cut names. */
interface MediaReference {
  /** File name, reel, or whatever it is called; not empty. */
  readonly name: string;
  /** Where the cut says it lies; `null` when it does not. */
  readonly url: string | null;
}

/** A point of a gain curve. */
export interface CutPoint {
  /** From the media's first frame. */
  readonly seconds: number;
  readonly db: number;
}

/** A stretch of media on a track. Times are in seconds. */
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
  readonly fadeIn: number;
  readonly fadeOut: number;
  /** Gain over time, by seconds from the media's first frame; empty when there is none. */
  readonly curve: readonly CutPoint[];
  readonly kept: Kept | null;
}

export interface CutTrack {
  readonly name: string;
  readonly clips: readonly CutClip[];
  readonly kept: Kept | null;
}

/** What an edit system made, as far as sound is concerned. */
export interface Cut {
  readonly name: string;
  readonly tracks: readonly CutTrack[];
  /** What could not be taken over, as full sentences. */
  readonly warnings: readonly string[];
  readonly kept: Kept | null;
}

/** Why a cut cannot be read. */
export class CutError extends Error {
  override readonly name = 'CutError';

  constructor(
    readonly code: 'notACut' | 'damaged' | 'empty' | 'tooLarge',
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

/** Clips a cut may have: far more than any programme, little enough to be held. */
export const MOST_CUT_CLIPS = 100_000;

/** The clips in order of time; an empty cut is an error. */
export function checkedCut(cut: Cut): Cut {
  const clips = cut.tracks.reduce((sum, track) => sum + track.clips.length, 0);
  if (clips === 0)
    throw new CutError('empty', 'There is no sound in this cut.', 'Export it again with its audio tracks.');
  return {
    ...cut,
    tracks: cut.tracks.map((track) => ({
      ...track,
      clips: [...track.clips].sort((a, b) => a.start - b.start),
    })),
  };
}
