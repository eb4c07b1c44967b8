import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { clipMeasurementOf, measureClip } from '@/core/measuring/measureClip';
import { curveDbAt } from '@/core/programme/curve';
import type { Project, Source } from '@/core/programme/model';
import { clipSound } from '@/core/signal/clipSound';
import { testClip, testProject } from '@/core/testing/projects';
import { memoryReader, noise } from '@/core/testing/signals';
import { evenFigures, evenOut, PLAIN_EVEN, type EvenRequest } from './evenOut';
import { evenProposal } from './evenProposal';
import { isCurveStale } from './curveFor';

const RATE = 48_000;
const SECONDS = 60;
/** Noise that goes up and down by ±9 dB within half a minute, with five seconds of a hiss 40 dB down in its middle. */
const sound = noise(SECONDS * RATE, 0.1, 9).map((x, i) => {
  const t = i / RATE;
  if (t >= 30 && t < 35) return x / 100;
  return x * 10 ** ((9 * Math.sin((2 * Math.PI * t) / 30)) / 20);
});
const reader = memoryReader([sound], RATE);

function project(): Project {
  const base = testProject([testClip({ id: 'c', sourceId: 'talk', length: SECONDS * RATE })]);
  const talk: Source = {
    ...base.sources[0]!,
    ...{ id: 'talk', audioKey: 'talk', sampleRate: RATE, layout: layoutFor(1), frames: SECONDS * RATE },
  };
  return { ...base, sources: [talk] };
}

const measured = async (of: Project) =>
  (await measureClip(reader, clipSound(of, of.clips[0]!)!, () => true))!;

async function evened(change: Partial<EvenRequest>) {
  const before = project();
  const bare = await measured(before);
  const proposal = evenProposal(before, before.clips, { ...PLAIN_EVEN, ...change }, () => bare);
  const done = proposal.edit(before, proposal.rows);
  return { before, bare, done, row: proposal.rows[0]!, after: await measured(done) };
}

describe('figures with a gain over time', () => {
  it('are those of the meter where the gain does not move', () => {
    const meter = new LoudnessMeter(layoutFor(1), RATE);
    meter.push([sound]);
    const history = meter.finish();
    const own = figuresOf(history);
    const { hops } = clipMeasurementOf(history);
    const figures = evenFigures(hops, new Float64Array(hops.length).fill(-3));
    // The meter looks every 20 ms for its maxima, these figures every 100 ms.
    expect(figures.maxShortTermLufs!).toBeCloseTo(own.maxShortTermLufs! - 3, 1);
    expect(figures.integratedLufs!).toBeCloseTo(own.integratedLufs! - 3, 6);
    expect(figures.rangeLu!).toBeCloseTo(own.loudnessRangeLu!, 6);
  });
});

describe('evening out', () => {
  it('brings a clip nearer to its own loudness; what is promised is measured', async () => {
    const { row, after, bare } = await evened({});
    expect(after.figures.loudnessRangeLu!).toBeLessThan(bare.figures.loudnessRangeLu! - 6);
    expect(after.figures.loudnessRangeLu!).toBeCloseTo(row.figuresAfter!.rangeLu!, 1);
    expect(after.figures.maxShortTermLufs!).toBeCloseTo(row.figuresAfter!.maxShortTermLufs!, 1);
    expect(after.figures.integratedLufs!).toBeCloseTo(row.after!, 1);
  });

  it('never lifts what is in a pause past the floor, moves as far and as fast as it may', async () => {
    const { done, bare } = await evened({ floorLufs: -58, dbPerSecond: 2, rangeDb: 6, goalLufs: -14 });
    const { curve } = done.clips[0]!;
    const hiss = bare.figures.integratedLufs! - 40;
    expect(hiss).toBeLessThan(-50);
    for (let t = 0; t < SECONDS - 0.1; t += 0.1) {
      const [now, next] = [curveDbAt(curve, t * RATE), curveDbAt(curve, (t + 0.1) * RATE)];
      expect(Math.abs(now)).toBeLessThanOrEqual(6.2);
      // Thinned within 0.2 dB: over a tenth of a second no more than that beyond the rate.
      expect(Math.abs(next - now)).toBeLessThan(0.2 + 0.4);
      if (t > 31 && t < 34) {
        const k = Math.round(t * 10);
        expect(10 * Math.log10(bare.hops[k]!) - 0.691 + now).toBeLessThan(-58 + 0.5);
      }
    }
  });

  it('keeps the loudest three seconds under a limit by no more than that takes', async () => {
    const { bare, after } = await evened({ way: 'maxShortTerm', maxShortTermLufs: -20, rangeDb: 20 });
    expect(bare.figures.maxShortTermLufs!).toBeGreaterThan(-18);
    expect(after.figures.maxShortTermLufs!).toBeLessThan(-19.97);
    expect(after.figures.maxShortTermLufs!).toBeGreaterThan(-20.25);
    const kept = await evened({ way: 'maxShortTerm', maxShortTermLufs: -5 });
    expect(kept.done).toBe(kept.before);
  });

  it('brings the range to just what is asked, and says where that cannot be', async () => {
    const { after, row } = await evened({ way: 'maxRange', maxRangeLu: 10, rangeDb: 12 });
    expect(after.figures.loudnessRangeLu!).toBeCloseTo(10, 0.7);
    expect(row.sentence).toMatch(/LRA \d+\.\d LU to 10\.0 LU/);
    const short = await evened({ way: 'maxRange', maxRangeLu: 1, rangeDb: 2 });
    expect(short.row.sentence).toMatch(/1\.0 LU is not reached within 2 dB/);
  });

  it('done again, changes nothing; once the clip is another, it is stale', async () => {
    const { done, bare } = await evened({});
    const again = evenProposal(done, done.clips, PLAIN_EVEN, () => bare);
    expect(again.edit(done, again.rows)).toBe(done);
    expect(again.rows[0]!.sentence).toMatch(/already/);
    expect(isCurveStale(done, done.clips[0]!)).toBe(false);
    expect(isCurveStale(done, { ...done.clips[0]!, length: 20 * RATE })).toBe(true);
  });

  it('stays within its range and its rate, whatever the sound does', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -60, max: 0, noNaN: true }), { minLength: 40, maxLength: 300 }),
        fc.double({ min: 0.5, max: 20, noNaN: true }),
        fc.double({ min: 0.2, max: 10, noNaN: true }),
        (levels, rangeDb, dbPerSecond) => {
          const hops = Float64Array.from(levels, (db) => 10 ** (db / 10));
          const done = evenOut(hops, { ...PLAIN_EVEN, rangeDb, dbPerSecond })!;
          for (let k = 0.5; k < levels.length - 1; k++) {
            const [now, next] = [curveDbAt(done.points, k), curveDbAt(done.points, k + 1)];
            expect(Math.abs(now)).toBeLessThanOrEqual(rangeDb + 0.2 + 1e-6);
            expect(Math.abs(next - now)).toBeLessThanOrEqual(dbPerSecond / 10 + 0.4 + 1e-6);
          }
        },
      ),
    );
  });
});
