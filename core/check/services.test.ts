import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  listened,
  listenedSentence,
  percentOf,
  publishedLufs,
  SHIPPED_SERVICES,
  type Service,
} from './services';

const service = (change: Partial<Service>): Service => ({ ...SHIPPED_SERVICES[0]!, ...change });
const figures = (integratedLufs: number | null, truePeakDbtp: number | null = -3) => ({
  integratedLufs,
  truePeakDbtp,
});

describe('what the listener gets', () => {
  it('of what was published at −9.2 where only louder is turned down to −14: 58 %', () => {
    const found = listened(figures(-9.2), service({}));
    expect(found.gainDb).toBeCloseTo(-4.8, 9);
    expect(Math.round(found.percent)).toBe(58);
    expect(found.listenerLufs).toBeCloseTo(-14, 9);
    expect(listenedSentence(found, service({}))).toBe('Played at 58 % (−4.8 dB): −14.0 LUFS.');
  });

  it('what is quieter stays so where nothing is turned up', () => {
    expect(listened(figures(-20), service({})).gainDb).toBe(0);
    expect(listenedSentence(listened(figures(-20), service({})), service({}))).toMatch(/6\.0 LU quieter/);
  });

  it('turned up it stops at the ceiling, is limited, or goes past it, as the service does', () => {
    const up = { turnsUp: true, ceilingDbtp: -1 };
    const at = (peaks: Service['peaks']) => listened(figures(-20, -4), service({ ...up, peaks }));
    expect([at('stops').gainDb, at('stops').listenerDbtp]).toEqual([3, -1]);
    expect([at('limits').gainDb, at('limits').listenerDbtp, at('limits').limitedDb]).toEqual([6, -1, 3]);
    expect([at('nothing').gainDb, at('nothing').listenerDbtp]).toEqual([6, 2]);
  });

  it('goes by the album where that is known', () => {
    const album = service({ byAlbum: true, turnsUp: true });
    expect(listened(figures(-20), album, -12).gainDb).toBe(-2);
    expect(listened(figures(-20), album).gainDb).toBe(6);
    expect(listened(figures(null, null), album).listenerLufs).toBeNull();
  });

  it('is told as per cent, from which follows how loud it was published', () => {
    fc.assert(
      fc.property(fc.double({ min: -13.9, max: 0, noNaN: true }), (lufs) => {
        const { percent } = listened(figures(lufs), service({}));
        expect(publishedLufs(percent, service({}))).toBeCloseTo(lufs, 9);
        expect(percent).toBeCloseTo(percentOf(-14 - lufs), 9);
      }),
    );
    expect(publishedLufs(0, service({}))).toBeNull();
    expect(publishedLufs(64, service({ turnsDown: false }))).toBeNull();
    expect(publishedLufs(64, service({ referenceLufs: null }))).toBeNull();
  });
});
