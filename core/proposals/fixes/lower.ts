import { amplitudeToDb } from '@/core/loudness/decibels';
import { clipEnd, type Clip, type Project } from '@/core/programme/model';
import type { FrameRange } from '@/core/programme/sections';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { clock, signed, withUnit } from '@/core/text/figures';
import type { Finding } from '@/core/check/findings/finding';
import { isOver } from '@/core/check/judge';
import { withFix, type Fix, type FixChange } from './fix';
import {
  changeOf,
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
/** A part that covers so much of a clip is the clip. */
const NEARLY_ALL = 0.9;

/** One way to mend it, by an amount in dB. */
interface Way {
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
      change: (db) => ({ kind: 'clips', clipIds: [clip.id], db: -db }),
      words: (db) => `${signed(-db)} dB on ${clip.name}`,
    };
  return {
    change: (db) => ({ kind: 'parts', clipIds: [clip.id], range, db: -db }),
    words: (db) => `${signed(-db)} dB on ${clip.name}, ${spanWords(range, rate)}`,
  };
}

const curveWay = (range: FrameRange, rate: number): Way => ({
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

/** The least amount of a way that brings a place under its limit. @returns `null` where it does not */
async function leastOf(
  way: Way,
  { project, tryOut }: Workshop,
  { from, to, value, limit, kind }: Finding & { readonly kind: OverKind },
): Promise<Found | null> {
  let db = value! - limit! + SPARE_DB;
  let [low, high] = [0, MOST_DB];
  let best: Found | null = null;
  for (let tries = 0; tries < MOST_TRIES && db <= MOST_DB; tries++) {
    const edited = withFix(project, way.change(db));
    if (edited === project) return null;
    const state = await tryOut(edited);
    const worst = worstWithin(state, kind, { from, to }) ?? -Infinity;
    const over = worst - limit!;
    if (isOver(worst, limit!)) {
      low = db;
      // What the rest brings has to be made up for; never past half of what is known to be enough.
      const next = db + over * (1.02 + 0.5 * tries) + SPARE_DB;
      db = best ? (low + high) / 2 : next;
    } else {
      best = { way, db, state, worst };
      high = db;
      if (over > -NEAR_DB || high - low < NEAR_DB) break;
      db = (low + high) / 2;
    }
  }
  return best;
}

/** The smallest change that brings a place under its limit: of the ways there are, the one that changes the loudness least. */
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
  const ways = [...(loudest ? [clipWay(loudest, range, sampleRate)] : []), curveWay(range, sampleRate)];
  const { clip } = loudest ?? {};
  const wide = (clip?.length ?? Infinity) > LIMITER_SECONDS * sampleRate;
  if (finding.kind === 'truePeak' && clip && !wide && clip.limiter === null) {
    const alone = amplitudeToDb(loudest!.peak);
    if (alone !== null && finding.value! - finding.limit! >= LIMITER_FROM_DB)
      ways.push(limiterWay(project, clip, alone));
  }
  const found: Found[] = [];
  for (const way of ways) {
    const least = await leastOf(way, workshop, finding);
    if (least) found.push(least);
  }
  const [best] = found.sort(
    (a, b) => Math.abs(changeOf(a.state, workshop)) - Math.abs(changeOf(b.state, workshop)),
  );
  if (!best) return null;
  const { way, db, state, worst } = best;
  const changeLu = changeOf(state, workshop);
  const name = { truePeak: 'peak', momentary: 'momentary', shortTerm: 'short-term' }[finding.kind];
  return {
    ...{ change: way.change(db), what: way.words(db), before: finding.value, after: worst },
    ...{ integratedLufs: state.figures.integratedLufs, truePeakDbtp: state.figures.truePeakDbtp },
    ...{ changeLu, mends: true },
    sentence: `${way.words(db)}: ${name} ${withUnit(worst, finding.unit)}, programme ${signed(changeLu, 2)} LU.`,
  };
}
