import { describe, expect, it } from 'vitest';
import { dbToAmplitude, lufsToMeanSquare } from '@/core/loudness/decibels';
import { placesOverLimits } from './overLimits';
import { EBU_R128 } from '../shipped';

const silent = {
  truePeaks: new Float32Array(100),
  blocks: new Float64Array(97),
  shortTerm: new Float64Array(71),
};

describe('places that break a limit', () => {
  it('are none in silence, nor at the limits themselves', () => {
    expect(placesOverLimits(silent, EBU_R128)).toEqual([]);
    const atLimit = { ...silent, truePeaks: new Float32Array(100).fill(dbToAmplitude(-1)) };
    expect(placesOverLimits(atLimit, { ...EBU_R128, maxTruePeakDbtp: -0.999 })).toEqual([]);
  });

  it('are slices with how far they go; what lies close together is one place', () => {
    const truePeaks = new Float32Array(100);
    truePeaks.set([dbToAmplitude(0), 0, 0, dbToAmplitude(2)], 10);
    truePeaks[60] = dbToAmplitude(-0.5);
    const found = placesOverLimits({ ...silent, truePeaks }, EBU_R128);
    expect(found.map(({ kind, from }) => [kind, from])).toEqual([
      ['truePeak', 1],
      ['truePeak', 6],
    ]);
    expect(found[0]!.to).toBeCloseTo(1.4, 9);
    expect(found[0]!.worst).toBeCloseTo(2, 4);
    expect(found[1]!.worst).toBeCloseTo(-0.5, 4);
  });

  it('are found in loudness where the target limits it, in order of time', () => {
    const target = { ...EBU_R128, maxShortTermLufs: -18, maxMomentaryLufs: -15 };
    const blocks = new Float64Array(97);
    blocks[50] = lufsToMeanSquare(-14);
    const shortTerm = new Float64Array(71);
    shortTerm[20] = lufsToMeanSquare(-17);
    const found = placesOverLimits({ ...silent, blocks, shortTerm }, target);
    expect(found.map(({ kind, from, to }) => [kind, from, to])).toEqual([
      ['shortTerm', 2, 5],
      ['momentary', 5, 5.4],
    ]);
    expect(found[1]!.worst).toBeCloseTo(-14, 9);
    expect(
      placesOverLimits(
        { ...silent, blocks, shortTerm },
        { ...target, maxShortTermLufs: null, maxMomentaryLufs: null },
      ),
    ).toEqual([]);
  });
});
