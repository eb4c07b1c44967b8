import { describe, expect, it } from 'vitest';
import { NO_METADATA } from '@/core/audio/metadata';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { fileSays, statedFigures } from './fileSays';

const NONE = { ...{ integratedLufs: null, loudnessRangeLu: null, maxTruePeakDbtp: null } };
const loudness = { ...NONE, maxMomentaryLufs: null, maxShortTermLufs: null };
const figures = {
  ...{ integratedLufs: -23.04, loudnessRangeLu: 6, truePeakDbtp: -3.1, maxMomentaryLufs: null },
  ...{ maxShortTermLufs: -18, relativeGateLufs: -33, samplePeakDbfs: -3.5, channelPeaks: [] },
} satisfies LoudnessFigures;

describe('what a file says of itself', () => {
  it('is told with labels, long texts cut off; nothing where it says nothing', () => {
    expect(fileSays(null)).toBeNull();
    expect(fileSays(NO_METADATA)).toBeNull();
    const ixml = '<BWFXML><PROJECT>Frost &amp; line</PROJECT><SCENE>12</SCENE><NOTE><B>x</B></NOTE></BWFXML>';
    const says = fileSays({
      ...NO_METADATA,
      description: ` ridge  wind ${'x'.repeat(999)}`,
      markers: [{ frame: 1, label: 'a' }],
      ixml,
    })!;
    expect(says.texts.slice(1)).toEqual([
      ['Project', 'Frost & line'],
      ['Scene', '12'],
    ]);
    expect(says.texts[0]![1]).toHaveLength(300);
    expect([says.markers, says.loudness]).toEqual([1, null]);
  });

  it('stands beside what is measured, and is marked where the two disagree', () => {
    const says = fileSays({
      ...NO_METADATA,
      loudness: { ...loudness, integratedLufs: -23, maxTruePeakDbtp: -1, maxMomentaryLufs: -15 },
    })!;
    expect(statedFigures(says, figures)).toEqual([
      { name: 'Integrated', unit: 'LUFS', stated: -23, measured: -23.04, disagrees: false },
      { name: 'True peak', unit: 'dBTP', stated: -1, measured: -3.1, disagrees: true },
      { name: 'Max momentary', unit: 'LUFS', stated: -15, measured: null, disagrees: true },
    ]);
    expect(fileSays({ ...NO_METADATA, loudness })).toBeNull();
  });
});
