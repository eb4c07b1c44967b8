import { parse } from 'subsrt-ts';
import { mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';
import { AudioFileError } from './errors';

/** Larger is no subtitle file: a day of speech takes under 5 MB. */
export const MOST_SUBTITLE_BYTES = 20_000_000;

/**
 * When somebody speaks, from a subtitle file: SubRip (.srt) or WebVTT (.vtt).
 * @returns ranges in seconds, in order, those that overlap or touch made one
 * @throws AudioFileError when it is neither
 */
export function speechFromSubtitles(text: string): TimeRange[] {
  const wrong = (): AudioFileError =>
    new AudioFileError(
      'notSubtitles',
      'This is not a subtitle file in SubRip (SRT) or WebVTT form, or it has no entry with a time.',
      'Export the subtitles as SRT or WebVTT.',
    );
  const plain = text.replace(/^\uFEFF/, '').replace(/\r\n?/g, '\n');
  const format = /^WEBVTT(\s|$)/.test(plain) ? 'vtt' : 'srt';
  let ranges: TimeRange[];
  try {
    ranges = parse(plain, { format }).flatMap((entry) =>
      entry.type === 'caption' ? [{ from: entry.start / 1000, to: entry.end / 1000 }] : [],
    );
  } catch {
    throw wrong();
  }
  const merged = mergeRanges(ranges.filter(({ from, to }) => Number.isFinite(from) && Number.isFinite(to)));
  if (merged.length === 0) throw wrong();
  return merged;
}
