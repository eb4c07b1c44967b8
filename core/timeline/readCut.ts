import { CutError, USUAL_MOST_HOURS, type Cut } from './cut';
import { readEdl } from './edl';
import { readOtio } from './otio';
import type { FrameRate } from '@/core/text/timecode';

/** Largest file that is read, bytes. */
const MOST_CUT_BYTES = 200_000_000;

/** Whether a text is an OpenTimelineIO file rather than a list: content decides, the name only where it says nothing. */
const isOtio = (text: string, name: string): boolean =>
  text.trimStart().startsWith('{') || /\.otio$/i.test(name);

/** Whether a file's name is that of a cut. */
export const isCutName = (name: string): boolean => /\.(otio|edl)$/i.test(name);

/** @throws CutError when it is too large to be read */
export function checkCutSize(bytes: number): void {
  if (bytes > MOST_CUT_BYTES)
    throw new CutError('tooLarge', 'The cut is larger than 200 MB.', 'Export a part of it.');
}

/**
 * Reads a cut of either kind.
 * @param frameRate of a list, which does not say it
 * @param mostHours the longest that the programme may be
 * @throws CutError
 */
export function readCut(text: string, name: string, frameRate: FrameRate, mostHours = USUAL_MOST_HOURS): Cut {
  return isOtio(text, name) ? readOtio(text, mostHours) : readEdl(text, frameRate, mostHours);
}
