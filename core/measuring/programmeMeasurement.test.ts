import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { DUAL_MONO, programmeLayout } from '@/core/audio/layout';
import { changeGain } from '@/core/programme/edits/gain';
import { changeSections } from '@/core/programme/edits/sections';
import { moveClips, removeClips } from '@/core/programme/edits/clips';
import { setTrackGain } from '@/core/programme/edits/levels';
import { changeTrack, declareLayout } from '@/core/programme/edits/project';
import { programmeFrames, type Project } from '@/core/programme/model';
import {
  clipArbitrary,
  clipsArbitrary,
  openTestSource,
  testClip,
  testProject,
} from '@/core/testing/projects';
import { signalDifference } from '@/core/testing/plainSignal';
import { measureReader } from '@/core/loudness/measureReader';
import { clipSound, wholeSource } from '@/core/signal/clipSound';
import { clipMeasurementOf, measureClip } from './measureClip';
import { measureRange } from './measureRange';
import { renderRange } from '@/core/signal/mix';
import { ProgrammeMeasurement } from './programmeMeasurement';

const always = (): boolean => true;

/** The whole programme rendered in one go and measured from its start. */
async function fresh(project: Project): Promise<LoudnessFigures> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project)));
  return figuresOf(meter.finish());
}

function expectSame(a: LoudnessFigures, b: LoudnessFigures): void {
  for (const key of [
    'integratedLufs',
    'maxMomentaryLufs',
    'maxShortTermLufs',
    'loudnessRangeLu',
    'truePeakDbtp',
    'samplePeakDbfs',
  ] as const) {
    if (b[key] === null) expect(a[key]).toBeNull();
    else expect(Math.abs(a[key]! - b[key])).toBeLessThan(1e-6);
  }
}

/** Any one edit, given numbers to choose with. */
const editArbitrary = fc.record({
  kind: fc.nat(6),
  which: fc.nat(5),
  amount: fc.integer({ min: -90_000, max: 90_000 }),
  clip: clipArbitrary,
});

function edited(
  project: Project,
  {
    kind,
    which,
    amount,
    clip,
  }: { kind: number; which: number; amount: number; clip: ReturnType<typeof testClip> },
  turn: number,
): Project {
  const chosen = project.clips[which % Math.max(1, project.clips.length)];
  const ids = new Set(chosen ? [chosen.id] : []);
  if (kind === 0) return changeGain(project, ids, { kind: 'change', db: amount / 10_000 });
  if (kind === 1) return moveClips(project, ids, amount);
  if (kind === 2) return removeClips(project, ids);
  if (kind === 3) return { ...project, clips: [...project.clips, { ...clip, id: `new${turn}` }] };
  if (kind === 4) return changeTrack(project, 't1', { muted: !project.tracks[1]!.muted });
  if (kind === 5) return setTrackGain(project, 't0', amount / 10_000);
  const range = { from: Math.abs(amount), to: 2 * Math.abs(amount) + 4_000 };
  return changeSections(project, range, () =>
    which === 0 ? { kind: 'silence' } : { kind: 'change', db: -which },
  );
}

describe('the programme’s measurement', () => {
  it('after any edits equals a full fresh render and measurement', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.array(editArbitrary, { minLength: 1, maxLength: 4 }),
        async (clips, edits) => {
          let project = testProject(clips);
          const measurement = new ProgrammeMeasurement();
          measurement.update(project);
          await measurement.measure(openTestSource, always);
          for (const [turn, edit] of edits.entries()) {
            project = edited(project, edit, turn);
            measurement.update(project);
            expect(await measurement.measure(openTestSource, always)).toBe(true);
          }
          expectSame(figuresOf(measurement.history!), await fresh(project));
          expect(await signalDifference(project, measurement.signal!)).toBeLessThan(1e-5);
        },
      ),
      { numRuns: 14 },
    );
  });

  it('can be stopped and superseded at any piece without losing what is dirty', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, editArbitrary, fc.nat(6), async (clips, edit, stopAfter) => {
        let project = testProject(clips);
        const measurement = new ProgrammeMeasurement();
        measurement.update(project);
        let pieces = 0;
        await measurement.measure(openTestSource, () => ++pieces <= stopAfter % 3);
        project = edited(project, edit, 9);
        measurement.update(project);
        await measurement.measure(openTestSource, always);
        expectSame(figuresOf(measurement.history!), await fresh(project));
      }),
      { numRuns: 11 },
    );
  });

  it('renders only what an edit touches', async () => {
    let project = testProject([
      testClip({ id: 'a' }),
      testClip({ id: 'b', start: 40 * 48_000, sourceId: 's1' }),
    ]);
    const measurement = new ProgrammeMeasurement();
    measurement.update(project);
    await measurement.measure(openTestSource, always);
    project = changeGain(project, new Set(['a']), { kind: 'set', db: -6 });
    measurement.update(project);
    expect(measurement.dirty).toEqual([{ from: 0, to: 4 * 50 + 15 }]);
    measurement.update(changeGain(project, new Set(['b']), { kind: 'set', db: 0 }));
    expect(measurement.dirty).toHaveLength(1);
  });

  it('renders only the part of a clip whose curve was changed', async () => {
    const project = testProject([testClip({ id: 'a', start: 48_000 })]);
    const measurement = new ProgrammeMeasurement();
    measurement.update(project);
    await measurement.measure(openTestSource, always);
    const part = { from: 96_000, to: 110_400 };
    measurement.update(changeSections(project, part, () => ({ kind: 'change', db: -6 })));
    // From 2 s to 2.3 s, and until the filters have settled.
    expect(measurement.dirty).toEqual([{ from: 100, to: 130 }]);
  });

  it('is dirty where a source’s channels are declared otherwise', async () => {
    const project = testProject([testClip({ id: 'a', start: 10 * 48_000, length: 48_000 })]);
    const measurement = new ProgrammeMeasurement();
    measurement.update(project);
    await measurement.measure(openTestSource, always);
    measurement.update(declareLayout(project, 's0', DUAL_MONO));
    expect(measurement.dirty[0]).toMatchObject({ from: 500 });
  });

  it('tells how far it is', async () => {
    const measurement = new ProgrammeMeasurement();
    measurement.update(testProject([testClip({ id: 'a' }), testClip({ id: 'b', start: 36 * 48_000 })]));
    const seen: number[] = [];
    await measurement.measure(openTestSource, (done) => seen.push(done) > 0);
    expect(seen).toEqual([0.25, 0.5, 0.75]);
  });

  it('with ranges on their way while edits go on equals a full fresh render and measurement', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.array(fc.tuple(editArbitrary, fc.nat(3), fc.nat(3)), { minLength: 1, maxLength: 4 }),
        async (clips, turns) => {
          let project = testProject(clips);
          const measurement = new ProgrammeMeasurement();
          measurement.update(project);
          const out: { taken: NonNullable<ReturnType<typeof measurement.take>>; project: Project }[] = [];
          for (const [turn, [edit, count, returned]] of turns.entries()) {
            for (let i = 0; i < count; i++) {
              const taken = measurement.take(50, { from: 105, to: 170 });
              if (taken) out.push({ taken, project });
            }
            project = edited(project, edit, turn);
            measurement.update(project);
            for (const { taken, project: old } of out.splice(0, returned)) {
              if (returned === 2) measurement.giveBack(taken);
              else measurement.put(taken, (await measureRange(old, taken.range, openTestSource))!);
            }
          }
          for (const { taken, project: old } of out)
            measurement.put(taken, (await measureRange(old, taken.range, openTestSource))!);
          await measurement.measure(openTestSource, always);
          expect(measurement.left).toBe(0);
          expectSame(figuresOf(measurement.history!), await fresh(project));
        },
      ),
      { numRuns: 15 },
    );
  });

  it('takes up first what the last edit touched, then what is looked at', async () => {
    const clip = (id: string, seconds: number) => testClip({ id, start: seconds * 48_000, length: 48_000 });
    let project = testProject([clip('a', 0), clip('b', 60), clip('c', 120)]);
    const measurement = new ProgrammeMeasurement();
    measurement.update(project);
    project = changeGain(project, new Set(['b']), { kind: 'set', db: -6 });
    measurement.update(project);
    expect(measurement.take(100)!.range.from).toBe(60 * 50);
    expect(measurement.take(10, { from: 125, to: 130 })!.range).toEqual({ from: 125, to: 130 });
    await measurement.measure(openTestSource, always);
    measurement.update(changeGain(project, new Set(['a', 'c']), { kind: 'set', db: -6 }));
    expect(measurement.take(10, { from: 120 * 50, to: 125 * 50 })!.range.from).toBe(0);
  });
});

describe('a clip’s own measurement', () => {
  const plain = clipSound(testProject(), testClip({ id: 'c', length: 96_000 }))!;

  it('of a whole source in a programme of its own rate and layout is that of the source', async () => {
    const reader = await openTestSource(testProject().sources[1]!);
    const measured = await measureReader(reader, always);
    const clip = await measureClip(reader, wholeSource(testProject().sources[1]!), always);
    expect(clip).toEqual(clipMeasurementOf(measured!.history));
  });

  it('can be stopped', async () => {
    const reader = await openTestSource(testProject().sources[1]!);
    expect(await measureClip(reader, plain, () => false)).toBeNull();
  });
});

/** Where two signals differ first; −1 where they do not (comparing as objects takes seconds). */
const firstDifference = (a: Float32Array, b: Float32Array): number =>
  a.length === b.length ? a.findIndex((x, i) => !Object.is(x, b[i])) : 0;

describe('rendering', () => {
  it('makes any range so that it fits its neighbours to the bit', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.integer({ min: 1, max: 50_000 }), async (clips, cut) => {
        const project = testProject(clips);
        const frames = Math.min(programmeFrames(project), 100_000);
        const whole = await renderRange(project, openTestSource, 0, frames);
        const at = cut % frames;
        const second = await renderRange(project, openTestSource, at, frames - at);
        whole.forEach((channel, c) => expect(firstDifference(second[c]!, channel.subarray(at))).toBe(-1));
      }),
      { numRuns: 15 },
    );
  });

  it('is the plain sum of the clips with their gains', async () => {
    const gain = { db: -6, lastChangeDb: -6, reason: { kind: 'byHand' } } as const;
    const a = testClip({ id: 'a', sourceId: 's1', length: 20_000, gain });
    const b = testClip({ id: 'b', sourceId: 's0', start: 5_000, length: 20_000, sourceStart: 77 });
    const [left] = await renderRange(testProject([a, b]), openTestSource, 0, 25_000);
    const stereo = await openTestSource(testProject().sources[1]!);
    const mono = await openTestSource(testProject().sources[0]!);
    const first = (await stereo.read(0, 20_000))[0]!;
    const second = (await mono.read(77, 20_000))[0]!;
    for (let i = 0; i < 25_000; i += 997) {
      const expected =
        (i < 20_000 ? first[i]! * 10 ** (-6 / 20) : 0) + (i >= 5_000 ? second[i - 5_000]! / Math.SQRT2 : 0);
      expect(left![i]).toBeCloseTo(expected, 6);
    }
  });
});
