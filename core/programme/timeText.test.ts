import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FRAME_RATES } from '@/core/text/timecode';
import { parsePlace, placeText } from './timeText';

const plain = { sampleRate: 48_000, time: { frameRateId: null, startSeconds: 0 } };
const at25 = { sampleRate: 48_000, time: { frameRateId: '25', startSeconds: 36_000 } };

describe('places in the programme', () => {
  it('are shown and typed as time, or as timecode from what the first frame is called', () => {
    expect(placeText(plain, 90 * 48_000, 1)).toBe('1:30.0');
    expect(parsePlace(plain, '1:30')).toBe(90 * 48_000);
    expect(placeText(at25, 0)).toBe('10:00:00:00');
    expect(placeText(at25, 1.5 * 48_000)).toBe('10:00:01:12');
    expect(parsePlace(at25, '10:00:01:12')).toBe(1.48 * 48_000);
    // A time can be typed all the same.
    expect(parsePlace(at25, '10:00:02')).toBe(2 * 48_000);
  });

  it('that are none, or lie before the start, get a sentence', () => {
    for (const text of ['', 'soon', '-3', '1:75'])
      expect(parsePlace(plain, text)).toEqual({ error: expect.stringMatching(/seconds, m:ss or h:mm:ss/) });
    for (const text of ['09:59:59:24', '10:00:00:25', '99:00:00:00'])
      expect(parsePlace(at25, text)).toEqual({ error: expect.stringMatching(/from 10:00:00:00 on/) });
  });

  it('on a frame of picture come back the same at every rate', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...FRAME_RATES),
        fc.nat(10 * 3600 * 24),
        fc.constantFrom(44_100, 48_000, 96_000),
        (rate, frame, sampleRate) => {
          const project = { sampleRate, time: { frameRateId: rate.id, startSeconds: 0 } };
          const place = Math.ceil((frame / rate.perSecond) * sampleRate - 1e-4);
          expect(parsePlace(project, placeText(project, place))).toBe(place);
        },
      ),
    );
  });
});
