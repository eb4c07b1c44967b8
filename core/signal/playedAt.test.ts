import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { programmeFrames, type Project } from '@/core/programme/model';
import { clipsArbitrary, openTestSource, testProject } from '@/core/testing/projects';
import { playedAt, shifted } from './asRecorded';
import { SPEECH_AND_MUSIC } from './limiter/presets';
import { renderRange } from './mix';

const render = (project: Project): Promise<Float32Array[]> =>
  renderRange(project, openTestSource, 0, programmeFrames(project));

/** Limiters on a track and the programme that have something to do. */
const limited = (project: Project): Project => ({
  ...project,
  limiter: { ...SPEECH_AND_MUSIC, ceilingDbtp: -9 },
  tracks: project.tracks.map((track) => ({ ...track, limiter: { ...SPEECH_AND_MUSIC, ceilingDbtp: -12 } })),
});

describe('the programme louder or quieter as a whole', () => {
  it('is the same sound, limiters and all, by one factor', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.double({ min: -20, max: 10, noNaN: true }), async (clips, db) => {
        const project = limited(testProject(clips));
        const [plain, moved] = [await render(project), await render(shifted(project, db))];
        const factor = dbToAmplitude(db);
        let worst = 0;
        plain.forEach((channel, c) =>
          channel.forEach((x, i) => (worst = Math.max(worst, Math.abs(x * factor - moved[c]![i]!)))),
        );
        expect(worst / factor).toBeLessThan(1e-4);
      }),
      { numRuns: 5 },
    );
  });

  it('behind it a limiter holds its peaks, where a service has one', async () => {
    const project = testProject([]);
    expect(playedAt(project, 6, null).limiter).toBeNull();
    expect(playedAt(project, 6, -1).limiter).toEqual({ ...SPEECH_AND_MUSIC, ceilingDbtp: -1 });
    // Its own limiter keeps lower already, moved along.
    expect(playedAt(limited(project), 6, -1).limiter!.ceilingDbtp).toBe(-3);
    expect(playedAt(limited(project), 12, -1).limiter!.ceilingDbtp).toBe(-1);
  });
});
