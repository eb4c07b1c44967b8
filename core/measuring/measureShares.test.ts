import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { programmeLayout } from '@/core/audio/layout';
import { gatedWeights } from '@/core/loudness/gatedWeights';
import { lufsToMeanSquare } from '@/core/loudness/decibels';
import { integrated } from '@/core/loudness/gating';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { subBlockCount, weightedEnergy, type SubBlockHistory } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import { programmeFrames, type Project } from '@/core/programme/model';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { measureShares, sharesOf } from './measureShares';
import { renderRange } from '@/core/signal/mix';

async function measured(project: Project): Promise<SubBlockHistory> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project)));
  return meter.finish();
}

async function shares(project: Project, cut: number): Promise<Map<string, number>> {
  const history = await measured(project);
  const weights = gatedWeights(weightedEnergy(history), project.sampleRate);
  const count = subBlockCount(history.frames, project.sampleRate);
  const at = Math.min(count, cut * 50);
  const ranges = [
    { from: 0, to: at },
    { from: at, to: count },
  ].filter(({ from, to }) => from < to);
  const sums = await Promise.all(
    ranges.map((range) => measureShares(project, weights, range, openTestSource, () => true)),
  );
  return sharesOf(sums.map((sum) => sum!));
}

describe('shares of a programme’s loudness', () => {
  it('weigh sub-blocks so that they give the gated mean square', async () => {
    const history = await measured(
      testProject([testClip({ id: 'a' }), testClip({ id: 'b', start: 90_000 })]),
    );
    const energy = weightedEnergy(history);
    const weights = gatedWeights(energy, history.sampleRate);
    const { integratedLufs, relativeGateLufs } = integrated(gatingBlocks(energy, history.sampleRate));
    const gate = lufsToMeanSquare(relativeGateLufs!);
    const passing = gatingBlocks(energy, history.sampleRate).filter((z) => z > gate).length;
    const sum = energy.reduce((total, e, k) => total + e * weights[k]!, 0);
    expect(sum / passing).toBeCloseTo(lufsToMeanSquare(integratedLufs!), 12);
  });

  it('add up to one, and follow from what a small change of each clip’s gain does to the energy', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.nat(6), async (clips, cut) => {
        const project = testProject(clips);
        const found = await shares(project, cut);
        const history = await measured(project);
        if (figuresOf(history).integratedLufs === null) return expect(found.size).toBe(0);
        expect([...found.values()].reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
        // d(gated energy)/dg at g = 1, the gated blocks held, is 2⟨P,M⟩: worked out by central difference.
        const weights = gatedWeights(weightedEnergy(history), project.sampleRate);
        const gated = async (state: Project): Promise<number> =>
          weightedEnergy(await measured(state)).reduce((sum, e, k) => sum + e * (weights[k] ?? 0), 0);
        const whole = await gated(project);
        const [first] = project.clips;
        const scaled = (factor: number): Project => ({
          ...project,
          clips: project.clips.map((clip) =>
            clip.id === first!.id
              ? { ...clip, gain: { ...clip.gain, db: clip.gain.db + 20 * Math.log10(factor) } }
              : clip,
          ),
        });
        const slope = ((await gated(scaled(1.01))) - (await gated(scaled(0.99)))) / 0.02;
        expect(found.get(first!.id) ?? 0).toBeCloseTo(slope / 2 / whole, 5);
      }),
      { numRuns: 4 },
    );
  });

  it('of equal clips apart from each other are equal, and what is gated out has none', async () => {
    const clip = (id: string, start: number, db = 0) =>
      testClip({
        id,
        start: start * 48_000,
        length: 3 * 48_000,
        gain: { db, lastChangeDb: db, reason: { kind: 'byHand' } },
      });
    const found = await shares(testProject([clip('a', 4), clip('b', 12), clip('quiet', 20, -60)]), 2);
    expect(found.get('a')).toBeCloseTo(0.5, 3);
    expect(found.get('b')).toBeCloseTo(0.5, 3);
    expect(found.get('quiet')).toBeCloseTo(0, 9);
  });

  it('can be stopped', async () => {
    const project = testProject([testClip({ id: 'a' })]);
    const range = { from: 0, to: 200 };
    expect(
      await measureShares(project, new Float64Array(200), range, openTestSource, () => false),
    ).toBeNull();
  });
});
