import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
import { MONO } from '@/core/audio/layout';
import { joinOverview, OverviewBuilder } from '@/core/audio/overview';
import { LoudnessMeter } from '@/core/loudness/meter';
import { clipEnd, programmeFrames, type Project } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { noise } from '@/core/testing/signals';
import { testClip, testProject } from '@/core/testing/projects';
import { FROSTLINE } from '@/demo/frostline';
import { placeDemo } from './demo/loadDemo';
import { columnPeaks } from './ui/columnPeaks';
import { markPath } from './ui/LevelMark';
import { overColumns } from './ui/overMarks';
import { safeName } from '@/core/text/safeName';
import { waveHeight } from './ui/waveHeight';
import { count } from '@/core/text/words';
import { reasonWords } from '@/core/proposals/reasonWords';
import { gainText } from './programme/clipLevel';
import { GainGesture, MoveGesture } from './programme/lanes/gestures';
import { tickStep } from './ui/tickStep';
import { laneHeightFor, luPerPixel, yOf } from './programme/lanes/laneScale';
import { changeGain } from '@/core/programme/edits/gain';
import type { Session } from './session/session';

/** As much of a session as a hand needs. */
function handSession(project: Project) {
  const state = {
    project,
    preview: null as Project | null,
    steps: [] as string[],
    state: { playhead: 500_000 },
  };
  const session = {
    ...state,
    setPreview(preview: Project | null) {
      session.preview = preview;
    },
    previewGain(ids: ReadonlySet<string>, db: number) {
      session.preview = changeGain(session.project, ids, { kind: 'change', db });
    },
    do(name: string, edit: (project: Project) => Project) {
      const after = edit(session.project);
      if (after !== session.project) session.steps.push(name);
      session.project = after;
      session.preview = null;
    },
  };
  return session as typeof session & Session;
}

const at = (clientX: number, clientY: number, shiftKey = false) =>
  ({ clientX, clientY, shiftKey }) as PointerEvent;

describe('dragging a waterline', () => {
  const setup = () => {
    const clip = testClip({ id: 'a' });
    const session = handSession(testProject([clip, testClip({ id: 'b' })]));
    return {
      session,
      gesture: new GainGesture(session, clip, new Set(['a', 'b']), 100, luPerPixel(96), () =>
        session.steps.push('click'),
      ),
    };
  };

  it('moves the gain with the hand on the lane’s scale, in tenths of a dB', () => {
    const { session, gesture } = setup();
    gesture.move(at(0, 90));
    const expected = Math.round(10 * luPerPixel(96) * 10) / 10;
    expect(session.preview!.clips.map((clip) => clip.gain.db)).toEqual([expected, expected]);
    expect(session.steps).toEqual([]);
    gesture.finish();
    expect(session.steps).toEqual([`Change gain of 2 clips by ${gainText(expected)}`]);
  });

  it('is ten times finer with Shift, also in the middle of a drag, without a jump', () => {
    const { session, gesture } = setup();
    gesture.move(at(0, 90));
    const coarse = session.preview!.clips[0]!.gain.db;
    gesture.move(at(0, 80, true));
    expect(session.preview!.clips[0]!.gain.db - coarse).toBeCloseTo(luPerPixel(96), 1);
  });

  it('stops where the first of the clips can go no further, so that their balance stays', () => {
    const gain = { db: 40, lastChangeDb: 40, reason: { kind: 'byHand' } } as const;
    const [a, b] = [testClip({ id: 'a' }), testClip({ id: 'b', gain })];
    const session = handSession(testProject([a, b]));
    const gesture = new GainGesture(session, a, new Set(['a', 'b']), 1_000, luPerPixel(96), () => undefined);
    gesture.move(at(0, 0));
    expect(session.preview!.clips.map((clip) => clip.gain.db)).toEqual([8, 48]);
  });

  it('taken back is no step; let go where it began is a click', () => {
    const { session, gesture } = setup();
    gesture.move(at(0, 50));
    gesture.cancel();
    expect([session.preview, session.steps]).toEqual([null, []]);
    const again = setup();
    again.gesture.finish();
    expect(again.session.steps).toEqual(['click']);
  });
});

describe('dragging a clip', () => {
  const setup = (trackAt: (y: number) => string | null = () => null) => {
    const a = testClip({ id: 'a', start: 100_000, length: 50_000 });
    const b = testClip({ id: 'b', start: 300_000, length: 50_000 });
    const session = handSession(testProject([a, b]));
    return {
      session,
      gesture: new MoveGesture(session, a, new Set(['a']), { x: 0, y: 0 }, 100, trackAt, () =>
        session.steps.push('click'),
      ),
    };
  };

  it('does nothing until the hand has really moved', () => {
    const { session, gesture } = setup();
    gesture.move(at(3, 0));
    expect(session.preview).toBeNull();
    gesture.finish();
    expect(session.steps).toEqual(['click']);
  });

  it('snaps its end to the next clip’s beginning, else to the ruler, and is free elsewhere and with Alt', () => {
    const { session, gesture } = setup();
    gesture.move(at(1495, 0));
    expect(clipEnd(session.preview!.clips[0]!)).toBe(300_000);
    // A line of the ruler every 9,600 frames (0.2 s) at this zoom.
    gesture.move(at(1015, 0));
    expect(session.preview!.clips[0]!.start).toBe(201_600);
    gesture.move({ ...at(1015, 0), altKey: true });
    expect(session.preview!.clips[0]!.start).toBe(201_500);
    gesture.move(at(1046, 0));
    expect(session.preview!.clips[0]!.start).toBe(204_600);
    gesture.finish();
    expect(session.steps).toEqual(['Move a']);
  });

  it('goes to the lane under the hand', () => {
    const { session, gesture } = setup((y) => (y > 90 ? 't1' : 't0'));
    gesture.move(at(400, 120));
    expect(session.preview!.clips[0]!.trackId).toBe('t1');
  });
});

describe('drawing', () => {
  it('no sample over is lost in a pixel column, whatever the zoom', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2000, max: 60_000 }),
        fc.double({ min: 0.2, max: 5000, noNaN: true }),
        fc.nat(),
        (frames, perPixel, seed) => {
          const samples = noise(frames, 0.5, seed + 1);
          samples[seed % frames] = -1.3;
          const builder = new OverviewBuilder();
          const meter = new LoudnessMeter(MONO, 48_000, { listeners: [builder] });
          meter.push([samples]);
          meter.finish();
          for (const level of joinOverview([builder.part()], frames).levels) {
            const columns = Math.ceil(frames / perPixel);
            if (columns > 200_000) return;
            const peaks = columnPeaks(level, 0, perPixel, columns, frames);
            expect(peaks[Math.min(columns - 1, Math.floor((seed % frames) / perPixel))]).toBeCloseTo(1.3, 5);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('every true peak over its limit has a mark near it, and marks stay apart', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 2, noNaN: true }), { minLength: 1, maxLength: 300 }),
        fc.double({ min: 0.5, max: 400, noNaN: true }),
        (peaks, pixelsPerSecond) => {
          const truePeaks = Float32Array.from(peaks);
          const columns = Math.ceil((peaks.length / 10) * pixelsPerSecond);
          const marks = overColumns({ truePeaks, limitDbtp: 0, first: 0, pixelsPerSecond, columns });
          marks.slice(1).forEach((x, i) => expect(x - marks[i]!).toBeGreaterThanOrEqual(9));
          truePeaks.forEach((peak, k) => {
            if (peak <= 1.00001) return;
            const middle = ((k + 0.5) / 10) * pixelsPerSecond;
            expect(marks.some((mark) => mark <= middle + 1 && mark > middle - 11)).toBe(true);
          });
        },
      ),
    );
  });

  it('outside the sound there is nothing', () => {
    const level = { framesPerBin: 256, low: Float32Array.of(-1), high: Float32Array.of(1) };
    expect([...columnPeaks(level, -512, 256, 4, 256)]).toEqual([0, 0, 1, 0]);
  });

  it('heights stay within the lane', () => {
    expect(waveHeight(0, 50)).toBe(1);
    expect(waveHeight(4, 50)).toBe(50);
    expect([yOf(0, 42), yOf(12, 42), yOf(-30, 42), yOf(99, 42), yOf(-99, 42)]).toEqual([12, 0, 42, 0, 42]);
    expect([laneHeightFor(600, 1), laneHeightFor(600, 6), laneHeightFor(600, 40)]).toEqual([168, 99, 76]);
    expect([tickStep(4), tickStep(1000), tickStep(0.0001)]).toEqual([30, 0.1, 7200]);
  });

  it('under, within and over differ in shape, not in colour alone', () => {
    const shapes = (['under', 'within', 'over'] as const).map((standing) => markPath(standing, 5, 5, 8));
    expect(new Set(shapes).size).toBe(3);
  });
});

describe('words', () => {
  it('count and name', () => {
    expect([count(1, 'clip'), count(2, 'clip'), count(1500, 'clip')]).toEqual([
      '1 clip',
      '2 clips',
      '1,500 clips',
    ]);
    expect([gainText(3), gainText(-2.25), gainText(0)]).toEqual(['+3.0 dB', '−2.25 dB', '±0.0 dB']);
    expect(safeName('a/b: "c"?\n')).toBe('a b c');
    expect(safeName('///')).toBe('Untitled');
  });

  it('every gain has a reason that can be read', () => {
    expect(
      reasonWords({ kind: 'levelled', measure: 'truePeak', mode: 'each', goal: -3, stoppedByCeiling: true }),
    ).toBe('levelled to −3.0 dBTP by itself, stopped by the ceiling');
    expect(reasonWords({ kind: 'asRecorded' })).toBe('as recorded');
  });
});

describe('the demo programme', () => {
  const files = [...new Set([...FROSTLINE.told, ...FROSTLINE.beneath].map((entry) => entry.file))];
  const shipped = async (name: string, i: number) => {
    const bytes = new Uint8Array(readFileSync(new URL(`../public/demo/${name}`, import.meta.url)));
    const { format } = await openPcm(bytesSource(bytes));
    return { ...testProject().sources[0]!, ...format, id: `s${i}`, name };
  };

  it('lays every file on its track, and none over another on the same track', async () => {
    const sources = await Promise.all(files.map(shipped));
    const project = placeDemo(newProject('d', 'Demo', 't'), sources);
    expect(programmeFrames(project) / 48_000).toBeGreaterThan(180);
    expect(programmeFrames(project) / 48_000).toBeLessThan(240);
    expect(new Set(project.clips.map((clip) => clip.sourceId)).size).toBe(files.length);
    for (const { key } of FROSTLINE.tracks) {
      const clips = project.clips.filter((clip) => clip.trackId === key).sort((a, b) => a.start - b.start);
      expect(clips.length).toBeGreaterThan(0);
      clips.slice(1).forEach((clip, i) => expect(clip.start).toBeGreaterThanOrEqual(clipEnd(clips[i]!)));
    }
  });
});
