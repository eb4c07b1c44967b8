import { describe, expect, it } from 'vitest';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import { testProject } from '@/core/testing/projects';
import {
  acceptFinding,
  addTarget,
  leadTarget,
  removeTarget,
  setThreshold,
  targetsOf,
  thresholdsOf,
  unacceptFinding,
} from './check';

const web = SHIPPED_TARGETS.find(({ id }) => id === 'web-video')!;
const ids = (project: ReturnType<typeof testProject>) => targetsOf(project).map(({ id }) => id);

describe('targets in force', () => {
  it('are added once, lead by turns, and leave', () => {
    const two = addTarget(addTarget(testProject(), web), web);
    expect(ids(two)).toEqual(['ebu-r128', 'web-video']);
    const led = leadTarget(two, 'web-video');
    expect(ids(led)).toEqual(['web-video', 'ebu-r128']);
    expect(ids(removeTarget(led, 'ebu-r128'))).toEqual(['web-video']);
    expect(ids(removeTarget(led, 'web-video'))).toEqual(['web-video', 'ebu-r128']);
    expect(leadTarget(two, 'nowhere')).toBe(two);
    const changed = { ...web, toleranceLu: 2 };
    expect(addTarget(two, changed).otherTargets).toEqual([changed]);
    expect(addTarget(two, { ...EBU_R128, toleranceLu: 2 }).target.toleranceLu).toBe(2);
  });
});

describe('what is found', () => {
  it('can be accepted with a note, and no more', () => {
    const found = { id: 'jump 4.0', sentence: 'It jumps.' };
    const noted = acceptFinding(acceptFinding(testProject(), found, ''), found, 'The client wants it');
    expect(noted.accepted).toEqual([{ ...found, note: 'The client wants it' }]);
    expect(unacceptFinding(noted, found.id).accepted).toEqual([]);
  });

  it('goes by thresholds that can be changed, and are as usual again', () => {
    const stricter = setThreshold(testProject(), 'jumpLu', 5);
    expect(thresholdsOf(stricter)).toEqual({ ...USUAL_THRESHOLDS, jumpLu: 5 });
    expect(setThreshold(stricter, 'jumpLu', null).thresholds).toEqual({});
    expect(setThreshold(stricter, 'jumpLu', USUAL_THRESHOLDS.jumpLu).thresholds).toEqual({});
  });
});
