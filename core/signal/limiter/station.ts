import { programmeLayout } from '@/core/audio/layout';
import { dbToAmplitude } from '@/core/loudness/decibels';
import type { Limiter, Project } from '@/core/programme/model';
import type { ClipSound } from '../clipSound';
import { finishedSamples, pieceOf, pieceWithin, type Piece } from '../piece';
import { ALWAYS, type Reach, type ReductionTold, type Station } from '../station';
import type { TrackSound } from '../trackSound';
import { limit } from './limit';
import { limiterTiming } from './timing';

/** What a limiter stands on: how fast it runs, and what its channels are. */
interface Place {
  readonly limiter: Limiter | null;
  readonly sampleRate: number;
  readonly layoutId: string;
}

const NO_REACH: Reach = { before: 0, after: 0 };

const atWork = (limiter: Limiter | null): limiter is Limiter => limiter !== null && !limiter.bypassed;

const sounding = ({ ceilingDbtp, inputDb, lookAheadMs, releaseMs, lfeApart }: Limiter) =>
  [ceilingDbtp, inputDb, lookAheadMs, releaseMs ?? 'auto', lfeApart ? 'apart' : 'linked'] as const;

const keyOf = ({ limiter }: Place): readonly (string | number)[] =>
  atWork(limiter) ? sounding(limiter) : [];

/** Channels that go down together: all, or the LFE on its own. */
function groupsOf(limiter: Limiter, layoutId: string, channels: number): number[][] {
  const all = Array.from({ length: channels }, (_, c) => c);
  if (!limiter.lfeApart) return [all];
  const isLfe = (c: number): boolean => programmeLayout(layoutId).labels[c]?.startsWith('LFE') ?? false;
  return [all.filter((c) => !isLfe(c)), all.filter(isLfe)].filter((group) => group.length > 0);
}

/**
 * Limits a piece: see `Station.apply`.
 * @param told by how much it went down around what was wanted; not called where it had nothing to do
 */
export function limited(piece: Piece, place: Place, at: number, told?: ReductionTold): Piece {
  return limitedTogether([piece], place, at, told)[0]!;
}

/**
 * Limits a piece, and takes as much off parts of it: what added up to it before still does.
 * @param pieces the one that is limited, then its parts, all of the same frames and channels
 * @param told see {@link limited}
 * @returns each over the frames wanted
 */
export function limitedTogether(
  pieces: readonly Piece[],
  { limiter, sampleRate, layoutId }: Place,
  at: number,
  told?: ReductionTold,
): readonly Piece[] {
  if (!atWork(limiter)) return pieces;
  const timing = limiterTiming(limiter, sampleRate);
  const frames = pieces[0]!.frames - timing.before - timing.after;
  const raised = pieces.map((piece) => ({ ...piece, gainDb: piece.gainDb + limiter.inputDb }));
  const [samples, ...along] = raised.map((piece, i) => {
    const heard = finishedSamples(piece);
    // What comes in is given on untouched where there is nothing to do.
    return heard === pieces[i]!.sound ? heard.map((channel) => channel.slice()) : heard;
  }) as [readonly Float32Array[], ...(readonly Float32Array[])[]];
  const ceiling = dbToAmplitude(limiter.ceilingDbtp);
  let worked = false;
  for (const group of groupsOf(limiter, layoutId, samples.length)) {
    const of = (sound: readonly Float32Array[]): Float32Array[] => group.map((c) => sound[c]!);
    const done = limit(of(samples), at, ceiling, timing, along.flatMap(of));
    if (!done) continue;
    const first = Math.floor((timing.before - done.lead) / timing.block);
    const last = Math.ceil((timing.before + frames - done.lead) / timing.block);
    worked ||= done.reduction.subarray(Math.max(0, first - 1), last + 1).some((db) => db > 0);
    const from = Math.max(0, first);
    const db = done.reduction.subarray(from, last);
    if (told && db.some((one) => one > 0))
      told({ from: at + done.lead + from * timing.block, block: timing.block, db });
  }
  if (!worked) return raised.map((piece) => pieceWithin(piece, timing.before, frames));
  return [samples, ...along].map((sound) =>
    pieceOf(sound.map((channel) => channel.subarray(timing.before, timing.before + frames))),
  );
}

/** A limiter at the place that `placeOf` says. @param without the project without it */
function limiterAt<T>(
  name: string,
  placeOf: (of: T) => Place,
  without: (project: Project) => Project,
): Station<T> {
  return {
    name,
    key: (of) => keyOf(placeOf(of)),
    difference: (a, b) => (keyOf(placeOf(a)).join() === keyOf(placeOf(b)).join() ? null : ALWAYS),
    reach(of) {
      const { limiter, sampleRate } = placeOf(of);
      return atWork(limiter) ? limiterTiming(limiter, sampleRate) : NO_REACH;
    },
    linear: (of) => !atWork(placeOf(of).limiter),
    apply: (piece, of, at, told) => limited(piece, placeOf(of), at, told),
    applyTogether: (pieces, of, at, told) => limitedTogether(pieces, placeOf(of), at, told),
    asRecorded: without,
  };
}

export const clipLimiter = limiterAt<ClipSound>(
  'limiter',
  ({ clip: { limiter }, sampleRate, layoutId }) => ({ limiter, sampleRate, layoutId }),
  (project) => ({ ...project, clips: project.clips.map((clip) => ({ ...clip, limiter: null })) }),
);

export const trackLimiter = limiterAt<TrackSound>(
  'track limiter',
  ({ track: { limiter }, sampleRate, layoutId }) => ({ limiter, sampleRate, layoutId }),
  (project) => ({ ...project, tracks: project.tracks.map((track) => ({ ...track, limiter: null })) }),
);

export const programmeLimiter = limiterAt<Project>(
  'programme limiter',
  (project) => project,
  (project) => ({ ...project, limiter: null }),
);
