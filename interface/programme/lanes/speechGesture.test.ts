import { describe, expect, it } from 'vitest';
import { testClip, testProject } from '@/core/testing/projects';
import type { Project } from '@/core/programme/model';
import type { Session } from '../../session/session';
import { speechAt, SpeechGesture } from './speechGesture';
import type { DrawnClip } from './useVisible';

const LANE = 80;
const RATE = 48_000;
/** 100 pixels a second. */
const FRAMES_PER_PIXEL = RATE / 100;

/** A clip that begins at 10 s with what lies at 2 s of its source, in which somebody speaks from 3 to 5 s. */
function spokenProject(): Project {
  const project = testProject([
    testClip({ id: 'a', start: 10 * RATE, sourceStart: 2 * RATE, length: 6 * RATE, sourceId: 's0' }),
  ]);
  const speech = { from: 'test', ranges: [{ from: 3, to: 5 }] };
  return { ...project, sources: project.sources.map((source) => ({ ...source, speech })) };
}

function drag(edgeAt: number, pixels: number, shiftKey = false) {
  let project = spokenProject();
  const drawn = { clip: project.clips[0]!, source: project.sources[0]! } as DrawnClip;
  const hit = speechAt(drawn, { frame: edgeAt * RATE, y: LANE - 5 }, LANE, FRAMES_PER_PIXEL, RATE);
  const steps: string[] = [];
  const session = {
    get project() {
      return project;
    },
    setPreview: () => undefined,
    do(name: string, edit: (state: Project) => Project) {
      steps.push(name);
      project = edit(project);
    },
  } as unknown as Session;
  const gesture = hit && new SpeechGesture(session, hit, 7, 0, 1 / 100, () => steps.push('click'));
  if (pixels !== 0) gesture?.move({ clientX: pixels, shiftKey } as PointerEvent);
  gesture?.finish();
  return { hit, steps, ranges: project.sources[0]!.speech!.ranges };
}

describe('the speech strip', () => {
  it('is dragged by an edge, or as a whole, not beyond the sound and not to nothing', () => {
    const start = drag(11.02, 50);
    expect(start.hit!.edge).toBe('from');
    expect(start.ranges).toEqual([{ from: 3.5, to: 5 }]);
    expect(start.steps[0]).toMatch(/^Move the start of speech in /);
    expect(drag(13, -20, true).ranges).toEqual([{ from: 3, to: 4.98 }]);
    expect(drag(13, 900).ranges).toEqual([{ from: 3, to: 7 }]);
    expect(drag(11, 900).ranges).toEqual([{ from: 4.95, to: 5 }]);
    const whole = drag(12, -50);
    expect(whole.hit!.edge).toBeNull();
    expect(whole.ranges).toEqual([{ from: 2.5, to: 4.5 }]);
    expect(drag(12, 5_000).ranges).toEqual([{ from: 5, to: 7 }]);
  });

  it('is not held beside it, and a click is no change', () => {
    expect(drag(10.5, 50)).toMatchObject({ hit: null, steps: [] });
    expect(drag(12, 0)).toMatchObject({ steps: ['click'], ranges: [{ from: 3, to: 5 }] });
    const project = spokenProject();
    const drawn = { clip: project.clips[0]!, source: project.sources[0]! } as DrawnClip;
    expect(speechAt(drawn, { frame: 12 * RATE, y: 40 }, LANE, FRAMES_PER_PIXEL, RATE)).toBeNull();
  });
});
