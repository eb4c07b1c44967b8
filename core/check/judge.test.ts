import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { openPcm } from '@/core/formats/openPcm';
import { bytesSource } from '@/core/audio/byteSource';
import { STEREO } from '@/core/audio/layout';
import { renderFile } from '@/core/deliver/renderFile';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { readClip } from '@/core/measuring/clipReading';
import { measureClip } from '@/core/measuring/measureClip';
import { clipSound } from '@/core/signal/clipSound';
import { renderRange } from '@/core/signal/mix';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { changeGain } from '@/core/programme/edits/gain';
import { clipLevel } from './clipLevel';
import { isOver, meanSquareLimit, peakLimit, standingOf } from './judge';
import { EBU_R128 } from './shipped';
import { verdictOf } from './verdict';

describe('the judge', () => {
  it('says under, within and over, and gives rounding its room', () => {
    expect([-0.6, -0.5, 0, 0.5, 0.6].map((deviation) => standingOf(deviation, 0.5))).toEqual([
      'under',
      'within',
      'within',
      'within',
      'over',
    ]);
    expect(standingOf(0.500_001, 0.5)).toBe('within');
    expect(standingOf(-0.5001, 0.5)).toBe('under');
    expect([-1.1, -1, -0.999_999, -0.9999].map((peak) => isOver(peak, -1))).toEqual([
      false,
      false,
      false,
      true,
    ]);
    expect(isOver(null, -1)).toBe(false);
  });

  it('is one for a figure, a peak block and a window', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -30, max: 3, noNaN: true }),
        fc.double({ min: -1e-4, max: 1e-4, noNaN: true }),
        (limit, by) => {
          fc.pre(Math.abs(Math.abs(by) - 1e-5) > 1e-9);
          const value = limit + by;
          expect(dbToAmplitude(value) > peakLimit(limit)).toBe(isOver(value, limit));
          expect(10 ** ((value + 0.691) / 10) > meanSquareLimit(limit)).toBe(isOver(value, limit));
        },
      ),
    );
  });
});

/** A 24-bit file of a programme, measured. */
async function written(project: ReturnType<typeof testProject>, frames: number) {
  const parts: Uint8Array[] = [];
  await renderFile(
    { sampleRate: 48_000, layout: STEREO, format: 's24', frames },
    (start, count) => renderRange(project, openTestSource, start, count),
    (bytes) => void parts.push(bytes.slice()),
    () => true,
  );
  const reader = await openPcm(bytesSource(Uint8Array.from(parts.flatMap((part) => [...part]))));
  return figuresOf((await measureReader(reader, () => true))!.history);
}

describe('a clip brought just to the ceiling', () => {
  it('is not over it in any list, nor in the 24-bit file', async () => {
    for (const [sourceId, length] of [
      ['s0', 90_000],
      ['s1', 40_001],
      ['s3', 9_000],
    ] as const) {
      const clip = testClip({ id: 'a', sourceId, length });
      const project = testProject([clip]);
      const source = project.sources.find(({ id }) => id === sourceId)!;
      const measurement = (await measureClip(
        await openTestSource(source),
        clipSound(project, clip)!,
        () => true,
      ))!;
      const gainDb = EBU_R128.maxTruePeakDbtp - readClip(measurement, 0).truePeakDbtp!;
      expect(clipLevel(measurement, gainDb, EBU_R128).overCeiling).toBe(false);
      expect(clipLevel(measurement, gainDb + 0.001, EBU_R128).overCeiling).toBe(true);
      const there = changeGain(project, new Set(['a']), { kind: 'set', db: gainDb });
      const figures = await written(there, length);
      expect(figures.truePeakDbtp!).toBeCloseTo(-1, 4);
      const peak = verdictOf(figures, EBU_R128).figures.find(({ figure }) => figure === 'truePeak');
      expect(peak!.state).toBe('within');
    }
  });
});
