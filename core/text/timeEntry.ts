import { string, ValidationError } from 'yup';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { clock } from './figures';

const TIME = /^(?:(\d+):)?(?:(\d{1,2}):)?(\d+(?:[.,]\d*)?)$/;

/** A time as people write it: “83.5”, “1:23.5”, “1:02:03”. @returns seconds, NaN when it is none */
export function parseTime(text: string): number {
  const found = TIME.exec(text.trim());
  if (!found) return NaN;
  const [, first, second, last] = found;
  const seconds = Number(last!.replace(',', '.'));
  if (first === undefined) return seconds;
  if (seconds >= 60) return NaN;
  if (second === undefined) return Number(first) * 60 + seconds;
  return Number(second) >= 60 ? NaN : Number(first) * 3600 + Number(second) * 60 + seconds;
}

/**
 * A part of a sound from two times that were typed.
 * @param length of the sound, seconds
 * @returns the part, or a sentence that says what is accepted
 */
export function parseRange(from: string, to: string, length: number): TimeRange | { readonly error: string } {
  const message = `Times are seconds, m:ss or h:mm:ss from 0:00 to ${clock(length)}, the first before the second`;
  const time = string()
    .required(message)
    .test('time', message, (text) => {
      const seconds = parseTime(text ?? '');
      // What a clock shows is rounded; it may be typed back.
      return seconds >= 0 && seconds <= length + 0.05;
    });
  try {
    const range = {
      from: parseTime(time.validateSync(from)),
      to: Math.min(length, parseTime(time.validateSync(to))),
    };
    return range.from < range.to ? range : { error: message };
  } catch (error) {
    if (error instanceof ValidationError) return { error: error.message };
    throw error;
  }
}
