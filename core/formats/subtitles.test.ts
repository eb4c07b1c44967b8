import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { AudioFileError } from './errors';
import { speechFromSubtitles } from './subtitles';

describe('speech from subtitles', () => {
  it('reads SubRip, its entries in any order, joined where they touch', () => {
    const text =
      '\uFEFF2\r\n00:00:05,000 --> 00:00:07,250\r\nThe mast hums.\r\nAll night.\r\n\r\n1\r\n00:00:01,500 --> 00:00:03,000\r\nGood evening.\r\n\r\n3\r\n00:00:07,250 --> 00:00:09,000\r\nListen.\r\n';
    expect(speechFromSubtitles(text)).toEqual([
      { from: 1.5, to: 3 },
      { from: 5, to: 9 },
    ]);
  });

  it('reads WebVTT with settings, notes and short times', () => {
    const text =
      'WEBVTT - Frostline\n\nNOTE kept by the hut\n\nfirst\n00:01.000 --> 00:02.000 align:start\nGood evening.\n\n01:00:00.500 --> 01:00:01.000\nStill here.\n';
    expect(speechFromSubtitles(text)).toEqual([
      { from: 1, to: 2 },
      { from: 3600.5, to: 3601 },
    ]);
  });

  it('anything else is refused with what to do, and nothing else is thrown', () => {
    for (const text of [
      '',
      'Dear diary',
      'WEBVTT\n\n',
      '{"a":1}',
      '1\n00:00:05,000 --> 00:00:04,000\nBackwards\n',
    ])
      expect(() => speechFromSubtitles(text)).toThrow(AudioFileError);
    fc.assert(
      fc.property(fc.string(), fc.string(), (head, tail) => {
        try {
          for (const { from, to } of speechFromSubtitles(`${head}00:00:01,000 --> 00:00:02,000\n${tail}`))
            expect(to).toBeGreaterThan(from);
        } catch (error) {
          expect(error).toBeInstanceOf(AudioFileError);
        }
      }),
    );
  });
});
