import { describe, expect, it } from 'vitest';
import type { Cut, CutClip } from './cut';
import { matchMedia, shortestNames, type MediaFile } from './matchMedia';

const time = (value: number, rate: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const clip = (
  url: string | null,
  name: string,
  seconds: number | null = null,
  change: Partial<CutClip> = {},
): CutClip => ({
  name,
  media: { name, url },
  start: 0,
  length: 1,
  sourceStart: 0,
  sourceIsTimecode: false,
  gainDb: 0,
  fadeIn: 0,
  fadeOut: 0,
  curve: [],
  passthrough:
    seconds === null
      ? null
      : {
          media_reference: {
            available_range: { start_time: time(0, 48_000), duration: time(seconds * 48_000, 48_000) },
          },
        },
  ...change,
});
const cut = (...clips: CutClip[]): Cut => ({
  name: 'Reel',
  tracks: [{ name: 'A1', clips, passthrough: null }],
  warnings: [],
  faults: [],
  passthrough: null,
});
const file = (
  path: string,
  seconds: number | null = null,
  content: string | null = null,
  sampleRate = 48_000,
): MediaFile => ({
  path,
  sound: seconds === null ? null : { frames: seconds * sampleRate, sampleRate, timeReference: null },
  content,
});
const found = (of: Cut, files: readonly MediaFile[]): Record<string, string> =>
  Object.fromEntries([...matchMedia(of, files).found].map(([key, index]) => [key, files[index]!.path]));
const unsure = (of: Cut, files: readonly MediaFile[]): string[] => [...matchMedia(of, files).unsure.keys()];

describe('media of a cut', () => {
  const days = [file('reels/day1/take.wav'), file('reels/day2/take.wav')];

  it('of one name are told apart by as much of their path as agrees', () => {
    const two = cut(
      clip('file:///Volumes/X/day2/take.wav', 'take.wav'),
      clip('media/day1/take.wav', 'take.wav'),
    );
    expect(found(two, days)).toEqual({
      'file:///Volumes/X/day2/take.wav': 'reels/day2/take.wav',
      'media/day1/take.wav': 'reels/day1/take.wav',
    });
    expect(found(cut(clip('D:\\audio\\DAY2\\Take.wav', 'Take.wav')), days)).toEqual({
      'D:\\audio\\DAY2\\Take.wav': 'reels/day2/take.wav',
    });
    expect(found(cut(clip('day%201/take.wav', 'take.wav')), [...days, file('day 1/take.wav')])).toEqual({
      'day%201/take.wav': 'day 1/take.wav',
    });
  });

  it('are not guessed where nothing decides', () => {
    const one = cut(clip(null, 'take.wav'));
    expect(found(one, days)).toEqual({});
    expect(unsure(one, days)).toEqual(['take.wav']);
    expect(found(one, days.slice(1))).toEqual({ 'take.wav': 'reels/day2/take.wav' });
  });

  it('then by length, by what they hold, by rate, and by content', () => {
    const ten = cut(clip(null, 'take.wav', 10));
    expect(found(ten, [file('a/take.wav', 5), file('b/take.wav', 10)])).toEqual({ 'take.wav': 'b/take.wav' });
    const late = cut(clip(null, 'take.wav', null, { sourceStart: 7 }));
    expect(found(late, [file('a/take.wav', 5), file('b/take.wav', 9)])).toEqual({ 'take.wav': 'b/take.wav' });
    const rates = [file('a/take.wav', 10, null, 44_100), file('b/take.wav', 10)];
    expect(found(ten, rates)).toEqual({ 'take.wav': 'b/take.wav' });
    expect(unsure(ten, [file('a/take.wav', 10, 'x'), file('b/take.wav', 10, 'y')])).toEqual(['take.wav']);
    expect(found(ten, [file('a/take.wav', 10, 'x'), file('b/take.wav', 10, 'x')])).toEqual({
      'take.wav': 'a/take.wav',
    });
    // As long as one has not been looked into, none is taken.
    expect(unsure(ten, [file('a/take.wav', 5), file('b/take.wav')])).toEqual(['take.wav']);
  });

  it('with another ending stand in only where none has the whole name', () => {
    const one = cut(clip(null, 'take.wav'));
    expect(found(one, [file('take.flac')])).toEqual({ 'take.wav': 'take.flac' });
    expect(found(one, [file('take.flac'), file('x/TAKE.WAV')])).toEqual({ 'take.wav': 'x/TAKE.WAV' });
    expect(found(one, [file('take2.wav')])).toEqual({});
  });

  it('are named with their folders where a name is not enough', () => {
    const names = shortestNames(
      cut(clip('a/take.wav', 'take.wav'), clip('b/take.wav', 'take.wav'), clip('c/hut.wav', 'hut.wav')),
    );
    expect(Object.fromEntries(names)).toEqual({
      'a/take.wav': 'a/take.wav',
      'b/take.wav': 'b/take.wav',
      'c/hut.wav': 'hut.wav',
    });
  });
});
