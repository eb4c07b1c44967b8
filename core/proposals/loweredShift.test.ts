import { describe, expect, it } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import { overChannels } from '@/core/loudness/sound';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { figuresOf } from '@/core/loudness/figures';
import type { ProgrammeLevels } from '@/core/measuring/movingFigures';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { curveDbAt } from '@/core/programme/curve';
import type { Project, Source } from '@/core/programme/model';
import { testClip, testProject } from '@/core/testing/projects';
import { memoryReader, noise } from '@/core/testing/signals';
import { loweredShift, placesOver } from './loweredShift';

const RATE = 48_000;
const SECONDS = 24;
/** Even noise with a bang each at the very start, at 7.31 and at 15 s, of different sizes. */
const BANGS = [
  [0, 4],
  [7.31, 9],
  [15, 6],
] as const;
const sound = noise(SECONDS * RATE, 0.05, 3);
for (const [second, times] of BANGS)
  for (let i = 0; i < 900; i++) sound[Math.round(second * RATE) + i]! *= times;
const reader = memoryReader([sound], RATE);
const open = () => Promise.resolve(reader);

function project(): Project {
  const base = testProject([testClip({ id: 'c', sourceId: 'bangs', length: SECONDS * RATE })]);
  const source: Source = {
    ...base.sources[0]!,
    ...{ id: 'bangs', audioKey: 'bangs', sampleRate: RATE, layout: layoutFor(1), frames: SECONDS * RATE },
  };
  return { ...base, sources: [source], target: { ...base.target, integratedLufs: -16, maxTruePeakDbtp: -3 } };
}

async function measured(of: Project) {
  const measurement = new ProgrammeMeasurement();
  measurement.update(of);
  await measurement.measure(open, () => true);
  const history = measurement.history!;
  const levels: ProgrammeLevels = {
    energy: weightedEnergy(history),
    sampleRate: RATE,
    truePeaks: overChannels(history.truePeak),
  };
  return { levels, figures: figuresOf(history) };
}

describe('the programme to its target with what passes the ceiling lowered', () => {
  it('measures what was promised, and stands as it was everywhere else', async () => {
    const before = project();
    const { levels } = await measured(before);
    const proposal = loweredShift(levels, before)!;
    const [row] = proposal.rows;
    expect(row!.sentence).toMatch(
      /^\+\d+\.\d\d dB on every track: −16\.0 LUFS\. On the programme’s gain curve 3 places go down by up to \d+\.\d dB, so that no peak passes the ceiling: 0:00\.0, 0:07\.3, 0:15\.0\.$/,
    );
    expect(proposal.step(proposal.rows, 0)).toBe('Bring programme to −16.0 LUFS, 3 places lowered');
    const after = proposal.edit(before, proposal.rows);
    const { figures } = await measured(after);
    expect(figures.integratedLufs).toBeCloseTo(-16, 1);
    expect(Math.abs(figures.integratedLufs! - row!.after!)).toBeLessThan(0.02);
    expect(figures.truePeakDbtp).toBeLessThanOrEqual(-3);
    expect(figures.truePeakDbtp).toBeGreaterThan(-3.2);
    for (const second of [1, 5, 7.2, 7.5, 14.9, 15.3, 23])
      expect(curveDbAt(after.curve, second * RATE)).toBe(0);
    // Each by no more than it has to.
    const depth = (second: number): number => -curveDbAt(after.curve, (second + 0.05) * RATE);
    expect(depth(7.35)).toBeGreaterThan(depth(15));
    expect(depth(15)).toBeGreaterThan(depth(0));
    // Done again there is nothing left to do.
    const again = loweredShift((await measured(after)).levels, after)!;
    expect(Math.abs(again.rows[0]!.gainAfterDb)).toBeLessThan(0.05);
    expect(again.rows[0]!.sentence).toContain('No peak comes to the ceiling');
  });

  it('keeps the ceiling, and says so, where the target cannot be reached this way', async () => {
    const plain = project();
    const before = { ...plain, target: { ...plain.target, integratedLufs: -2 } };
    const proposal = loweredShift((await measured(before)).levels, before)!;
    expect(proposal.rows[0]!.sentence).toMatch(
      /That is −\d+\.\d LU from the target: more than 10 % of it would have to go down/,
    );
    const { figures } = await measured(proposal.edit(before, proposal.rows));
    expect(figures.truePeakDbtp).toBeLessThanOrEqual(-3);
    expect(Math.abs(figures.integratedLufs! - proposal.rows[0]!.after!)).toBeLessThan(0.05);
  });

  it('finds places, and takes those that are close for one', () => {
    const peaks = new Float32Array(40);
    for (const [at, level] of [
      [3, 0.9],
      [4, 1],
      [6, 0.95],
      [20, 0.8],
    ] as const)
      peaks[at] = level;
    expect(placesOver(peaks, 0, -1)).toEqual([{ from: 0.3, to: 0.7, db: expect.closeTo(1.05, 6) as number }]);
    expect(placesOver(peaks, 3, -1)).toHaveLength(2);
    expect(placesOver(peaks, -10, -1)).toEqual([]);
  });

  it('has nothing to do with silence', async () => {
    const { levels } = await measured({ ...project(), clips: [] });
    expect(loweredShift(levels, project())).toBeNull();
  });
});
