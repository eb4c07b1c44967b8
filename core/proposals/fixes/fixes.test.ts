import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainFindings, judgedOf } from '@/core/check/findings/findAll';
import type { Finding } from '@/core/check/findings/finding';
import { EBU_R128 } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { verdictOf } from '@/core/check/verdict';
import { programmeLayout } from '@/core/audio/layout';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { setFades } from '@/core/programme/edits/fades';
import { programmeFrames, type Clip, type Project } from '@/core/programme/model';
import { renderRange } from '@/core/signal/mix';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { memoryReader, tones } from '@/core/testing/signals';
import { workshopFor } from '@/core/testing/workshops';
import { meet, reachOfFix, withFix, type Fix, type FixChange } from './fix';
import { together } from './fixProposal';
import { fixFor, type Mend } from './fixFor';
import { breaksIn, mendAll } from './mendAll';
import { resultOf, worstWithin } from './workshop';

/** All of it rendered in one go and measured from its start. */
async function fresh(project: Project): Promise<LoudnessFigures> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project)));
  return figuresOf(meter.finish());
}

const workshop = (project: Project, target: Target) => workshopFor(project, target, openTestSource);

/** A fix does what it says: measured from the start, the programme is as was told. */
async function expectKept(project: Project, { change, integratedLufs, truePeakDbtp }: Fix): Promise<void> {
  const after = await fresh(withFix(project, change));
  expect(Math.abs(after.integratedLufs! - integratedLufs!)).toBeLessThan(0.01);
  expect(Math.abs(after.truePeakDbtp! - truePeakDbtp!)).toBeLessThan(0.05);
}

const fixed = (mend: Mend): Fix => {
  if ('fix' in mend) return mend.fix;
  throw new Error(mend.remedy);
};

const faded = (clips: readonly Clip[], change: Partial<Project> = {}): Project => {
  const project = { ...testProject(clips), ...change };
  const ids = new Set(clips.map(({ id }) => id));
  const inward = setFades(project, ids, 'in', { length: 2_000, shape: 'smooth' });
  return setFades(inward, ids, 'out', { length: 2_000, shape: 'smooth' });
};

/** Two clips over each other and one by itself. */
const LAID = faded([
  testClip({ id: 'talk', sourceId: 's1' }),
  testClip({ id: 'music', sourceId: 's3', trackId: 't1', start: 50_000 }),
  testClip({ id: 'later', sourceId: 's1', start: 260_000, length: 60_000 }),
]);

describe('the fix of a place over a limit', () => {
  it('changes one clip where it is over, and comes to what it says', async () => {
    const { figures } = (await workshop(LAID, EBU_R128)).material;
    const target = { ...EBU_R128, maxTruePeakDbtp: figures.truePeakDbtp! - 1.5 };
    const at = await workshop(LAID, target);
    const places = breaksIn(at).filter(({ kind }) => kind === 'truePeak');
    expect(places.length).toBeGreaterThan(0);
    for (const place of places.slice(0, 3)) {
      const fix = fixed(await fixFor(place, at));
      await expectKept(LAID, fix);
      expect(fix.after!).toBeLessThanOrEqual(target.maxTruePeakDbtp);
      expect(fix.after!).toBeGreaterThan(target.maxTruePeakDbtp - 0.1);
      const again = breaksIn(await workshop(withFix(LAID, fix.change), target));
      expect(again.some(({ id }) => id === place.id)).toBe(false);
      expect(fix.sentence).toMatch(/−\d+\.\d dB on .*: peak −\d+\.\d dBTP, programme .*LU\./);
    }
  });

  it('keeps to its prediction whatever lies over each other', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.double({ min: 0.5, max: 5, noNaN: true }), async (clips, by) => {
        const project = testProject(clips);
        const { figures } = (await workshop(project, EBU_R128)).material;
        fc.pre(figures.maxMomentaryLufs !== null && figures.integratedLufs !== null);
        const target = {
          ...EBU_R128,
          maxTruePeakDbtp: figures.truePeakDbtp! - by,
          maxMomentaryLufs: figures.maxMomentaryLufs! - by / 2,
        };
        const at = await workshop(project, target);
        const [peak] = breaksIn(at).filter(({ kind }) => kind === 'truePeak');
        const [loud] = breaksIn(at).filter(({ kind }) => kind === 'momentary');
        for (const place of [peak!, loud!]) {
          const mend = await fixFor(place, at);
          if ('remedy' in mend) continue;
          await expectKept(project, mend.fix);
          expect(mend.fix.after!).toBeLessThanOrEqual(place.limit! + 1e-5);
        }
      }),
      { numRuns: 4 },
    );
  });
});

describe('the fix of a place where several clips sound', () => {
  it('is found wherever a gain of the loudest clip would do, with no more change than that makes', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.double({ min: 0.5, max: 9, noNaN: true }), async (clips, by) => {
        const project = testProject(clips);
        const { figures } = (await workshop(project, EBU_R128)).material;
        fc.pre(figures.truePeakDbtp !== null && figures.integratedLufs !== null);
        const target = { ...EBU_R128, maxTruePeakDbtp: figures.truePeakDbtp! - by };
        const at = await workshop(project, target);
        const [place] = breaksIn(at).filter(({ kind }) => kind === 'truePeak');
        const mend = await fixFor(place!, at);
        const [loudest] = [...(await at.clipsOver(place!))].sort((a, b) => b.peak - a.peak);
        const range = {
          from: Math.max(0, Math.round((place!.from - 0.005) * project.sampleRate)),
          to: Math.round((place!.to + 0.005) * project.sampleRate),
        };
        const steps = Array.from({ length: 23 }, (_, k) => k + 1);
        for (const db of steps) {
          const change: FixChange = { kind: 'parts', clipIds: [loudest!.clip.id], range, db: -db };
          const state = await at.tryOut(withFix(project, change));
          if ((worstWithin(state, 'truePeak', place!) ?? -Infinity) > place!.limit!) continue;
          const changeLu = Math.abs(resultOf(state, at).changeLu);
          expect(Math.abs(fixed(mend).changeLu!)).toBeLessThanOrEqual(Math.max(0.005, changeLu) + 1e-9);
          break;
        }
      }),
      { numRuns: 6 },
    );
  });
});

describe('the fix of a programme off its target', () => {
  it('is one change of every track, exact where nothing on the path bends it', async () => {
    const at = await workshop(LAID, EBU_R128);
    const [off] = breaksIn(at).filter(({ kind }) => kind === 'integrated');
    const fix = fixed(await fixFor(off!, at));
    expect(fix.change.kind).toBe('shift');
    expect(fix.integratedLufs).toBeCloseTo(-23, 3);
    await expectKept(LAID, fix);
  });
});

describe('dialogue and jumps', () => {
  it('what sounds beside speech goes down as far as it has to, and no further', async () => {
    const project = faded([
      testClip({ id: 'talk', sourceId: 's1' }),
      testClip({ id: 'music', sourceId: 's3', trackId: 't1' }),
    ]);
    const at = await workshop(project, EBU_R128);
    const found = plainFindings(at.material, at.thresholds).filter(({ kind }) => kind === 'dialogue');
    expect(found.length).toBeGreaterThan(0);
    const fix = fixed(await fixFor(found[0]!, at));
    expect(fix.change).toMatchObject({ kind: 'parts', clipIds: ['music'] });
    await expectKept(project, fix);
    const after = await workshop(withFix(project, fix.change), EBU_R128);
    const left = plainFindings(after.material, after.thresholds).filter(({ kind }) => kind === 'dialogue');
    expect(left).toEqual([]);
    expect(fix.after!).toBeLessThan(at.thresholds.dialogueLu + 0.1);
  });

  it('a jump from one clip to the next is brought under the limit by one of the two', async () => {
    const project = faded([
      testClip({
        id: 'soft',
        sourceId: 's1',
        gain: { db: -18, lastChangeDb: 0, reason: { kind: 'byHand' } },
      }),
      testClip({ id: 'loud', sourceId: 's1', start: 192_000 }),
    ]);
    const at = await workshop(project, EBU_R128);
    const jumps = (findings: readonly Finding[]) => findings.filter(({ kind }) => kind === 'jump');
    const [jump] = jumps(plainFindings(at.material, at.thresholds));
    expect([jump!.from, Math.round(jump!.value!)]).toEqual([4, 18]);
    const fix = fixed(await fixFor(jump!, at));
    expect(fix.change.kind).toBe('clips');
    await expectKept(project, fix);
    const after = await workshop(withFix(project, fix.change), EBU_R128);
    expect(jumps(plainFindings(after.material, after.thresholds))).toEqual([]);
  });

  it('a click at a join gets the fade that mends it', async () => {
    const project = testProject([
      testClip({ id: 'a', sourceId: 's1', length: 96_000 }),
      testClip({ id: 'b', sourceId: 's1', start: 96_000, sourceStart: 100_500, length: 60_000 }),
    ]);
    // Noise turns so sharply everywhere that no cut is heard; a tone does not.
    const tone = memoryReader(tones([{ seconds: 6, dbfs: -12 }], 48_000, 2, 300), 48_000);
    const at = await workshopFor(project, EBU_R128, () => Promise.resolve(tone));
    const found = plainFindings(at.material, at.thresholds).filter(({ kind }) => kind === 'click');
    const mended = await Promise.all(found.map((one) => fixFor(one, at)));
    const fixes = mended.flatMap((mend) => ('fix' in mend ? [mend.fix] : []));
    expect(fixes.length).toBeGreaterThan(0);
    const mendedProject = fixes.reduce((state, { change }) => withFix(state, change), project);
    const after = await workshopFor(mendedProject, EBU_R128, () => Promise.resolve(tone));
    expect(plainFindings(after.material, after.thresholds).filter(({ kind }) => kind === 'click')).toEqual(
      [],
    );
  });
});

describe('all that breaks a limit, mended together', () => {
  it('meets the target, with nothing changed that need not be', async () => {
    const target = { ...EBU_R128, integratedLufs: -12, maxTruePeakDbtp: -4.2 };
    const mended = (await mendAll(
      LAID,
      new Set(),
      (project) => workshop(project, target),
      () => true,
    ))!;
    expect(mended.left).toEqual([]);
    const { material } = await workshop(mended.project, target);
    expect(verdictOf(judgedOf(material), target).meets).toBe(true);
    const [shift, ...places] = mended.fixes;
    expect(shift!.change.kind).toBe('shift');
    expect(places.every(({ change }) => change.kind !== 'shift')).toBe(true);
    expect(places.length).toBeGreaterThan(0);
    expect(mended.project.clips.map(({ gain }) => gain)).toEqual(LAID.clips.map(({ gain }) => gain));
  });

  it('leaves alone what was accepted, and what is good', async () => {
    const good = (await mendAll(
      LAID,
      new Set(['integrated whole integrated']),
      (project) => workshop(project, { ...EBU_R128, maxTruePeakDbtp: 3 }),
      () => true,
    ))!;
    expect([good.fixes, good.left, good.project]).toEqual([[], [], LAID]);
  });

  it('fixes in one place hinder each other, in two they do not', () => {
    const part = (from: number, to: number): FixChange => ({
      ...{ kind: 'parts', clipIds: ['talk'] },
      ...{ range: { from, to }, db: -1 },
    });
    const fix = (change: FixChange): Fix => ({
      ...{ findingId: 'one', change, what: '', before: 0, after: 0, integratedLufs: 0, truePeakDbtp: 0 },
      ...{ changeLu: 0, mends: true, sentence: '' },
    });
    const applied = (...changes: readonly FixChange[]): number =>
      together(LAID, changes.map(fix)).applied.length;
    expect(applied(part(0, 10), part(5, 20))).toBe(1);
    expect(applied(part(0, 10), part(10, 20))).toBe(2);
    expect(applied({ kind: 'shift', db: 1 }, part(10, 20))).toBe(1);
    expect(applied({ kind: 'clips', clipIds: ['later'], db: 1 }, part(0, 100))).toBe(2);
    const range = fc
      .tuple(fc.nat(60), fc.integer({ min: 1, max: 9 }))
      .map(([from, length]) => part(from, from + length));
    fc.assert(
      fc.property(fc.array(range, { maxLength: 40 }), (changes) => {
        const fixes = changes.map(fix);
        const taken: Fix[] = [];
        for (const one of fixes) {
          const reach = reachOfFix(LAID, one.change);
          if (!taken.some((other) => meet(reach, reachOfFix(LAID, other.change)))) taken.push(one);
        }
        expect(together(LAID, fixes).applied).toEqual(taken);
      }),
    );
  });
});
