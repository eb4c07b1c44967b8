import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { programmeLayout } from '@/core/audio/layout';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { changeGain, resetGain } from '@/core/programme/edits/gain';
import { groupClips, changeLevel } from '@/core/programme/edits/groups';
import { moveTrackGain, setSourceTrims } from '@/core/programme/edits/levels';
import { moveClips } from '@/core/programme/edits/clips';
import { changeTrack } from '@/core/programme/edits/project';
import { changeSections } from '@/core/programme/edits/sections';
import { programmeFrames, type Project } from '@/core/programme/model';
import { renderRange } from '@/core/signal/mix';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { signalDifference } from '@/core/testing/plainSignal';
import { rebased } from './adoptGain';
import { gainMoved } from './gainMoved';
import { joinMoving, measureMoving } from './measureMoving';
import { apartAlone, movingRanges } from './moving';
import type { MovingSums } from './movingSums';
import { ProgrammeMeasurement } from './programmeMeasurement';

const always = (): boolean => true;

async function fresh(project: Project): Promise<LoudnessFigures> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project)));
  return figuresOf(meter.finish());
}

async function measured(project: Project): Promise<ProgrammeMeasurement> {
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  await measurement.measure(openTestSource, always);
  return measurement;
}

async function sumsFor(
  measurement: ProgrammeMeasurement,
  project: Project,
  ids: ReadonlySet<string>,
): Promise<{ sums: MovingSums; rendered: number }> {
  const moving = { kind: 'gain', ids } as const;
  const { alone, beside } = apartAlone(project, ids, movingRanges(project, moving));
  const parts = await Promise.all(
    beside.map((range) => measureMoving(project, moving, range, openTestSource, always)),
  );
  const sums = joinMoving(
    parts.map((part) => part!),
    measurement.history!,
    alone,
  )!;
  return { sums, rendered: beside.reduce((sum, { from, to }) => sum + to - from, 0) };
}

const LOUDNESS = ['integratedLufs', 'maxMomentaryLufs', 'maxShortTermLufs', 'loudnessRangeLu'] as const;
const PEAKS = ['truePeakDbtp', 'samplePeakDbfs'] as const;

function expectSame(
  a: LoudnessFigures,
  b: LoudnessFigures,
  keys: readonly (typeof LOUDNESS | typeof PEAKS)[number][],
): void {
  for (const key of keys) {
    if (b[key] === null) expect(a[key]).toBeNull();
    else expect(Math.abs(a[key]! - b[key]), key).toBeLessThan(2e-6);
  }
}

describe('a change of gain taken over from sums', () => {
  it('is exact at once; measured on, only peaks were left to find; the sums serve the next change', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.nat(5),
        fc.array(fc.double({ min: -20, max: 12, noNaN: true }), { minLength: 1, maxLength: 2 }),
        async (clips, which, changes) => {
          const { id } = clips[which % clips.length]!;
          const ids = new Set([id]);
          let project = testProject(clips);
          const measurement = await measured(project);
          let { sums } = await sumsFor(measurement, project, ids);
          for (const db of changes) {
            const next = changeGain(project, ids, { kind: 'change', db });
            const moved = gainMoved(project, next);
            if (!moved) continue;
            expect(moved.ids).toEqual(ids);
            measurement.updateByGain(next, sums, moved.changeDb);
            sums = rebased(sums, moved.changeDb);
            project = next;
            expectSame(figuresOf(measurement.history!), await fresh(project), LOUDNESS);
            await measurement.measure(openTestSource, always);
            expectSame(figuresOf(measurement.history!), await fresh(project), [...LOUDNESS, ...PEAKS]);
            expect(await signalDifference(project, measurement.signal!)).toBeLessThan(1e-4);
          }
        },
      ),
      { numRuns: 10 },
    );
  });

  it('where nothing sounds beside it, renders nothing, neither for the sums nor after', async () => {
    const project = testProject([
      testClip({ id: 'a', sourceId: 's1' }),
      testClip({ id: 'b', sourceId: 's1', start: 300_000 }),
    ]);
    const measurement = await measured(project);
    const { sums, rendered } = await sumsFor(measurement, project, new Set(['b']));
    expect(rendered).toBe(0);
    const next = changeGain(project, new Set(['b']), { kind: 'change', db: -4 });
    measurement.updateByGain(next, sums, -4);
    expect(measurement.left).toBe(0);
    expect(await signalDifference(next, measurement.signal!)).toBeLessThan(1e-5);
    expectSame(figuresOf(measurement.history!), await fresh(next), [...LOUDNESS, ...PEAKS]);
  });
});

describe('what moved from one state to another', () => {
  const project = testProject([
    testClip({ id: 'a' }),
    testClip({ id: 'b', sourceId: 's1', start: 20_000 }),
    testClip({ id: 'c', sourceId: 's1', trackId: 't1', start: 30_000 }),
  ]);
  const moved = (after: Project) => gainMoved(project, after);

  it('is one gain, by whichever of the gains there are', () => {
    const grouped = groupClips(project, new Set(['a', 'b']), 'g', 'Pair');
    expect(moved(changeGain(project, new Set(['a', 'c']), { kind: 'change', db: 2 }))).toEqual({
      ids: new Set(['a', 'c']),
      changeDb: 2,
    });
    expect(gainMoved(grouped, changeLevel(grouped, new Set(['a', 'b']), { kind: 'change', db: -3 }))).toEqual(
      {
        ids: new Set(['a', 'b']),
        changeDb: -3,
      },
    );
    expect(moved(moveTrackGain(project, 't1', 1.5))).toEqual({ ids: new Set(['c']), changeDb: 1.5 });
    expect(moved(setSourceTrims(project, new Map([['s1', 4]]), true))?.ids).toEqual(new Set(['b', 'c']));
  });

  it('is nothing of the kind where more was changed, or other than by one amount', () => {
    const ids = new Set(['a']);
    expect(moved(project)).toBeNull();
    expect(moved(resetGain(project, ids))).toBeNull();
    expect(moved(moveClips(project, ids, 100))).toBeNull();
    expect(moved(changeTrack(project, 't1', { muted: true }))).toBeNull();
    const range = { from: 0, to: 48_000 };
    expect(moved(changeSections(project, range, () => ({ kind: 'change', db: 3 })))).toBeNull();
    const apart = changeGain(changeGain(project, ids, { kind: 'set', db: 1 }), new Set(['b']), {
      kind: 'set',
      db: 2,
    });
    expect(moved(apart)).toBeNull();
    expect(moved({ ...changeGain(project, ids, { kind: 'set', db: 1 }), sampleRate: 44_100 })).toBeNull();
  });
});
