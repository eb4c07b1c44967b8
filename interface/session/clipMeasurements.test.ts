import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Clip, Project } from '@/core/programme/model';
import { clipKey } from '@/core/signal/clipKey';
import type { ClipTask } from '@/engine/protocol';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { NO_FIGURES } from '../ui/noFigures';
import { testClip, testProject } from '@/core/testing/projects';
import { ownMeasurements, withMeasurements } from './clipMeasurements';
import { ClipMeasurer } from './clipMeasurer';

/** A measurement that can be told from others. */
const measurement = (lengthSeconds: number): ClipMeasurement => ({
  figures: NO_FIGURES,
  blocks: new Float64Array(0),
  hops: new Float64Array(0),
  truePeaks: new Float32Array(0),
  meanSquare: 0,
  range: null,
  maxShortTermAt: null,
  lengthSeconds,
});

const resting = testProject([testClip({ id: 'a' }), testClip({ id: 'b', sourceId: 's1' })]);
const trimmed = (length: number): Project => ({
  ...resting,
  clips: resting.clips.map((clip) => (clip.id === 'a' ? { ...clip, length } : clip)),
});
const keyOf = (project: Project, index: number): string => clipKey(project, project.clips[index]!)!;

describe('measurements of clips', () => {
  it('of what a hand moves are those at rest until their own is there', () => {
    const known = new Map([[keyOf(resting, 0), measurement(4)]]);
    const moved = trimmed(50_000);
    const of = (project: Project, clip: Clip | undefined): number | undefined =>
      ownMeasurements(known, project, resting)(clip!)?.lengthSeconds;
    expect(of(resting, resting.clips[0])).toBe(4);
    expect(of(moved, moved.clips[0])).toBe(4);
    expect(of(moved, moved.clips[1])).toBeUndefined();
    known.set(keyOf(moved, 0), measurement(1));
    expect(of(moved, moved.clips[0])).toBe(1);
    // At rest a clip of which nothing is known has nothing.
    expect(ownMeasurements(new Map(), moved, moved)(moved.clips[0]!)).toBeNull();
  });

  it('are at hand for what there is, however many states were left', () => {
    let known: ReadonlyMap<string, ClipMeasurement> = new Map();
    for (let length = 1; length < 1_000; length++) {
      const project = trimmed(length);
      known = withMeasurements(known, new Map([[keyOf(project, 0), measurement(length)]]), [
        project,
        resting,
      ]);
      expect(known.has(keyOf(project, 0))).toBe(true);
      expect(known.size).toBeLessThan(300);
    }
  });
});

const pool = vi.hoisted(() => ({ measureClip: vi.fn() }));
const store = vi.hoisted(() => ({ getClipMeasurement: vi.fn(), putClipMeasurement: vi.fn() }));
vi.mock('@/engine/measurePool', () => ({ measurePool: () => pool }));
vi.mock('@/storage/measurements', () => store);

describe('measuring clips', () => {
  beforeEach(() => {
    vi.useFakeTimers();
    store.getClipMeasurement.mockResolvedValue(null);
    store.putClipMeasurement.mockReset().mockResolvedValue(undefined);
    pool.measureClip.mockReset().mockResolvedValue({ ok: measurement(9) });
  });
  afterEach(() => void vi.useRealTimers());

  const setup = () => {
    const known = new Map<string, ClipMeasurement>();
    const measurer = new ClipMeasurer({
      audioOf: () => new Blob(),
      known: () => known,
      onMeasured: (told) => told.forEach((value, key) => known.set(key, value)),
      onFailed: vi.fn(),
    });
    return { known, measurer };
  };
  const lengths = (): number[] =>
    pool.measureClip.mock.calls.map(([task]) => (task as ClipTask).sound.clip.length);

  it('at rest measures and keeps what is missing, once', async () => {
    const { known, measurer } = setup();
    measurer.want(resting, false);
    measurer.want(resting, false);
    await vi.advanceTimersByTimeAsync(500);
    expect(pool.measureClip).toHaveBeenCalledTimes(2);
    expect(store.putClipMeasurement).toHaveBeenCalledTimes(2);
    expect(known.size).toBe(2);
  });

  it('under a moving hand waits until it holds still, and keeps nothing of that', async () => {
    const { known, measurer } = setup();
    measurer.want(resting, false);
    await vi.advanceTimersByTimeAsync(500);
    pool.measureClip.mockClear();
    store.putClipMeasurement.mockClear();
    for (let length = 40_000; length < 40_030; length++) {
      measurer.want(trimmed(length), true);
      await vi.advanceTimersByTimeAsync(16);
    }
    expect(pool.measureClip).not.toHaveBeenCalled();
    await vi.advanceTimersByTimeAsync(500);
    expect(lengths()).toEqual([40_029]);
    expect(store.putClipMeasurement).not.toHaveBeenCalled();
    expect(known.size).toBe(3);
  });

  it('gives up what is no longer wanted, and begins it anew when it is wanted again', async () => {
    const { measurer } = setup();
    const signals: AbortSignal[] = [];
    pool.measureClip.mockImplementation((_: unknown, signal: AbortSignal) => {
      signals.push(signal);
      return new Promise(() => undefined);
    });
    measurer.want(trimmed(100), false);
    await vi.advanceTimersByTimeAsync(10);
    measurer.want(trimmed(200), false);
    await vi.advanceTimersByTimeAsync(10);
    measurer.want(trimmed(100), false);
    await vi.advanceTimersByTimeAsync(10);
    expect(lengths().filter((length) => length < 1_000)).toEqual([100, 200, 100]);
    expect(signals.filter((_, i) => lengths()[i]! < 1_000).map(({ aborted }) => aborted)).toEqual([
      true,
      true,
      false,
    ]);
    measurer.close();
    expect(signals.every(({ aborted }) => aborted)).toBe(true);
  });
});
