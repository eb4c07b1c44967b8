import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeGain } from '@/core/programme/edits/gain';
import { moveClips, removeClips } from '@/core/programme/edits/clips';
import { changeTrack } from '@/core/programme/edits/project';
import type { Project } from '@/core/programme/model';
import { clipsArbitrary, openTestSource, testProject } from '@/core/testing/projects';
import { measureMoving } from './measureMoving';
import { ProgrammeMeasurement } from './programmeMeasurement';
import { StandingApart } from './standingApart';

const always = (): boolean => true;

async function finish(apart: StandingApart, project: Project): Promise<void> {
  const ranges = apart.update(project);
  if (!ranges) return;
  const { project: of, ids } = apart.moving;
  const sums = await Promise.all(
    ranges.map((range) => measureMoving(of, { kind: 'gain', ids }, range, openTestSource, always)),
  );
  apart.put(sums.map((one) => one!));
}

/** Energy by 20 ms of a programme with some tracks only. */
async function energyOf(project: Project): Promise<Float64Array> {
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  await measurement.measure(openTestSource, always);
  return measurement.history!.energy;
}

const muted = (project: Project, trackId: string): Project => changeTrack(project, trackId, { muted: true });

describe('speech and the rest', () => {
  it('are what each measures with the other muted, after any edits', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.nat(3),
        fc.integer({ min: -9, max: 9 }),
        async (clips, kind, by) => {
          const project = testProject(clips);
          const apart = new StandingApart();
          await finish(apart, project);
          const ids = new Set([clips[0]!.id]);
          const next = [
            changeGain(project, ids, { kind: 'change', db: by }),
            moveClips(project, ids, by * 5_000),
            removeClips(project, ids),
            muted(project, 't1'),
          ][kind]!;
          await finish(apart, next);
          const speech = await energyOf(muted(next, 't1'));
          const rest = await energyOf(muted(next, 't0'));
          if (next.clips.every(({ trackId }) => trackId !== 't0')) {
            expect(apart.update(next)).toBeNull();
            return;
          }
          const most = (a: Float64Array, b: Float64Array): number =>
            a.reduce((worst, value, k) => Math.max(worst, Math.abs(value - b[k]!)), 0);
          expect(apart.levels.speech).toHaveLength(speech.length);
          expect(most(apart.levels.speech, speech)).toBeLessThan(1e-3);
          expect(most(apart.levels.rest, rest)).toBeLessThan(1e-3);
        },
      ),
      { numRuns: 6 },
    );
  });
});
