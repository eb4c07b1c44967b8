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

/**
 * For what a clip steps aside, in words: the speech near it, by its own sound's time; where it keeps a distance, also how loud the
 * clips that speak are set against it.
 */
export function duckedFor(project: Project, clip: Clip, distance: boolean): string {
  const { speech, clips, totalDb } = spokenIn(project);
  const { sampleRate } = project;
  const [from, to] = [clip.start / sampleRate - NEAR_SECONDS, clipEnd(clip) / sampleRate + NEAR_SECONDS];
  const zero = (clip.start - clip.sourceStart) / sampleRate;
  const near = speech.filter((range) => range.to > from && range.from < to);
  const words = near.map((range) => `${(range.from - zero).toFixed(2)}-${(range.to - zero).toFixed(2)}`);
  if (!distance) return words.join(' ');
  const own = totalDb(clip);
  const against = clips
    .filter((one) => clipEnd(one) / sampleRate > from && one.start / sampleRate < to)
    .map((one) => (totalDb(one) - own).toFixed(1));
  return `${words.join(' ')}|${against.join(' ')}`;
}

/** For what a clip was evened out: its own sound without the curve. */
export const evenedFor = (project: Project, clip: Clip): string => clipKey(project, withoutCurve(clip)) ?? '';

/** Whether a clip's curve was worked out for what there is no more: the speech over it is another, or the clip itself. */
export function isCurveStale(project: Project, clip: Clip): boolean {
  const reason = curveReasonOf(clip);
  if (!reason) return false;
  if (reason.kind === 'evened') return reason.of !== evenedFor(project, clip);
  return reason.of !== duckedFor(project, clip, reason.of.includes('|'));
}
