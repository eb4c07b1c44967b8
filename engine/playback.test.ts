import { afterAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { testClip, testProject } from '@/core/testing/projects';
import type { Project } from '@/core/programme/model';
import { playFailure } from './failure';
import { Playback } from './playback';

const RATE = 48_000;

/** What was sent to the output: on the clock's own frames. */
interface Sent {
  readonly at: number;
  readonly samples: Float32Array;
  stopped: boolean;
}
let clock = 0;
let sent: Sent[] = [];
let running: FakeSource[] = [];

class FakeBuffer {
  readonly length: number;
  readonly duration: number;
  samples: Float32Array = new Float32Array();
  constructor({ length, sampleRate }: { length: number; sampleRate: number }) {
    this.length = length;
    this.duration = length / sampleRate;
  }
  copyToChannel(samples: Float32Array, channel: number): void {
    if (channel === 0) this.samples = samples;
  }
}

class FakeSource {
  onended: (() => void) | null = null;
  readonly buffer: FakeBuffer;
  private line: Sent | null = null;
  private at = 0;
  constructor(_: unknown, { buffer }: { buffer: FakeBuffer }) {
    this.buffer = buffer;
  }
  connect<T>(to: T): T {
    return to;
  }
  start(at: number): void {
    this.at = at;
    this.line = { at: Math.round(at * RATE), samples: this.buffer.samples, stopped: false };
    sent.push(this.line);
    running.push(this);
  }
  stop(): void {
    // What has sounded has sounded.
    if (this.line && clock < this.end) this.line.stopped = true;
    running = running.filter((other) => other !== this);
  }
  get end(): number {
    return this.at + this.buffer.duration;
  }
}

class FakeContext {
  readonly sampleRate = RATE;
  readonly destination = { channelCount: 2, maxChannelCount: 2 };
  readonly state = 'running';
  get currentTime(): number {
    return clock;
  }
  resume = (): Promise<void> => Promise.resolve();
  close = (): Promise<void> => Promise.resolve();
}

vi.stubGlobal('AudioContext', FakeContext);
vi.stubGlobal('AudioBuffer', FakeBuffer);
vi.stubGlobal('AudioBufferSourceNode', FakeSource);
afterAll(() => vi.unstubAllGlobals());
beforeEach(() => {
  clock = 0;
  sent = [];
  running = [];
});

/** Every sample of the programme is its own frame number, and `plus` tells states apart. */
const heardOf =
  (plus: (project: Project) => number) =>
  (project: Project, start: number, count: number): Promise<Float32Array[]> =>
    Promise.resolve(
      [0, 1].map(() => Float32Array.from({ length: count }, (_, i) => start + i + plus(project))),
    );

const soon = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** Lets the clock run. */
async function run(seconds: number): Promise<void> {
  const until = clock + seconds;
  while (clock < until - 1e-9) {
    clock = Math.min(until, clock + 0.01);
    for (const source of running.filter(({ end }) => end <= clock)) {
      running = running.filter((other) => other !== source);
      source.onended?.();
    }
    await soon();
  }
}

/** What was heard, frame by frame, from the first sample on; NaN where nothing was. */
function heard(): number[] {
  const lines = sent.filter(({ stopped }) => !stopped);
  const first = Math.min(...lines.map(({ at }) => at));
  const out: number[] = [];
  for (const { at, samples } of lines) samples.forEach((x, i) => (out[at - first + i] = x));
  return Array.from(out, (x) => x ?? NaN);
}

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
    const frames = heard();
    frames.forEach((frame, i) => expect(Math.floor(frame)).toBe(i));
    const first = frames.findIndex((frame) => frame % 1 !== 0);
    // Heard within a fifth of a second.
    expect((first - at) / RATE).toBeGreaterThan(0);
    expect((first - at) / RATE).toBeLessThan(0.2);
    expect(frames.slice(first).every((frame) => frame % 1 === 0.5)).toBe(true);
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
    expect(running).toEqual([]);
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
