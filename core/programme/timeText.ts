import { FRAME_RATES, timecodeFrames, timecodeOf, type FrameRate } from '@/core/text/timecode';
import { clock } from '@/core/text/figures';
import { parseTime } from '@/core/text/timeEntry';
import type { Project, TimeDisplay } from './model';

type Timed = Pick<Project, 'time' | 'sampleRate'>;

/** How frames of picture are counted; `null`: they are not. */
export const frameRateOf = ({ frameRateId }: TimeDisplay): FrameRate | null =>
  FRAME_RATES.find(({ id }) => id === frameRateId) ?? null;

/** No programme is longer than a day. */
const LATEST_SECONDS = 86_400;

/** A little over the rounding of times that lie on a frame of picture. */
const ON_FRAME = 1e-6;

/**
 * A place in the programme as the project shows it: timecode of the frame of picture it lies in, or hours, minutes and
 * seconds.
 * @param frame programme frames
 * @param decimals of the seconds, where there is no timecode
 */
export function placeText({ time, sampleRate }: Timed, frame: number, decimals = 1): string {
  const rate = frameRateOf(time);
  const seconds = frame / sampleRate + time.startSeconds;
  return rate ? timecodeOf(Math.floor(seconds * rate.perSecond + ON_FRAME), rate) : clock(seconds, decimals);
}

/**
 * A place that was typed, as timecode or as hours, minutes and seconds; either counts from what the programme's first
 * frame is called.
 * @returns programme frames, not before 0, or a sentence that says what is accepted
 */
export function parsePlace({ time, sampleRate }: Timed, text: string): number | { readonly error: string } {
  const rate = frameRateOf(time);
  const counted = rate && timecodeFrames(text, rate);
  const seconds = counted !== null && rate ? counted / rate.perSecond : parseTime(text);
  const from = `from ${placeText({ time, sampleRate }, 0)} on`;
  const error = rate
    ? `A place is timecode at ${rate.name} frames a second, hh:mm:ss:ff, or a time, ${from}`
    : `A place is a time: seconds, m:ss or h:mm:ss, ${from}`;
  if (!Number.isFinite(seconds)) return { error };
  const exact = (seconds - time.startSeconds) * sampleRate;
  // A frame of picture begins with the first sample that lies in it.
  const frame = rate && counted !== null ? Math.ceil(exact - 1e-4) : Math.round(exact);
  return frame >= 0 && frame <= LATEST_SECONDS * sampleRate ? frame : { error };
}
