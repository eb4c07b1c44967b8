import { mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';
import { totalDbOf } from '@/core/programme/clipGain';
import { curveReasonOf, withoutCurve } from '@/core/programme/curveReason';
import { clipKey } from '@/core/signal/clipKey';
import { dialogueRanges, spokenClips } from '@/core/programme/dialogue';
import { clipEnd, type Clip, type Project } from '@/core/programme/model';

/** Speech this near to a clip moves it, seconds: no ramp is longer. */
const NEAR_SECONDS = 40;

interface Spoken {
  readonly speech: readonly TimeRange[];
  readonly clips: readonly Clip[];
  readonly totalDb: (clip: Clip) => number;
}

const known = new WeakMap<Project, Spoken>();

/** What speaks in a programme, worked out once. */
function spokenIn(project: Project): Spoken {
  const last = known.get(project);
  if (last) return last;
  const spoken = {
    speech: mergeRanges(dialogueRanges(project)),
    clips: spokenClips(project),
    totalDb: totalDbOf(project),
  };
  known.set(project, spoken);
  return spoken;
}

/** A time of the clip's own sound, and what there is. */
interface Told extends TimeRange {
  readonly db?: number;
}

const write = ({ from, to, db }: Told): string =>
  `${from.toFixed(2)}:${to.toFixed(2)}${db === undefined ? '' : `:${db.toFixed(1)}`}`;

/** What of it, as it was written, lies over a range of time. */
const within = (words: string, { from, to }: TimeRange): string =>
  words
    .split(' ')
    .filter((word) => {
      const [a, b] = word.split(':').map(Number);
      return b! > from && a! < to;
    })
    .join(' ');

/** The range of time that a clip and the ramps over its edges take, in its own sound's time, seconds. */
function nearOf({ sampleRate }: Project, { sourceStart, length }: Clip): TimeRange {
  const begin = sourceStart / sampleRate;
  return { from: begin - NEAR_SECONDS, to: begin + length / sampleRate + NEAR_SECONDS };
}

/**
 * For what a clip steps aside, in words: the speech near it, by its own sound's time; where it keeps a distance, also how loud the
 * clips that speak are set against it.
 */
export function duckedFor(project: Project, clip: Clip, distance: boolean): string {
  const { speech, clips, totalDb } = spokenIn(project);
  const { sampleRate } = project;
  const near = nearOf(project, clip);
  const zero = (clip.start - clip.sourceStart) / sampleRate;
  const told = (all: readonly Told[]): string =>
    all
      .map((one): Told => ({ ...one, from: one.from - zero, to: one.to - zero }))
      .filter(({ from, to }) => to > near.from && from < near.to)
      .map(write)
      .join(' ');
  if (!distance) return told(speech);
  const own = totalDb(clip);
  const against = clips.map((one): Told => ({
    ...{ from: one.start / sampleRate, to: clipEnd(one) / sampleRate },
    db: totalDb(one) - own,
  }));
  return `${told(speech)}|${told(against)}`;
}

/** For what a clip was evened out: its own sound without the curve. */
export const evenedFor = (project: Project, clip: Clip): string => clipKey(project, withoutCurve(clip)) ?? '';

/** Whether a clip's curve was worked out for what there is no more: the speech over it is another, or the clip itself. */
export function isCurveStale(project: Project, clip: Clip): boolean {
  const reason = curveReasonOf(clip);
  if (!reason) return false;
  if (reason.kind === 'evened') return reason.of !== evenedFor(project, clip);
  // Trimmed or split, only what is still near it counts.
  const near = nearOf(project, clip);
  const was = reason.of.split('|').map((words) => within(words, near));
  return was.join('|') !== duckedFor(project, clip, was.length > 1);
}
