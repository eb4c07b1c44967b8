import { describe, expect, it } from 'vitest';
import { DUAL_MONO, layoutFor, MONO, programmeLayout, STEREO } from '@/core/audio/layout';
import { mixMatrix } from '@/core/audio/mixMatrix';
import { balanceAt } from '@/core/programme/balanceCurve';
import { testClip, testProject, openTestSource } from '@/core/testing/projects';
import { clipMatrix } from './channels';
import { clipKey } from './clipKey';
import { renderRange } from './mix';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';

const plain = { channelDb: [], balance: 0 };
const SURROUND = programmeLayout('5.1');
const column = (matrix: ReturnType<typeof clipMatrix>, from = 0): number[] => matrix.map((row) => row[from]!);
const power = (gains: readonly number[]): number => gains.reduce((sum, gain) => sum + gain * gain, 0);

describe('how a clip is laid into the programme', () => {
  it('is as the standard says when nothing was changed', () => {
    for (const from of [MONO, STEREO, DUAL_MONO, layoutFor(6)])
      for (const to of [MONO, STEREO, SURROUND])
        expect(clipMatrix(from, to, plain, 'constantPower')).toEqual(mixMatrix(from, to));
  });

  it('lays mono to both sides at one of two laws, and alone into a centre by either', () => {
    expect(power(column(clipMatrix(MONO, STEREO, plain, 'constantPower')))).toBeCloseTo(1, 12);
    for (const gain of column(clipMatrix(MONO, STEREO, plain, 'full'))) expect(gain).toBeCloseTo(1, 12);
    expect(clipMatrix(MONO, SURROUND, plain, 'full')).toEqual(mixMatrix(MONO, SURROUND));
  });

  it('moves mono between the sides at constant power', () => {
    for (const balance of [-1, -0.4, 0.1, 1]) {
      const [left, right] = column(clipMatrix(MONO, STEREO, { channelDb: [], balance }, 'constantPower'));
      expect(power([left!, right!])).toBeCloseTo(1, 12);
      expect(Math.sign(right! - left!)).toBe(Math.sign(balance));
    }
    const [, right] = column(clipMatrix(MONO, STEREO, { channelDb: [], balance: -1 }, 'constantPower'));
    expect(right).toBeCloseTo(0, 12);
  });

  it('turns everything else down on the side it moves away from, the middle and the lows aside', () => {
    const matrix = clipMatrix(SURROUND, SURROUND, { channelDb: [], balance: 1 }, 'constantPower');
    const gains = Object.fromEntries(SURROUND.labels.map((label, c) => [label, matrix[c]![c]!]));
    expect(gains['L']).toBeCloseTo(0, 12);
    expect(gains['Ls']).toBeCloseTo(0, 12);
    expect(gains).toMatchObject({ R: 1, Rs: 1, C: 1, LFE: 1 });
  });

  it('gives each channel its own gain', () => {
    const matrix = clipMatrix(STEREO, STEREO, { channelDb: [-6, 20], balance: 0 }, 'constantPower');
    expect(matrix[0]![0]).toBeCloseTo(10 ** (-6 / 20), 12);
    expect(matrix[1]![1]).toBeCloseTo(10, 12);
    expect(matrix[0]![1]).toBe(0);
  });

  it('over time is at every frame what a balance that stays would be there, in any pieces', async () => {
    const clip = testClip({ id: 'a', sourceId: 's1', length: 96_000 });
    const balanceCurve = [
      { at: 10_000, balance: -1 },
      { at: 50_000, balance: 0.5, shape: 'ease' as const },
      { at: 60_000, balance: 0.1 },
    ];
    const project = testProject([{ ...clip, balanceCurve }]);
    const [whole, part] = await Promise.all([
      renderRange(project, openTestSource, 0, 96_000),
      renderRange(project, openTestSource, 30_000, 25_000),
    ]);
    part.forEach((samples, c) => expect(samples).toEqual(whole[c]!.slice(30_000, 55_000)));
    for (const at of [0, 10_000, 20_000, 30_000, 50_000, 53_000, 55_000, 90_000]) {
      const balance = balanceAt(balanceCurve, at);
      const still = await renderRange(testProject([{ ...clip, balance }]), openTestSource, at, 1);
      still.forEach((samples, c) => expect(whole[c]![at]).toBeCloseTo(samples[0]!, 6));
    }
    expect(balanceAt(balanceCurve, 30_000)).toBeCloseTo(-0.25, 12);
    expect(balanceAt(balanceCurve, 55_000)).toBeCloseTo(0.3, 12);
    expect(clipKey(project, project.clips[0]!)).not.toBe(clipKey(testProject([clip]), clip));
  });

  it('is what is rendered, keyed and measured anew', async () => {
    const clip = testClip({ id: 'a', sourceId: 's1', length: 96_000 });
    const before = testProject([clip]);
    const after = { ...before, clips: [{ ...clip, channelDb: [0, -12], balance: -0.5 }] };
    const [left, right] = await renderRange(before, openTestSource, 40_000, 50);
    const [newLeft, newRight] = await renderRange(after, openTestSource, 40_000, 50);
    expect(newLeft).toEqual(left);
    const factor = 10 ** (-12 / 20) * Math.cos(Math.PI / 4);
    newRight!.forEach((sample, i) => expect(sample).toBeCloseTo(right![i]! * factor, 6));
    expect(clipKey(after, after.clips[0]!)).not.toBe(clipKey(before, clip));
    const full = { ...before, monoLaw: 'full' as const };
    expect(clipKey(full, clip)).not.toBe(clipKey(before, clip));

    const measurement = new ProgrammeMeasurement();
    const measure = async (project: typeof before): Promise<number> => {
      measurement.update(project);
      const dirty = measurement.left;
      await measurement.measure(openTestSource, () => true);
      return dirty;
    };
    expect(await measure(before)).toBe(100);
    expect(await measure(before)).toBe(0);
    expect(await measure(after)).toBe(100);
    expect(await measure({ ...after, monoLaw: 'full' })).toBe(100);
  });
});
