import { afterAll, afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { randomFrom } from '@/e2e/endure/random';
import { testClip, testProject } from '@/core/testing/projects';
import { playFailure } from './failure';
import { Playback } from './playback';
import { AudioGraph, GRAPH_RATE as RATE } from './testing/audioGraph';

const graph = new AudioGraph();
for (const [name, own] of Object.entries(graph.globals())) vi.stubGlobal(name, own);
afterAll(() => vi.unstubAllGlobals());
beforeEach(() => graph.reset());
afterEach(() => vi.useRealTimers());

const HOUR = 3_600;
const PROJECT = testProject([testClip({ id: 'a', length: HOUR * RATE })]);
const silence = (_: unknown, __: number, count: number): Promise<Float32Array[]> =>
  Promise.resolve([new Float32Array(count)]);

describe('playing for an hour while edits go on', () => {
  it('leaves no gap, keeps to the clock, and holds no more at the end than at the start', async () => {
    const random = randomFrom(5);
    const ended = vi.fn();
    const playback = new Playback(silence, ended, (error) => {
      throw error;
    });
    await playback.play(PROJECT, 0, HOUR * RATE, []);
    const began = 0.08;
    /** Up to which frame of the output something sounds. */
    let until = Math.round(began * RATE);
    let [gaps, drift, mostHeld, edits] = [0, 0, 0, 0];
    let nextEdit = 1;
    while (graph.clock < HOUR + 1) {
      await graph.run(0.5);
      for (const { firstFrame, frames } of graph.sent) {
        if (frames === 0) continue;
        if (firstFrame > until) gaps++;
        until = Math.max(until, firstFrame + frames);
      }
      graph.sent = [];
      mostHeld = Math.max(mostHeld, graph.running.length);
      if (playback.playing) {
        const due = (graph.clock - began) * RATE;
        drift = Math.max(drift, Math.abs(playback.position() - due));
      }
      if (graph.clock >= nextEdit) {
        edits++;
        nextEdit = graph.clock + random() * 10;
        playback.update({ ...PROJECT, name: `edit ${edits}` }, HOUR * RATE, []);
      }
    }
    expect(edits).toBeGreaterThan(500);
    expect(gaps).toBe(0);
    // A piece is laid to the nearest frame.
    expect(drift).toBeLessThan(2);
    // Half a second ahead in tenths, and what crosses.
    expect(mostHeld).toBeLessThan(12);
    expect(ended).toHaveBeenCalledExactlyOnceWith(HOUR * RATE);
    playback.close();
  }, 120_000);
});

describe('an output that takes no sound any more', () => {
  it('stops playing where it was heard last, says so, and a new one is opened to play on', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] });
    const [stopped, failed] = [vi.fn(), vi.fn()];
    const playback = new Playback(silence, stopped, failed);
    await playback.play(PROJECT, 0, HOUR * RATE, []);
    for (let i = 0; i < 20; i++) {
      await graph.run(0.5);
      vi.advanceTimersByTime(500);
    }
    expect(playback.playing).toBe(true);
    // Its clock stands still: a moment may pass so, some seconds may not.
    vi.advanceTimersByTime(2_000);
    expect(playback.playing).toBe(true);
    const at = playback.position();
    vi.advanceTimersByTime(2_000);
    expect(playback.playing).toBe(false);
    expect(stopped).toHaveBeenCalledExactlyOnceWith(at);
    expect(failed).toHaveBeenCalledOnce();
    const { message, hint } = playFailure(failed.mock.calls[0]![0]);
    expect(`${message} ${hint}`).toMatch(/takes no sound any more.*Check the sound output/s);
    await playback.play(PROJECT, at, HOUR * RATE, []);
    await graph.run(1);
    expect(playback.playing).toBe(true);
    playback.close();
  });
});
