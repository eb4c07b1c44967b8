import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { drifts } from '@/core/check/findings/course';
import { EBU_R128 } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { curveDbAt } from '@/core/programme/curve';
import type { Clip, CurvePoint, Project } from '@/core/programme/model';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { workshopFor } from '@/core/testing/workshops';
import { withFix, type Fix } from './fix';
import { fixFor, type Mend } from './fixFor';
import { breaksIn, mendAll } from './mendAll';
import { rideDbAt, withRide } from './rideCurve';

const at = (project: Project, target: Target = EBU_R128) => workshopFor(project, target, openTestSource);

/** Clips of 4 s one after the other on a track for music, each at a level of its own. */
const laid = (levels: readonly number[]): Project =>
  testProject(
    levels.map((db, i): Clip =>
      testClip({
        ...{ id: `c${i}`, trackId: 't1', start: i * 4 * 48_000 },
        gain: { db, lastChangeDb: 0, reason: { kind: 'byHand' } },
      }),
    ),
  );

const fixed = (mend: Mend): Fix => {
  if ('fix' in mend) return mend.fix;
  throw new Error(mend.remedy);
};

describe('a ride of the programme', () => {
  it('is added to the curve that is there, whatever that is', () => {
    const points = fc.uniqueArray(
      fc.record({ at: fc.nat(1_000_000), db: fc.integer({ min: -12, max: 6 }) }),
      {
        selector: ({ at: place }) => place,
        maxLength: 6,
      },
    );
    fc.assert(
      fc.property(points, points, fc.nat(1_000_000), (own, added, place) => {
        const curve: CurvePoint[] = [...own].sort((a, b) => a.at - b.at);
        const ride = [...added].sort((a, b) => a.at - b.at);
        const sum = curveDbAt(curve, place) + rideDbAt(ride, place);
        expect(curveDbAt(withRide(curve, ride), place)).toBeCloseTo(sum, 6);
      }),
    );
  });

  it('takes away a drift, by no more than it must', async () => {
    const project = laid(Array.from({ length: 65 }, (_, i) => -12 + (12 * i) / 64));
    const workshop = await at(project);
    const [drift] = drifts(workshop.material, workshop.thresholds);
    expect(drift!.value).toBeGreaterThan(9);
    const fix = fixed(await fixFor(drift!, workshop));
    expect(fix.change.kind).toBe('ride');
    const { driftLu } = workshop.thresholds;
    expect(fix.after!).toBeLessThanOrEqual(driftLu);
    expect(fix.after!).toBeGreaterThan(driftLu - 0.5);
    const again = await at(withFix(project, fix.change));
    expect(drifts(again.material, again.thresholds)).toEqual([]);
    expect(again.material.figures.integratedLufs).toBeCloseTo(fix.integratedLufs!, 2);
    expect(again.material.figures.truePeakDbtp).toBeCloseTo(fix.truePeakDbtp!, 1);
  }, 60_000);

  it('brings a loudness range within its limit, from either side; all of it is mended together', async () => {
    // Half a minute loud, half a minute low.
    const project = laid(Array.from({ length: 32 }, (_, i) => (Math.floor(i / 8) % 2 === 0 ? -4 : -15)));
    const { figures } = (await at(project)).material;
    const range = figures.loudnessRangeLu!;
    expect(range).toBeGreaterThan(8);
    for (const limits of [{ maxLoudnessRangeLu: range - 4 }, { minLoudnessRangeLu: range + 2 }]) {
      const target = { ...EBU_R128, integratedLufs: figures.integratedLufs!, ...limits };
      const workshop = await at(project, target);
      const finding = breaksIn(workshop).find(({ kind }) => kind === 'range')!;
      const fix = fixed(await fixFor(finding, workshop));
      const again = await at(withFix(project, fix.change), target);
      expect(breaksIn(again).some(({ kind }) => kind === 'range')).toBe(false);
      expect(again.material.figures.loudnessRangeLu).toBeCloseTo(fix.after!, 2);
      expect(fix.sentence).toMatch(/A gain curve on the programme, .* dB: a loudness range of \d/);
    }
    const target = { ...EBU_R128, maxTruePeakDbtp: 3, maxLoudnessRangeLu: range - 4 };
    const mended = (await mendAll(
      project,
      new Set(),
      (state) => at(state, target),
      () => true,
    ))!;
    expect(mended.left).toEqual([]);
    expect(mended.fixes.map(({ change }) => change.kind)).toContain('ride');
  }, 120_000);

  it('says what would mend it where none does', async () => {
    const project = laid(Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? -4 : -15)));
    const { figures } = (await at(project)).material;
    const target = { ...EBU_R128, integratedLufs: figures.integratedLufs!, maxLoudnessRangeLu: 1 };
    const workshop = await at(project, target);
    const finding = breaksIn(workshop).find(({ kind }) => kind === 'range')!;
    expect(await fixFor(finding, workshop)).toHaveProperty('remedy');
  }, 60_000);
});
