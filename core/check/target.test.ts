import { describe, expect, it } from 'vitest';
import { isTarget, targetFrom, targetSchema, type TargetFields } from './schema';
import { EBU_R128, newerShipped, SHIPPED_TARGETS } from './shipped';
import type { Target } from './target';
import { besideKnown, readTargets, targetFileLines, writeTargets } from './targetFile';
import { TARGET_FIELDS } from './targetFields';
import { verdictOf, type Judged } from './verdict';

const FIGURES: Judged = {
  ...{ integratedLufs: -23, relativeGateLufs: -33, maxMomentaryLufs: -18, maxShortTermLufs: -20 },
  ...{ loudnessRangeLu: 8, truePeakDbtp: -3, samplePeakDbfs: -3.2, channelPeaks: [] },
  spoken: { lufs: -26, sharePercent: 40, overRestLu: 6 },
  silence: { longest: 1.5, head: 0.5, tail: 1 },
  form: {
    ...{ seconds: 60, sampleRate: 48_000, layoutId: 'stereo', layoutName: 'stereo' },
    ...{ bitDepth: 24, container: 'WAV' },
  },
};
const missed = (target: Partial<Target>, figures: Partial<Judged> = {}): string[] => {
  const { figures: list, form } = verdictOf({ ...FIGURES, ...figures }, { ...EBU_R128, ...target });
  return [
    ...list.filter(({ state }) => state === 'over' || state === 'under').map(({ figure }) => figure),
    ...form.filter(({ meets }) => !meets).map(({ figure }) => figure),
  ];
};

describe('targets out of a file', () => {
  it('stand beside those that are known; what is there is left alone', () => {
    const own = { ...EBU_R128, id: 'house', name: 'House' };
    const other = { ...own, integratedLufs: -20 };
    const ids = besideKnown([own, EBU_R128, other], [...SHIPPED_TARGETS, own], () => 'new').map(
      ({ id }) => id,
    );
    expect(ids).toEqual(['new']);
    expect(besideKnown([own], SHIPPED_TARGETS, () => 'new')).toEqual([own]);
  });
});

describe('a target', () => {
  it('goes by speech where it says so, or where there is enough of it', () => {
    expect(missed({ integratedLufs: -26, anchor: 'dialogue' })).toEqual([]);
    expect(missed({ anchor: 'dialogue' })).toEqual(['dialogue']);
    expect(missed({ anchor: 'dialogueFrom', dialogueFromPercent: 50 })).toEqual([]);
    expect(missed({ anchor: 'dialogueFrom', dialogueFromPercent: 30 })).toEqual(['dialogue']);
    const unknown = verdictOf({ ...FIGURES, spoken: null }, { ...EBU_R128, anchor: 'dialogue' });
    expect(unknown.meets).toBeNull();
  });

  it('limits what it limits, each to its side, and nothing else', () => {
    const cases: [Partial<Target>, string][] = [
      [{ minLoudnessRangeLu: 8.1 }, 'leastLoudnessRange'],
      [{ maxLoudnessRangeLu: 7.9 }, 'loudnessRange'],
      [{ maxSamplePeakDbfs: -3.3 }, 'samplePeak'],
      [{ minDialogueOverRestLu: 6.1 }, 'dialogueOverRest'],
      [{ maxSilenceSeconds: 1.4 }, 'silence'],
      [{ minHeadSeconds: 0.6 }, 'leastHead'],
      [{ maxHeadSeconds: 0.4 }, 'head'],
      [{ minTailSeconds: 1.1 }, 'leastTail'],
      [{ maxTailSeconds: 0.9 }, 'tail'],
      [{ minSeconds: 61 }, 'leastLength'],
      [{ maxSeconds: 59 }, 'length'],
      [{ sampleRates: [44_100] }, 'sampleRate'],
      [{ bitDepths: [16] }, 'bitDepth'],
      [{ layouts: ['5.1', 'mono'] }, 'layout'],
      [{ containers: ['FLAC'] }, 'container'],
    ];
    for (const [limit, figure] of cases) expect(missed(limit)).toEqual([figure]);
    expect(
      missed({
        ...{
          minLoudnessRangeLu: 8,
          maxLoudnessRangeLu: 8,
          maxSamplePeakDbfs: -3.2,
          minDialogueOverRestLu: 6,
        },
        ...{
          maxSilenceSeconds: 1.5,
          minHeadSeconds: 0.5,
          maxHeadSeconds: 0.5,
          maxTailSeconds: 1,
          minSeconds: 60,
        },
        ...{ sampleRates: [48_000, 96_000], bitDepths: [24], layouts: ['Stereo'], containers: ['wav'] },
      }),
    ).toEqual([]);
  });

  it('that a person fills in becomes one that can be kept, with what it does not limit left out', () => {
    const typed = {
      ...Object.fromEntries(TARGET_FIELDS.map(({ key }) => [key, ''])),
      ...{
        name: 'House',
        anchor: 'dialogue',
        integratedLufs: '−24,5',
        toleranceLu: '1',
        maxTruePeakDbtp: '-2',
      },
      ...{ maxSilenceSeconds: '3 s', sampleRates: '48000; 96000', layouts: 'stereo' },
    };
    const fields = targetSchema.validateSync(typed) as TargetFields;
    const target = targetFrom(fields, { id: 'own-1', source: 'your own' });
    expect(target).toEqual({
      ...{ id: 'own-1', source: 'your own', name: 'House', anchor: 'dialogue', integratedLufs: -24.5 },
      ...{ toleranceLu: 1, maxTruePeakDbtp: -2, maxShortTermLufs: null, maxMomentaryLufs: null },
      ...{
        maxLoudnessRangeLu: null,
        maxSilenceSeconds: 3,
        sampleRates: [48_000, 96_000],
        layouts: ['stereo'],
      },
    });
    expect(isTarget(target)).toBe(true);
    for (const [key, text] of [
      ['maxSilenceSeconds', 'long'],
      ['sampleRates', '48k'],
      ['minHeadSeconds', '-1'],
    ] as const)
      expect(() => targetSchema.validateSync({ ...typed, [key]: text })).toThrow(/number/);
  });

  it('goes into a file and comes back; what is none is told', () => {
    expect(readTargets(writeTargets(SHIPPED_TARGETS))).toEqual(SHIPPED_TARGETS);
    const error = (text: string): string => (readTargets(text) as { error: string }).error;
    expect(error('no')).toMatch(/not JSON/);
    expect(error(writeTargets([]))).toMatch(/no target/);
    expect(error(writeTargets([EBU_R128, EBU_R128]))).toMatch(/twice/);
    expect(error(writeTargets([{ ...EBU_R128, maxTruePeakDbtp: 30 }]))).toMatch(/maxTruePeakDbtp/);
    expect(TARGET_FIELDS.every(({ key }) => targetFileLines().some((line) => line.includes(key)))).toBe(true);
  });

  it('kept with a project is its own: a shipped one that says something else is offered, not taken', () => {
    expect(newerShipped(EBU_R128)).toBeNull();
    expect(newerShipped({ ...EBU_R128, toleranceLu: 1 })).toBe(EBU_R128);
    expect(newerShipped({ ...EBU_R128, id: 'own-1', toleranceLu: 1 })).toBeNull();
  });
});
