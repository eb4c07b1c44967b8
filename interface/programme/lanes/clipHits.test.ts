import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import type { Clip } from '@/core/programme/model';
import { testClip } from '@/core/testing/projects';
import { clipUnder, fadeTabs, waterlineY } from './clipHits';
import { bodyHeight, LANE_TOP_LU, NAME_STRIP, yOf } from './laneScale';
import type { DrawnClip } from './useVisible';

const LANE = 100;
const RATE = 48_000;
/** 100 pixels a second. */
const FRAMES_PER_PIXEL = RATE / 100;

const drawn = (clip: Partial<Clip>): DrawnClip =>
  ({ clip: testClip({ id: 'a', length: 2 * RATE, ...clip }), measurement: null }) as unknown as DrawnClip;
/** What lies so many pixels into the programme and from the lane's top. */
const under = (clips: readonly DrawnClip[], x: number, y: number) =>
  clipUnder(clips, {
    ...{ frame: x * FRAMES_PER_PIXEL, y, laneHeight: LANE },
    ...{ target: EBU_R128, framesPerPixel: FRAMES_PER_PIXEL },
  });

describe('a place on a lane', () => {
  it('is on the clip that is drawn last of those that lie there, or on none', () => {
    const below = drawn({ id: 'below', start: 0 });
    const above = drawn({ id: 'above', start: RATE });
    expect(under([below, above], 50, 50)?.drawn).toBe(below);
    expect(under([below, above], 150, 50)?.drawn).toBe(above);
    expect(under([above, below], 150, 50)?.drawn).toBe(below);
    expect(under([below, above], 299, 50)?.drawn).toBe(above);
    expect(under([below, above], 300, 50)).toBeNull();
  });

  it('is an edge within six pixels of an end, over all of its height; a narrow clip has none', () => {
    for (const [x, edge] of [
      [100, 'start'],
      [105.9, 'start'],
      [106.1, null],
      [293.9, null],
      [294.1, 'end'],
      [299.9, 'end'],
    ] as const)
      for (const y of [0, 50, 99]) expect(under([drawn({ start: RATE })], x, y)?.edge).toBe(edge);
    expect(under([drawn({ length: 0.25 * RATE })], 2, 50)).toMatchObject({ edge: null, fade: null });
  });

  it('is a fade at the tab of its end, which hangs under the name', () => {
    const faded = drawn({ fadeIn: 0.5 * RATE, fadeOut: 0.3 * RATE });
    expect(under([faded], 50, NAME_STRIP + 2)).toMatchObject({ fade: 'in', edge: null, waterline: false });
    expect(under([faded], 170, NAME_STRIP + 2)?.fade).toBe('out');
    expect(under([faded], 60, NAME_STRIP + 2)?.fade).toBeNull();
    expect(under([faded], 50, NAME_STRIP + 20)?.fade).toBeNull();
    expect(under([drawn({})], 11, NAME_STRIP)?.fade).toBe('in');
  });

  it('takes hold of each fade wherever its tab is, and of no fade elsewhere', () => {
    fc.assert(
      fc.property(
        fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })),
        ([a, b]) => {
          const fadeIn = Math.round(a * RATE);
          const clip = drawn({ fadeIn, fadeOut: Math.round(b * RATE) });
          const tabs = fadeTabs(clip.clip, 200);
          for (const [side, at] of tabs) {
            const other = tabs.find(([one]) => one !== side)![1];
            if (Math.abs(other - at) > 12) expect(under([clip], at, NAME_STRIP + 3)?.fade).toBe(side);
          }
          expect(tabs[0]![1]).toBeCloseTo(Math.max(11, fadeIn / FRAMES_PER_PIXEL), 9);
        },
      ),
    );
  });

  it('has a waterline where there is a loudness only', () => {
    for (let y = 0; y < LANE; y++) expect(under([drawn({})], 100, y)?.waterline).toBe(false);
    expect(waterlineY(0, LANE)).toBe(NAME_STRIP + yOf(0, bodyHeight(LANE)));
    expect(waterlineY(LANE_TOP_LU, LANE)).toBe(NAME_STRIP);
  });
});
