import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { programmeLayout } from '@/core/audio/layout';
import { amplitudeToDb, dbToPower } from '@/core/loudness/decibels';
import { figuresOf, largest, type LoudnessFigures } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { MovingFigures } from './movingFigures';
import { solveMoving } from './movingSolve';
import { overChannels } from '@/core/loudness/sound';
import { weighted, weightedEnergy, type WeightedHistory } from '@/core/loudness/subBlocks';
import { everyHop, shortTermWindows } from '@/core/loudness/windows';
import { curveSections } from '@/core/programme/curve';
import { changeGain } from '@/core/programme/edits/gain';
import { changeSections, moveSection, sectionRoom } from '@/core/programme/edits/sections';
import { programmeFrames, type Project } from '@/core/programme/model';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { allMoving, joinMoving, measureMoving } from './measureMoving';
import { lawOf, movingRanges, movingStates, type Moving } from './moving';
import { covers, energyWeights, statesAround } from './movingLaw';
import { audibleClips } from '@/core/signal/audible';
import { renderRange } from '@/core/signal/mix';

const always = (): boolean => true;

async function measured(project: Project): Promise<WeightedHistory> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project)));
  return weighted(meter.finish());
}

const byGain = (ids: ReadonlySet<string>): Moving => ({ kind: 'gain', ids });

async function figuresWhile(project: Project, moving: Moving): Promise<MovingFigures> {
  const history = await measured(project);
  const parts = await Promise.all(
    movingRanges(project, moving).map((range) =>
      measureMoving(project, moving, range, openTestSource, always),
    ),
  );
  const sums = joinMoving(
    parts.map((part) => part!),
    history,
  );
  const levels = {
    energy: weightedEnergy(history),
    sampleRate: history.sampleRate,
    truePeaks: overChannels(history.truePeak),
  };
  return new MovingFigures(levels, sums!);
}

const LOUDNESS = ['integratedLufs', 'maxMomentaryLufs', 'maxShortTermLufs', 'loudnessRangeLu'] as const;

function expectSame(found: Pick<LoudnessFigures, (typeof LOUDNESS)[number]>, fresh: LoudnessFigures): void {
  for (const key of LOUDNESS) {
    if (fresh[key] === null) expect(found[key]).toBeNull();
    else expect(Math.abs(found[key]! - fresh[key])).toBeLessThan(1e-6);
  }
}

/** Which of the clips move: at least one. */
const chosenFrom = (count: number, mask: number): Set<string> => {
  const ids = Array.from({ length: count }, (_, i) => `c${i}`).filter((_, i) => (mask >> i) & 1);
  return new Set(ids.length > 0 ? ids : ['c0']);
};

const moving = (project: Project, ids: ReadonlySet<string>) => figuresWhile(project, byGain(ids));

describe('a programme while all of it moves', () => {
  it('needs no rendering: what is measured of it moved up and down equals a fresh measurement', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.double({ min: -20, max: 12, noNaN: true }), async (clips, db) => {
        const project = testProject(clips);
        const history = await measured(project);
        const sums = allMoving(history);
        fc.pre(sums !== null);
        const levels = {
          energy: weightedEnergy(history),
          sampleRate: history.sampleRate,
          truePeaks: overChannels(history.truePeak),
        };
        const found = new MovingFigures(levels, sums!).at(db);
        const all = new Set(clips.map(({ id }) => id));
        const fresh = figuresOf(await measured(changeGain(project, all, { kind: 'change', db })));
        expectSame(found, fresh);
        expect(Math.abs(found.truePeakBoundDbtp! - fresh.truePeakDbtp!)).toBeLessThan(1e-4);
      }),
      { numRuns: 6 },
    );
  });
});

describe('a programme while some of its clips’ gain moves', () => {
  it('measures at any gain what a full render and measurement gives; no peak passes the bound', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.nat(63),
        fc.array(fc.double({ min: -40, max: 15, noNaN: true }), { minLength: 1, maxLength: 3 }),
        async (clips, mask, gains) => {
          const project = testProject(clips);
          const ids = chosenFrom(clips.length, mask);
          const figures = await moving(project, ids);
          for (const db of gains) {
            const found = figures.at(db);
            const history = await measured(changeGain(project, ids, { kind: 'change', db }));
            const fresh = figuresOf(history);
            expectSame(found, fresh);
            const windows = everyHop(shortTermWindows(weightedEnergy(history), history.sampleRate));
            found.shortTerm.values.forEach((z, i) =>
              expect(Math.abs(z - windows[found.shortTerm.first + i]!)).toBeLessThan(1e-7 * (z + 1e-7)),
            );
            expect(found.truePeakBoundDbtp!).toBeGreaterThanOrEqual(fresh.truePeakDbtp! - 1e-4);
          }
        },
      ),
      { numRuns: 6 },
    );
  });

  it('at no change shows what stands, and where one clip sounds alone its peak is exact', async () => {
    const project = testProject([
      testClip({ id: 'c0' }),
      testClip({ id: 'c1', start: 5 * 48_000, sourceId: 's3' }),
    ]);
    const history = await measured(project);
    const figures = await moving(project, new Set(['c1']));
    const now = figures.at(0);
    expectSame(now, figuresOf(history));
    const [first] = [figuresOf(await measured(testProject([testClip({ id: 'c0' })])))];
    const louder = figures.at(20).truePeakBoundDbtp!;
    const alone = amplitudeToDb(Math.max(...history.truePeak.map((peaks) => largest(peaks.subarray(50)))))!;
    expect(louder).toBeCloseTo(Math.max(first!.truePeakDbtp!, alone + 20), 4);
  });

  it('at −∞ is the rest alone', async () => {
    const clips = [
      testClip({ id: 'c0' }),
      testClip({ id: 'c1', start: 20_000, length: 48_000, sourceId: 's1' }),
    ];
    const figures = await moving(testProject(clips), new Set(['c1']));
    expectSame(figures.at(-Infinity), figuresOf(await measured(testProject([clips[0]!]))));
  });

  it('is measured only where the moving clips are', async () => {
    const clip = (id: string, seconds: number, sourceId = 's1') =>
      testClip({ id, sourceId, start: seconds * 48_000, length: 48_000 });
    const project = testProject([clip('a', 0), clip('rest', 5, 's0'), clip('b', 20), clip('c', 20.5)]);
    const ids = new Set(['a', 'b', 'c']);
    expect(movingRanges(project, byGain(ids))).toEqual([
      { from: 0, to: 65 },
      { from: 1_000, to: 1_075 },
    ]);
    const found = (await moving(project, ids)).at(-6);
    expectSame(found, figuresOf(await measured(changeGain(project, ids, { kind: 'change', db: -6 }))));
  });

  it('can be stopped', async () => {
    const project = testProject([testClip({ id: 'c0' })]);
    const ids = new Set(['c0']);
    const [range] = movingRanges(project, byGain(ids));
    expect(await measureMoving(project, byGain(ids), range!, openTestSource, () => false)).toBeNull();
  });

  it('touches nothing when none of the clips sounds', async () => {
    const project = testProject([testClip({ id: 'c0' })]);
    expect(movingRanges(project, byGain(new Set(['other'])))).toEqual([]);
    expect(joinMoving([], await measured(project))).toBeNull();
  });
});

describe('a programme while a part of a clip moves', () => {
  /** A part with ramps as long as asked for, already raised or lowered, of the first clip that has room for it. */
  const withPart = (project: Project, at: number, ramp: number, db: number): Project =>
    changeSections(
      project,
      { from: at, to: at + 60_000 },
      ({ id }) => (id === 'c0' ? { kind: 'set', db } : null),
      ramp,
    );

  it('measures within 1e-5 LU what a full render gives, ramps and all; no peak passes the bound', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.nat(100_000),
        fc.integer({ min: 1, max: 30_000 }),
        fc.double({ min: -20, max: 12, noNaN: true }),
        fc.double({ min: -14, max: 14, noNaN: true }),
        async (clips, at, ramp, db, changeDb) => {
          const project = withPart(testProject(clips), at, ramp, db);
          const clip = project.clips.find(({ id }) => id === 'c0')!;
          const [section] = curveSections(clip);
          fc.pre(section !== undefined && audibleClips(project).includes(clip));
          const edit = (by: number): Project => moveSection(project, 'c0', section!, by);
          const moving = movingStates(project, edit, 0, sectionRoom(clip, section!));
          fc.pre(moving !== null && covers(lawOf(moving), changeDb));
          fc.pre(movingRanges(project, moving!).length > 0);
          const figures = await figuresWhile(project, moving!);
          const found = figures.at(changeDb);
          const fresh = figuresOf(await measured(edit(changeDb)));
          for (const key of LOUDNESS) {
            if (fresh[key] === null) expect(found[key]).toBeNull();
            else expect(Math.abs(found[key]! - fresh[key])).toBeLessThan(1e-5);
          }
          expect(found.truePeakBoundDbtp!).toBeGreaterThanOrEqual(fresh.truePeakDbtp! - 1e-3);
        },
      ),
      { numRuns: 6 },
    );
  });

  it('renders only the part, and is exact where it is as it stands', async () => {
    const project = withPart(testProject([testClip({ id: 'c0', start: 48_000 })]), 96_000, 960, -6);
    const [section] = curveSections(project.clips[0]!);
    const moving = movingStates(project, (by) => moveSection(project, 'c0', section!, by), 0, {
      minDb: -40,
      maxDb: 40,
    });
    // From 2 s to 3.25 s, and until the filters have settled.
    expect(movingRanges(project, moving!)).toEqual([{ from: 100, to: 175 }]);
    const figures = await figuresWhile(project, moving!);
    expectSame(figures.at(0), figuresOf(await measured(project)));
    expect(figures.covers(15)).toBe(true);
    expect(figures.covers(15.1)).toBe(false);
    // Its loudest place moves with the drag, and no more.
    const bound = figures.at(10).truePeakBoundDbtp!;
    const { truePeakDbtp } = figuresOf(await measured(moveSection(project, 'c0', section!, 10)));
    expect(Math.abs(bound - truePeakDbtp!)).toBeLessThan(0.01);
  });

  it('goes no further than the first point that stops', () => {
    const project = withPart(testProject([testClip({ id: 'c0' })]), 48_000, 960, 40);
    const [section] = curveSections(project.clips[0]!);
    const room = sectionRoom(project.clips[0]!, section!);
    expect(room).toEqual({ minDb: -112, maxDb: 8 });
    const most = moveSection(project, 'c0', section!, 100);
    expect(Math.max(...most.clips[0]!.curve.map(({ db }) => db))).toBe(48);
    const nothing = movingStates(project, () => project, 0, room);
    expect(nothing).toBeNull();
    expect(movingStates(project, () => project, 0, { minDb: 0, maxDb: 0 })).toBeNull();
  });
});

describe('the law of a drag', () => {
  it('gives any product of gains up to the square within a millionth of what it is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 2, noNaN: true }),
        fc.double({ min: -30, max: 10, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (power, around, part) => {
          const law = statesAround(around, { minDb: -60, maxDb: 20 })!;
          const changeDb = law.fromDb + part * (law.toDb - law.fromDb);
          const g = (db: number): number => 10 ** ((power * db) / 20);
          const weights = energyWeights(law, changeDb);
          const found = law.changesDb.reduce((sum, db, j) => sum + weights[j]! * g(db), 0);
          expect(Math.abs(found / g(changeDb) - 1)).toBeLessThan(2e-6);
        },
      ),
    );
  });

  it('is exact where there is one gain', () => {
    const law = statesAround(0, { minDb: -60, maxDb: 20 })!;
    for (const power of [0, 1, 2])
      for (const changeDb of [-15, -3.3, 0, 7.7, 15]) {
        const weights = energyWeights(law, changeDb);
        const g = (db: number): number => 10 ** ((power * db) / 20);
        const found = law.changesDb.reduce((sum, db, j) => sum + weights[j]! * g(db), 0);
        expect(Math.abs(found / g(changeDb) - 1)).toBeLessThan(1e-12);
      }
  });
});

describe('the gain that brings the programme to a loudness', () => {
  it('is found when there is one: evaluated, it gives the goal, and no nearer one does', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.nat(63),
        fc.double({ min: -45, max: -10, noNaN: true }),
        async (clips, mask, goal) => {
          const figures = await moving(testProject(clips), chosenFrom(clips.length, mask));
          const { answer, nearest } = solveMoving(figures, goal, -60, 30);
          if (answer !== null) {
            expect(figures.at(answer).integratedLufs!).toBeCloseTo(goal, 6);
            for (let db = -Math.abs(answer) + 0.25; db < Math.abs(answer); db += 0.25)
              expect(Math.abs(figures.at(db).integratedLufs! - goal)).toBeGreaterThan(1e-6);
          } else {
            // Looked at finely, nothing comes near.
            for (let db = -60; db <= 30; db += 0.05)
              expect(Math.abs((figures.at(db).integratedLufs ?? -Infinity) - goal)).toBeGreaterThan(1e-4);
            if (nearest)
              expect(figures.at(nearest.changeDb).integratedLufs!).toBeCloseTo(nearest.integratedLufs, 9);
          }
        },
      ),
      { numRuns: 10 },
    );
  });

  it('does not exist when the rest alone is louder', async () => {
    const project = testProject([
      testClip({ id: 'c0' }),
      testClip({ id: 'c1', start: 100, length: 48_000, sourceId: 's1' }),
    ]);
    const figures = await moving(project, new Set(['c1']));
    const rest = figures.at(-Infinity).integratedLufs!;
    const { answer, nearest } = solveMoving(figures, rest - 6, -72, 48);
    expect(answer).toBeNull();
    expect(nearest!.integratedLufs).toBeGreaterThan(rest - 6);
  });

  it('of everything moves as far as the goal is away', async () => {
    const project = testProject([testClip({ id: 'c0' })]);
    const figures = await moving(project, new Set(['c0']));
    const now = figures.at(0).integratedLufs!;
    const { answer } = solveMoving(figures, now - 4, -72, 48);
    expect(answer).toBeCloseTo(-4, 6);
    expect(dbToPower(answer!)).toBeLessThan(1);
  });
});
