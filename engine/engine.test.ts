import { beforeAll, describe, expect, it } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import { NO_METADATA } from '@/core/audio/metadata';
import { encodePcm } from '@/core/audio/pcm';
import { loudnessBytes } from '@/core/formats/wav/bext';
import { wavFrame } from '@/core/formats/wav/write';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import { EBU_R128 } from '@/core/check/shipped';
import { integratedAt } from '@/core/loudness/gainSolve';
import { testClip, testProject } from '@/core/testing/projects';
import { noise, tones } from '@/core/testing/signals';
import { clipPart } from '@/core/measuring/parts';
import { MovingFigures } from '@/core/measuring/movingFigures';
import { changeLevel } from '@/core/programme/edits/groups';
import type { Project } from '@/core/programme/model';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { patched } from './blobWriter';
import { DeliverEngine } from './deliverEngine';
import { measurePool } from './measurePool';
import { applyGainToFile, limitFile, ProgrammeEngine } from './programmeEngine';
import { realWorkers } from './testing/threads';

const threads = await realWorkers();
const NOTHING_STATED = {
  ...{ integratedLufs: null, loudnessRangeLu: null, maxTruePeakDbtp: null },
  ...{ maxMomentaryLufs: null, maxShortTermLufs: null },
};
const RATE = 48_000;
const nothing = (): void => undefined;
const never = new AbortController().signal;

function wav(channels: Float32Array[]): Blob {
  const frames = channels[0]!.length;
  const layout = layoutFor(channels.length);
  const { header, trailer } = wavFrame({ sampleRate: RATE, layout, format: 'f32', frames });
  const { bytes } = encodePcm(channels, frames, 'f32');
  return new Blob([header, bytes, trailer] as BlobPart[], { type: 'audio/wav' });
}

const SOUND = wav(tones([{ dbfs: -23, seconds: 4 }], RATE, 2));
const OTHER = wav([noise(4 * RATE, 0.1, 3)]);

function ok<T>(outcome: { ok: T } | { failure: unknown } | { cancelled: true }): T {
  if ('ok' in outcome) return outcome.ok;
  throw new Error(JSON.stringify(outcome));
}

describe('the workers that measure', () => {
  it('measure a file as the standard says, and tell how far they are', async () => {
    const told: number[] = [];
    const { measurement, pcm } = ok(await measurePool().measureFile(SOUND, never, (done) => told.push(done)));
    expect(measurement.figures.integratedLufs).toBeCloseTo(-23, 1);
    expect(pcm).toBe(SOUND);
    expect(told.every((done) => done >= 0 && done <= 1)).toBe(true);
  });

  it('tell what is no sound as a failure with a way on', async () => {
    const outcome = await measurePool().measureFile(new Blob(['nothing of the kind']), never, nothing);
    expect(outcome).toMatchObject({ failure: { code: expect.any(String) as string } });
    const { failure } = outcome as { failure: { message: string; hint: string } };
    expect([failure.message, failure.hint].join(' ')).toMatch(/\. .*\.$/);
  });

  it('are cancelled by their signal, waiting or running, and work on for others', async () => {
    const controller = new AbortController();
    const long = wav(tones([{ dbfs: -20, seconds: 60 }], RATE, 2));
    const works = Array.from({ length: 6 }, () =>
      measurePool().measureFile(long, controller.signal, nothing),
    );
    controller.abort();
    expect(await Promise.all(works)).toEqual(works.map(() => ({ cancelled: true })));
    expect(ok(await measurePool().measureFile(SOUND, never, nothing)).measurement.format.frames).toBe(
      4 * RATE,
    );
  });

  it('put mono sounds together as one of several channels', async () => {
    const { blob } = ok(await measurePool().combine([OTHER, OTHER], 'stereo', never, nothing));
    const [one, both] = await Promise.all(
      [OTHER, blob].map(
        async (sound) => ok(await measurePool().measureFile(sound, never, nothing)).measurement,
      ),
    );
    expect(both!.format.layout.id).toBe('stereo');
    // Twice the power of one channel.
    expect(both!.figures.integratedLufs! - one!.figures.integratedLufs!).toBeCloseTo(3.01, 1);
  });
});

describe('the workers of a programme', () => {
  const project: Project = testProject([
    testClip({ id: 'a', sourceId: 's1', length: 4 * RATE }),
    testClip({ id: 'b', sourceId: 's0', start: 2 * RATE, length: 4 * RATE, trackId: 't1' }),
  ]);
  let engine: ProgrammeEngine;
  beforeAll(() => {
    engine = new ProgrammeEngine();
    engine.putAudio('audio-1', SOUND);
    engine.putAudio('audio-0', OTHER);
    return () => engine.close();
  });

  it('measure it; the newest state supersedes those before it', async () => {
    const louder = changeLevel(project, new Set(['a', 'b']), { kind: 'change', db: 6 });
    const [first, second] = await Promise.all([
      engine.measure(project, null, nothing),
      engine.measure(louder, null, nothing),
    ]);
    expect(first).toEqual({ cancelled: true });
    const { figures, blocks, lengthSeconds } = ok(second);
    expect(lengthSeconds).toBe(6);
    expect(figures.integratedLufs).toBeCloseTo(integratedAt([{ blocks, gainDb: 0 }], 0)!, 6);
    expect(ok(await engine.measure(project, null, nothing)).figures.integratedLufs).toBeCloseTo(
      figures.integratedLufs! - 6,
      4,
    );
  });

  it('follow a gain by sums, and answer which gain reaches a goal', async () => {
    const levels = ok(await engine.measure(project, null, nothing));
    const ids = new Set(['b']);
    const sums = ok(await engine.moving(project, { kind: 'gain', ids }))!;
    const predicted = new MovingFigures(levels, sums).at(-9).integratedLufs!;
    const solved = ok(await engine.solve(project, ids, predicted, { minDb: -30, maxDb: 10 }));
    expect(solved.answerDb).toBeCloseTo(-9, 2);
    const lower = changeLevel(project, ids, { kind: 'change', db: -9 });
    expect(ok(await engine.measure(lower, null, nothing)).figures.integratedLufs).toBeCloseTo(predicted, 4);
    ok(await engine.measure(project, null, nothing));
  });

  it('sums taken while another state is being measured are of the state they were asked for', async () => {
    ok(await engine.measure(project, null, nothing));
    const ids = new Set(['b']);
    const raised = changeLevel(project, ids, { kind: 'change', db: 6 });
    const [levels, sums] = await Promise.all([
      engine.measure(raised, null, nothing),
      engine.moving(project, { kind: 'gain', ids }),
    ]);
    ok(levels);
    const rest = ok(await engine.measure(project, null, nothing));
    const predicted = new MovingFigures(rest, ok(sums)!).at(-9).integratedLufs!;
    const lower = changeLevel(project, ids, { kind: 'change', db: -9 });
    expect(ok(await engine.measure(lower, null, nothing)).figures.integratedLufs).toBeCloseTo(predicted, 4);
    ok(await engine.measure(project, null, nothing));
  });

  it('say what each clip brings to it; the parts are the whole', async () => {
    const { parts } = ok(await engine.contributions(project, null, nothing));
    const shares = project.clips.map(({ id }) => parts.get(clipPart(id))!.share);
    expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
  });

  it('measure another state beside the present one', async () => {
    const now = ok(await engine.measure(project, null, nothing)).figures.integratedLufs!;
    const other = changeLevel(project, new Set(['a', 'b']), { kind: 'change', db: -3 });
    expect(ok(await engine.summaryOf(other)).figures.integratedLufs).toBeCloseTo(now - 3, 4);
  });

  it('give what is heard, all of it or a track alone', async () => {
    const all = await engine.renderHeard(project, 2 * RATE, 100, [], 2);
    const solo = await engine.renderHeard(project, 2 * RATE, 100, ['t0'], 2);
    expect(all.map(({ length }) => length)).toEqual([100, 100]);
    expect(all[0]).not.toEqual(solo[0]);
  });

  it('give up a rendering at a word, and say why one fails', async () => {
    const deliver = new DeliverEngine();
    await deliver.take(
      project,
      new Map([
        ['audio-0', OTHER],
        ['audio-1', SOUND],
      ]),
    );
    const controller = new AbortController();
    const rendering = deliver.keepMix(0, 9 * RATE, controller.signal, nothing);
    controller.abort();
    expect(await rendering).toEqual({ cancelled: true });
    const kept = ok(await deliver.keepMix(0, 4 * RATE, never, nothing));
    const { measurement } = ok(await measurePool().measureFile(kept, never, nothing));
    expect(measurement.format.frames).toBe(4 * RATE);
    const lost = { ...project, clips: [testClip({ id: 'x', sourceId: 's3' })] };
    await deliver.take(lost, new Map());
    expect(await deliver.keepMix(0, RATE, never, nothing)).toMatchObject({
      failure: { hint: expect.any(String) as string },
    });
    deliver.close();
  });

  it('write a file again with a gain', async () => {
    const { blob } = ok(await applyGainToFile(SOUND, -7, null, 's24', never, nothing));
    const { measurement } = ok(await measurePool().measureFile(blob, never, nothing));
    expect(measurement.figures.integratedLufs).toBeCloseTo(-30, 1);
  });

  it('write again what a file says of itself, with room for its loudness', async () => {
    const spec = { sampleRate: RATE, layout: layoutFor(1), format: 'f32', frames: RATE } as const;
    const metadata = { ...NO_METADATA, description: 'Reel 2', timeReference: 480 };
    const { bytes } = encodePcm([noise(RATE, 0.1, 3)], RATE, 'f32');
    const file = new Blob([wavFrame({ ...spec, metadata }).header, bytes]);
    const { blob, loudnessAt } = ok(await applyGainToFile(file, -7, null, 's24', never, nothing));
    const said = loudnessBytes({ ...NOTHING_STATED, integratedLufs: -23 });
    const filled = patched(blob, [{ at: loudnessAt!, bytes: said }]);
    const { measurement } = ok(await measurePool().measureFile(filled, never, nothing));
    expect(measurement.format.metadata).toMatchObject({
      ...{ description: 'Reel 2', timeReference: 480 },
      loudness: { integratedLufs: -23, maxTruePeakDbtp: null },
    });
  });

  it('write a file again through a limiter, at the loudness that was solved with it', async () => {
    // Loud in places: a gain alone would go over.
    const x = tones([{ dbfs: -26, seconds: 6 }], RATE, 2);
    for (const channel of x) for (let i = 100_000; i < 100_400; i++) channel[i]! *= 15;
    const blob = wav(x);
    const limiter = { ...SPEECH_AND_MUSIC, ceilingDbtp: -1 };
    const found = ok(await limitFile(blob, limiter, -20, 6, never, nothing));
    expect(found.work.maxReductionDb).toBeGreaterThan(1);
    expect(found.after.integratedLufs).toBeCloseTo(-20, 1);
    const written = ok(await applyGainToFile(blob, found.gainDb, limiter, 's24', never, nothing));
    const { material } = ok(await measurePool().fileToCheck(written.blob, never, nothing));
    expect(material.figures.integratedLufs).toBeCloseTo(found.after.integratedLufs!, 2);
    expect(material.figures.truePeakDbtp).toBeLessThanOrEqual(-0.95);
    expect(material.seconds).toBe(6);
  });

  it('hold a file against several targets', async () => {
    const file = ok(await measurePool().fileToCheck(SOUND, never, nothing));
    const loud = { ...EBU_R128, id: 'loud', integratedLufs: -10 };
    const { check, mend } = ok(
      await measurePool().checkFile(file, [EBU_R128, loud], USUAL_THRESHOLDS, null, never),
    );
    expect(check.verdicts.map(({ meets }) => meets)).toEqual([true, false]);
    expect(mend.kind).toBe('leave');
    expect(check.findings.map(({ kind }) => kind)).toContain('integrated');
  });

  it('end with it', () => {
    const others = threads.running.size;
    const short = new ProgrammeEngine();
    expect(threads.running.size).toBe(others + 2);
    short.close();
    expect(threads.running.size).toBe(others);
  });
});
