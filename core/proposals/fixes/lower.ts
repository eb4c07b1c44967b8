import { amplitudeToDb, dbToAmplitude } from '@/core/loudness/decibels';
import { clipEnd, type Clip, type Project } from '@/core/programme/model';
import type { FrameRange } from '@/core/programme/sections';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { clock, signed, withUnit } from '@/core/text/figures';
import type { Finding } from '@/core/check/findings/finding';
import { isOver } from '@/core/check/judge';
import { withFix, type Fix, type FixChange } from './fix';
import {
  resultOf,
  worstWithin,
  type ClipOver,
  type OverKind,
  type TriedState,
  type Workshop,
} from './workshop';

/** A place is brought so far under its limit that rounding does not bring it back, dB. */
const SPARE_DB = 0.002;
/** As near to the limit as it is brought, dB. */
const NEAR_DB = 0.03;
const MOST_TRIES = 8;
/** A part that has to go down by more than this is no fix, dB. */
const MOST_DB = 24;
/** Peaks between samples reach so far beside them, seconds. */
const BESIDE_SECONDS = 0.005;
/** A limiter is thought of from this much on, dB, and on clips no longer than this, seconds. */
const LIMITER_FROM_DB = 2;
const LIMITER_SECONDS = 300;
/** A change of the programme's loudness that its figure does not show, LU. */
const UNSEEN_LU = 0.005;
/** A part that covers so much of a clip is the clip. */
const NEARLY_ALL = 0.9;

/** One way to mend it, by an amount in dB. */
interface Way {
  /** Whether it is a gain on the place, so that the sum there is linear in its factor. */
  readonly isGain: boolean;
  readonly change: (db: number) => FixChange;
  readonly words: (db: number) => string;
}

const spanWords = ({ from, to }: FrameRange, rate: number): string =>
  `${clock(from / rate)}–${clock(to / rate)}`;

/** The part of a clip, or the clip, lowered. */
function clipWay({ clip }: ClipOver, range: FrameRange, rate: number): Way {
  const covered = Math.min(clipEnd(clip), range.to) - Math.max(clip.start, range.from);
  if (covered >= NEARLY_ALL * clip.length)
    return {
      isGain: true,
      change: (db) => ({ kind: 'clips', clipIds: [clip.id], db: -db }),
      words: (db) => `${signed(-db)} dB on ${clip.name}`,
    };
  return {
    isGain: true,
    change: (db) => ({ kind: 'parts', clipIds: [clip.id], range, db: -db }),
    words: (db) => `${signed(-db)} dB on ${clip.name}, ${spanWords(range, rate)}`,
  };
}

const curveWay = (range: FrameRange, rate: number): Way => ({
  isGain: true,
  change: (db) => ({ kind: 'curve', range, db }),
  words: (db) => `${signed(-db)} dB on the programme’s gain curve, ${spanWords(range, rate)}`,
});

/** A limiter on the clip, so far under the peak that it has now. */
function limiterWay(project: Project, clip: Clip, peakDbtp: number): Way {
  const track = project.tracks.find(({ id }) => id === clip.trackId);
  // A limiter stands before the track's gain.
  const behindDb = track?.gainDb ?? 0;
  const ceilingOf = (db: number): number => peakDbtp - behindDb - db;
  return {
    isGain: false,
    change: (db) => ({
      kind: 'limiter',
      clipId: clip.id,
      limiter: { ...SPEECH_AND_MUSIC, ceilingDbtp: ceilingOf(db) },
    }),
    words: (db) => `Limiter on ${clip.name}, ceiling ${withUnit(ceilingOf(db), 'dBTP')}`,
  };
}

interface Found {
  readonly way: Way;
  readonly db: number;
  readonly state: TriedState;
  readonly worst: number;
}

/** How high a place is with a gain of a factor on some of what sounds there, linear. */
interface Point {
  readonly factor: number;
  readonly height: number;
}

/**
 * The next amount of a gain to try where the last was too little. The height of a sum of which a part is scaled, a peak or the root
 * of an energy, is a convex function of the factor, so that beyond two points it lies over the line through them.
 * @returns dB; `null` where the line stays over the limit as far as the gain may go, and so the height does
 */
function furtherDown(last: Point, { factor, height }: Point, limit: number): number | null {
  const rise = (last.height - height) / (last.factor - factor);
  const next = factor - (height - limit) / rise;
  return rise > 0 && next > dbToAmplitude(-MOST_DB) ? -amplitudeToDb(next)! : null;
}

/** The least amount of a way that brings a place under its limit. @returns `null` where it does not */
async function leastOf(
  way: Way,
  { project, tryOut }: Workshop,
  { from, to, value, limit, kind }: Finding & { readonly kind: OverKind },
): Promise<Found | null> {
  let db = value! - limit! + SPARE_DB;
  let [low, high] = [0, MOST_DB];
  let last: Point = { factor: 1, height: dbToAmplitude(value!) };
  let best: Found | null = null;
  for (let tries = 0; tries < MOST_TRIES && db <= MOST_DB; tries++) {
    const edited = withFix(project, way.change(db));
    if (edited === project) return null;
    const state = await tryOut(edited);
    const worst = worstWithin(state, kind, { from, to }) ?? -Infinity;
    const over = worst - limit!;
    if (isOver(worst, limit!)) {
      low = db;
      const point = { factor: dbToAmplitude(-db), height: dbToAmplitude(worst) };
      // What the rest brings has to be made up for; never past half of what is known to be enough.
      const next = way.isGain
        ? furtherDown(last, point, dbToAmplitude(limit!))
        : db + over * (1.02 + 0.5 * tries);
      if (next === null && !best) return null;
      last = point;
      db = best || next === null ? (low + high) / 2 : next + SPARE_DB;
    } else {
      best = { way, db, state, worst };
      high = db;
      if (over > -NEAR_DB || high - low < NEAR_DB) break;
      db = (low + high) / 2;
    }
  }
  return best;
}

/** The smallest change that brings a place under its limit: of the ways there are, the first that changes the loudness by less than shows, else the one that changes it least. */
export async function lowered(
  finding: Finding & { readonly kind: OverKind },
  workshop: Workshop,
): Promise<Omit<Fix, 'findingId'> | null> {
  const { project, clipsOver } = workshop;
  const { sampleRate } = project;
  const beside = finding.kind === 'truePeak' ? BESIDE_SECONDS : 0;
  const range = {
    from: Math.max(0, Math.round((finding.from - beside) * sampleRate)),
    to: Math.round((finding.to + beside) * sampleRate),
  };
  const clips = await clipsOver(finding);
  const byPeak = [...clips].sort((a, b) => b.peak - a.peak);
  const loudest = finding.kind === 'truePeak' ? byPeak[0] : clips[0];
  const onClip = loudest ? [clipWay(loudest, range, sampleRate)] : [];
  const ways = [...onClip, curveWay(range, sampleRate)];
  const { clip } = loudest ?? {};
  const wide = (clip?.length ?? Infinity) > LIMITER_SECONDS * sampleRate;
  if (finding.kind === 'truePeak' && clip && !wide && clip.limiter === null) {
    const alone = amplitudeToDb(loudest!.peak);
    if (alone !== null && finding.value! - finding.limit! >= LIMITER_FROM_DB)
      ways.push(limiterWay(project, clip, alone));
  }
  const found: (Found & { readonly result: ReturnType<typeof resultOf> })[] = [];
  for (const way of ways) {
    // A limiter takes no more off a clip than the same gain on all of it.
    if (!way.isGain && !found.some((one) => onClip.includes(one.way))) continue;
    const least = await leastOf(way, workshop, finding);
    if (!least) continue;
    found.push({ ...least, result: resultOf(least.state, workshop) });
    // Nothing could be seen to change it less.
    if (Math.abs(found.at(-1)!.result.changeLu) < UNSEEN_LU) break;
  }
  const [best] = found.sort((a, b) => Math.abs(a.result.changeLu) - Math.abs(b.result.changeLu));
  if (!best) return null;
  const { way, db, result, worst } = best;
  const name = { truePeak: 'peak', momentary: 'momentary', shortTerm: 'short-term' }[finding.kind];
  return {
    ...{ change: way.change(db), what: way.words(db), before: finding.value, after: worst, mends: true },
    ...result,
    sentence: `${way.words(db)}: ${name} ${withUnit(worst, finding.unit)}, programme ${signed(result.changeLu, 2)} LU.`,
  };
}
