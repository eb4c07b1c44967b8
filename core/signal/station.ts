import type { Project } from '@/core/programme/model';
import type { Piece } from './piece';

/** A span of frames, half-open; its ends may lie at infinity. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** All of a sound. */
export const ALWAYS: Span = { from: -Infinity, to: Infinity };

/** Frames of its input that a station needs before and after those that it gives. */
export interface Reach {
  readonly before: number;
  readonly after: number;
}

/** By how much a limiter goes down, block by block. */
export interface Reduction {
  /** Frame at which the first block begins, counted as in {@link Station.apply}, and frames in a block. */
  readonly from: number;
  readonly block: number;
  /** dB, at least 0. */
  readonly db: Float64Array;
}

/** Is told what a limiter does. */
export type ReductionTold = (reduction: Reduction) => void;

const NO_REACH: Reach = { before: 0, after: 0 };

/**
 * One thing on the path of sound. It alone knows what of a record changes the sound, and how. A station makes no sound out
 * of silence: a clip sounds from its start to its end.
 *
 * `T` is what it stands on: a clip with what its sound depends on, a track, or the programme.
 */
export interface Station<T> {
  readonly name: string;
  /** What of the record changes the sound; empty where the station does nothing. */
  key(of: T): readonly (string | number)[];
  /** Over which frames two records sound different here, counted as in {@link apply}; `null` where they sound the same. */
  difference(a: T, b: T): Span | null;
  reach(of: T): Reach;
  /** The only frames that it changes, in order, counted as in {@link apply}; left out where that may be any. */
  changes?(of: T): readonly Span[];
  /** Whether a sum of sounds comes out as the sum of what comes out of each. */
  linear(of: T): boolean;
  /**
   * @param piece its input over the frames wanted, and over its {@link reach} around them
   * @param at first frame of the piece, counted from the start of the clip, or of the programme
   * @param told by a limiter, what it does
   * @returns the frames wanted; the samples that came in may be written over
   */
  apply(piece: Piece, of: T, at: number, told?: ReductionTold): Piece;
  /**
   * The same for a sound and parts of it, which go the way of the whole: what added up to it before still does. Left out where
   * it is linear, and each goes its own way to the same end.
   * @param pieces the whole, then its parts, all of the same frames
   */
  applyTogether?(pieces: readonly Piece[], of: T, at: number, told?: ReductionTold): readonly Piece[];
  /** The project without what was done to levels here; left out where there is nothing of the kind. */
  asRecorded?(project: Project): Project;
}

/** A station that is linear and gives every frame out of that frame alone. */
export function plainStation<T>(station: Omit<Station<T>, 'reach' | 'linear'>): Station<T> {
  return { ...station, reach: () => NO_REACH, linear: () => true };
}

/** What two spans cover together, with what is between them. */
export function joined(a: Span | null, b: Span | null): Span | null {
  if (!a || !b) return a ?? b;
  return { from: Math.min(a.from, b.from), to: Math.max(a.to, b.to) };
}

/** What a change of these frames changes after a station. */
const seenThrough = (span: Span, { before, after }: Reach): Span => ({
  from: span.from - after,
  to: span.to + before,
});

/** The reach of several stations, one after the other. */
export function reachOf<T>(path: readonly Station<T>[], of: T): Reach {
  return path.reduce<Reach>((sum, station) => {
    const { before, after } = station.reach(of);
    return { before: sum.before + before, after: sum.after + after };
  }, NO_REACH);
}

/** Over which frames two records sound different after all of a path; what differs before it included. */
export function differenceAlong<T>(
  path: readonly Station<T>[],
  a: T,
  b: T,
  before: Span | null = null,
): Span | null {
  return path.reduce<Span | null>((span, station) => {
    const reach = {
      before: Math.max(station.reach(a).before, station.reach(b).before),
      after: Math.max(station.reach(a).after, station.reach(b).after),
    };
    return joined(span && seenThrough(span, reach), station.difference(a, b));
  }, before);
}

/** Applies a path to a piece. @param at first frame of the piece, see {@link Station} */
export function applyPath<T>(
  path: readonly Station<T>[],
  piece: Piece,
  of: T,
  at: number,
  told?: ReductionTold,
): Piece {
  let place = at;
  return path.reduce((sound, station) => {
    const result = station.apply(sound, of, place, told);
    place += station.reach(of).before;
    return result;
  }, piece);
}

/** Applies a path to a piece and parts of it: see {@link Station.applyTogether}. @returns in the same order */
export function applyPathTogether<T>(
  path: readonly Station<T>[],
  pieces: readonly Piece[],
  of: T,
  at: number,
  told?: ReductionTold,
): readonly Piece[] {
  let place = at;
  return path.reduce((sounds, station) => {
    const result =
      station.applyTogether?.(sounds, of, place, told) ??
      sounds.map((piece, i) => station.apply(piece, of, place, i === 0 ? told : undefined));
    place += station.reach(of).before;
    return result;
  }, pieces);
}

export const isLinear = <T>(path: readonly Station<T>[], of: T): boolean =>
  path.every((station) => station.linear(of));
