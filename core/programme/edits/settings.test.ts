import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MONO, PROGRAMME_LAYOUTS } from '@/core/audio/layout';
import { loudnessOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { renderRange } from '@/core/signal/mix';
import type { Project } from '@/core/programme/model';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { asRecorded, shifted } from '@/core/signal/asRecorded';
import { totalDbOf } from '../clipGain';
import { clipEnd } from '../model';
import {
  clipBalanceAt,
  moveBalancePoint,
  removeBalancePoint,
  setBalancePoint,
  shapeBalance,
  turnBalanceCurveOff,
} from './balance';
import { setBalance, setChannelDb } from './channels';
import { balanceText, readBalance } from '@/core/text/balance';
import { moveTrack } from './project';
import { PROGRAMME_RATES, setLayout, setMonoLaw, setSampleRate, setTimeDisplay } from './settings';

describe('what the programme is made in', () => {
  it('at another rate every place stays where it was in time, and what touched still touches', () => {
    fc.assert(
      fc.property(clipsArbitrary, fc.constantFrom(...PROGRAMME_RATES), (clips, rate) => {
        const [first] = clips;
        const next = { ...first!, id: 'next', start: clipEnd(first!) };
        const project = { ...testProject([...clips, next]), markers: [{ id: 'm', at: 4800, name: 'M' }] };
        const changed = setSampleRate(project, rate);
        expect(changed.markers[0]!.at).toBe(Math.round(rate / 10));
        changed.clips.forEach((clip, i) => {
          const before = project.clips[i]!;
          expect(Math.abs(clip.start / rate - before.start / 48_000)).toBeLessThanOrEqual(0.51 / rate);
          expect(clip.length).toBeGreaterThan(0);
          expect(clip.fadeIn + clip.fadeOut).toBeLessThanOrEqual(clip.length);
        });
        if (changed.clips[0]!.length > 1)
          expect(clipEnd(changed.clips[0]!)).toBe(changed.clips.at(-1)!.start);
      }),
    );
    const project = testProject();
    expect(setSampleRate(project, 48_000)).toBe(project);
  });

  it('a mono clip is as loud in every layout by constant power, and 3 dB louder in full where there is no centre', async () => {
    const clip = testClip({ id: 'a' });
    const loudness = async (layoutId: string, law: 'constantPower' | 'full'): Promise<number> => {
      const project = setMonoLaw(setLayout(testProject([clip]), layoutId), law);
      const layout = PROGRAMME_LAYOUTS.find(({ id }) => id === layoutId)!;
      const meter = new LoudnessMeter(layout, 48_000);
      meter.push(await renderRange(project, openTestSource, 0, clip.length));
      return loudnessOf(weightedEnergy(meter.finish()), 48_000).integratedLufs!;
    };
    const alone = await loudness(MONO.id, 'constantPower');
    for (const { id, labels } of PROGRAMME_LAYOUTS) {
      expect(await loudness(id, 'constantPower')).toBeCloseTo(alone, 5);
      const lift = labels.length > 1 && !labels.includes('C') ? 10 * Math.log10(2) : 0;
      expect(await loudness(id, 'full')).toBeCloseTo(alone + lift, 5);
    }
  });

  it('time can be shown as timecode, and tracks be put in order', () => {
    const time = { frameRateId: '25', startSeconds: 36_000 };
    expect(setTimeDisplay(testProject(), time).time).toBe(time);
    const project = testProject();
    expect(moveTrack(project, 't1', 0).tracks.map(({ id }) => id)).toEqual(['t1', 't0']);
    expect(moveTrack(project, 't1', 9)).toBe(project);
  });
});

describe('channels of a clip', () => {
  const project = testProject([testClip({ id: 'a', sourceId: 's1' }), testClip({ id: 'b' })]);

  it('have gains of their own, which are forgotten when none is left', () => {
    const one = setChannelDb(project, 'a', 1, 4);
    expect(one.clips[0]!.channelDb).toEqual([0, 4]);
    expect(setChannelDb(one, 'a', 0, 99).clips[0]!.channelDb).toEqual([36, 4]);
    expect(setChannelDb(one, 'a', 1, 0).clips[0]!.channelDb).toEqual([]);
    expect(setChannelDb(project, 'b', 1, 4).clips[1]).toBe(project.clips[1]);
  });

  it('are balanced within left only and right only', () => {
    expect(setBalance(project, new Set(['a', 'b']), 3).clips.map(({ balance }) => balance)).toEqual([1, 1]);
    expect(setBalance(project, new Set(['a']), 0).clips[0]).toBe(project.clips[0]);
  });

  it('have a balance over time, whose points are set, moved, shaped and taken out', () => {
    const curveOf = (of: Project) => of.clips[0]!.balanceCurve;
    const left = setBalance(project, new Set(['a']), -0.4);
    const two = setBalancePoint(setBalancePoint(left, 'a', 100.4), 'a', 900, 2);
    expect(curveOf(two)).toEqual([
      { at: 100, balance: -0.4 },
      { at: 900, balance: 1 },
    ]);
    expect(clipBalanceAt(two.clips[0]!, 500)).toBeCloseTo(0.3, 10);
    expect(clipBalanceAt(left.clips[0]!, 500)).toBe(-0.4);
    const shaped = shapeBalance(two, 'a', 100, 'ease');
    expect(curveOf(moveBalancePoint(shaped, 'a', 100, 5_000))[0]).toEqual({
      at: 899,
      balance: -0.4,
      shape: 'ease',
    });
    expect(curveOf(shapeBalance(shaped, 'a', 100))).toEqual(curveOf(two));
    expect(setBalancePoint(two, 'a', 900, 1)).toBe(two);
    const one = removeBalancePoint(two, 'a', 100);
    expect(one.clips[0]).toMatchObject({ balance: -0.4, balanceCurve: [{ at: 900, balance: 1 }] });
    // What it had stays.
    expect(removeBalancePoint(one, 'a', 900).clips[0]).toMatchObject({ balance: 1, balanceCurve: [] });
    expect(turnBalanceCurveOff(two, 'a', 0.3).clips[0]).toMatchObject({ balance: 0.3, balanceCurve: [] });
  });

  it('are written and read as people say a balance', () => {
    for (const balance of [-1, -0.3, 0, 0.07, 1]) expect(readBalance(balanceText(balance))).toBe(balance);
    expect(['C', ' left 30', 'R', 'r50 %'].map(readBalance)).toEqual([0, -0.3, 1, 0.5]);
    for (const text of ['', '30', 'L101', 'up', 'R−5']) expect(readBalance(text)).toHaveProperty('error');
  });

  it('and all gains are at nothing as recorded; a shift for the ear moves all alike', () => {
    const changed = setBalance(setChannelDb(project, 'a', 1, 4), new Set(['b']), -0.5);
    const plain = asRecorded(shifted(changed, 7));
    expect(plain.clips.map(totalDbOf(plain))).toEqual([0, 0]);
    expect(plain.clips).toEqual(project.clips);
    expect(project.clips.map(totalDbOf(shifted(project, 60)))).toEqual([60, 60]);
  });
});
