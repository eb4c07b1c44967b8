import { afterAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { testClip, testProject } from '@/core/testing/projects';
import type { Project } from '@/core/programme/model';
import { playFailure } from './failure';
import { Playback } from './playback';
import { AudioGraph, GRAPH_RATE as RATE } from './testing/audioGraph';

const graph = new AudioGraph();
for (const [name, own] of Object.entries(graph.globals())) vi.stubGlobal(name, own);
afterAll(() => vi.unstubAllGlobals());
beforeEach(() => graph.reset());

const run = (seconds: number): Promise<void> => graph.run(seconds);
const heard = (): number[] => graph.heard();

/** Every sample of the programme is its own frame number, and `plus` tells states apart. */
const heardOf =
  (plus: (project: Project) => number) =>
  (project: Project, start: number, count: number): Promise<Float32Array[]> =>
    Promise.resolve(
      [0, 1].map(() => Float32Array.from({ length: count }, (_, i) => start + i + plus(project))),
    );

const fail = (error: unknown): never => {
  throw error;
};

const PROJECT = testProject([testClip({ id: 'a', length: 3 * RATE })]);

describe('playing', () => {
  it('sends every frame once, without a gap, and says where it ended', async () => {
    const stopped = vi.fn();
    const playback = new Playback(
      heardOf(() => 0),
      stopped,
      fail,
    );
    await playback.play(PROJECT, 1_000, RATE, []);
    await run(1.5);
    expect(heard()).toEqual(Array.from({ length: RATE - 1_000 }, (_, i) => 1_000 + i));
    expect(stopped).toHaveBeenCalledExactlyOnceWith(RATE);
    expect(playback.playing).toBe(false);
  });

  it('goes on with a changed programme at the same place, without a gap', async () => {
    const changed = { ...PROJECT, name: 'changed' };
    const playback = new Playback(
      heardOf(({ name }) => (name === 'changed' ? 0.5 : 0)),
      () => undefined,
      fail,
    );
    await playback.play(PROJECT, 0, 2 * RATE, []);
    await run(0.4);
    const at = playback.position();
    playback.update(changed, 2 * RATE, []);
    await run(1);
    // While they cross it is some of each.
    const frames = heard().map((frame, i) => frame - i);
    const first = frames.findIndex((more) => more > 0.01);
    const last = frames.findIndex((more) => more > 0.49);
    // Heard within a fifth of a second.
    expect((first - at) / RATE).toBeGreaterThan(0);
    expect((first - at) / RATE).toBeLessThan(0.2);
    expect(last - first).toBeLessThan(0.015 * RATE);
    for (const more of frames.slice(0, first)) expect(more).toBeCloseTo(0, 1);
    for (const more of frames.slice(last + 20)) expect(more).toBeCloseTo(0.5, 1);
    playback.close();
  });

  it('repeats a range to the frame', async () => {
    const playback = new Playback(
      heardOf(() => 0),
      () => undefined,
      fail,
    );
    playback.setLoop({ from: 4_800, to: 14_400 });
    await playback.play(PROJECT, 4_800, 3 * RATE, []);
    await run(1);
    heard().forEach((frame, i) => expect(frame).toBe(4_800 + (i % 9_600)));
    playback.close();
  });

  it('stops where it is heard, and what was on its way is taken back', async () => {
    const stopped = vi.fn();
    const playback = new Playback(
      heardOf(() => 0),
      stopped,
      fail,
    );
    await playback.play(PROJECT, 0, 3 * RATE, []);
    await run(0.5);
    playback.stop();
    const [at] = stopped.mock.calls[0] as [number];
    expect(Math.abs(at / RATE - 0.5)).toBeLessThan(0.1);
    expect(graph.running).toEqual([]);
  });

  it('that cannot go on stops, and tells the cause', async () => {
    const [stopped, failed] = [vi.fn(), vi.fn()];
    const playback = new Playback(
      (project, from, count) =>
        from >= 4_800
          ? Promise.reject(new Error('The file is gone'))
          : heardOf(() => 0)(project, from, count),
      stopped,
      failed,
    );
    await playback.play(PROJECT, 0, 3 * RATE, []);
    await run(0.3);
    expect(playback.playing).toBe(false);
    expect(stopped).toHaveBeenCalledOnce();
    const [error] = failed.mock.calls[0] as [unknown];
    expect(playFailure(error).message).toMatch(/The file is gone/);
  });
});

/** A sine, louder or softer by states and clips. */
const sineOf =
  (gain: (project: Project) => number) =>
  (project: Project, start: number, count: number): Promise<Float32Array[]> =>
    Promise.resolve(
      [0, 1].map(() =>
        Float32Array.from(
          { length: count },
          (_, i) => gain(project) * Math.sin(((start + i) * 2 * Math.PI) / 480),
        ),
      ),
    );
const STEEPEST = (2 * Math.PI) / 480;

/** The largest step from one sample to the next, and how many samples were not sent. */
function steps(): { readonly largest: number; readonly gaps: number } {
  const samples = heard();
  let largest = 0;
  for (let i = 1; i < samples.length; i++)
    largest = Math.max(largest, Math.abs(samples[i]! - samples[i - 1]!) || 0);
  return { largest, gaps: samples.filter(Number.isNaN).length };
}

describe('a change while it plays', () => {
  it('makes no step that is larger than the sound itself makes, however far it goes', async () => {
    const playback = new Playback(
      sineOf(({ name }) => Number(name)),
      () => undefined,
      fail,
    );
    const state = (gain: number): Project => ({ ...PROJECT, name: String(gain) });
    await playback.play(state(1), 0, 3 * RATE, []);
    for (const gain of [0.1, 0.9, 0, 1, -1, 0.5]) {
      await run(0.23);
      playback.update(state(gain), 3 * RATE, []);
    }
    await run(1);
    // Of the sound at its loudest, and of going from one to the other within 12 ms.
    expect(steps().largest).toBeLessThan(STEEPEST + 2 / (0.012 * RATE));
    expect(steps().gaps).toBe(0);
    playback.close();
  });

  it('several in a row, faster than they can be heard, leave one sound', async () => {
    const playback = new Playback(
      sineOf(({ name }) => Number(name)),
      () => undefined,
      fail,
    );
    await playback.play({ ...PROJECT, name: '1' }, 0, 3 * RATE, []);
    await run(0.3);
    for (let i = 0; i <= 20; i++) {
      playback.update({ ...PROJECT, name: String(1 - i / 40) }, 3 * RATE, []);
      await run(0.01);
    }
    await run(1);
    expect(Math.max(...heard().slice(-RATE / 2))).toBeCloseTo(0.5, 3);
    expect(steps().largest).toBeLessThan(STEEPEST + 1 / (0.012 * RATE));
    playback.close();
  });
});

describe('riding', () => {
  const apart = {
    own: (project: Project): Project => ({ ...project, name: 'own' }),
    rest: (project: Project): Project => ({ ...project, name: 'rest' }),
  };
  const gains: Readonly<Record<string, number>> = { own: 0.6, rest: 0.4 };

  it('is heard within 30 ms, without a step, and what is not ridden stays', async () => {
    const playback = new Playback(
      sineOf(({ name }) => gains[name] ?? 1),
      () => undefined,
      fail,
    );
    await playback.play(PROJECT, 0, 3 * RATE, []);
    await run(0.5);
    playback.setRidden(apart);
    await run(0.5);
    const moved = graph.clock;
    playback.setRideGain(0);
    await run(0.5);
    const samples = heard();
    const startsAt = Math.min(...graph.sent.map(({ firstFrame }) => firstFrame));
    const at = Math.round(moved * RATE) - startsAt;
    const most = (from: number, to: number): number => Math.max(...samples.slice(from, to));
    expect(most(at - 2000, at)).toBeCloseTo(1, 2);
    expect(most(at + 0.03 * RATE, at + 0.06 * RATE)).toBeCloseTo(0.4, 2);
    expect(steps().largest).toBeLessThan(STEEPEST + 0.6 / (0.004 * RATE));
    playback.setRidden(null);
    await run(0.5);
    expect(Math.max(...heard().slice(-5000))).toBeCloseTo(1, 2);
    playback.close();
  });
});
