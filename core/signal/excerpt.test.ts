import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { programmeFrames } from '@/core/programme/model';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { excerpt } from './excerpt';
import { SPEECH_AND_MUSIC } from './limiter/presets';
import { renderRange } from './mix';

describe('an excerpt of a project', () => {
  it('sounds the same in its span, to the bit, and is as long', async () => {
    const limiterOf = (on: boolean) => (on ? { ...SPEECH_AND_MUSIC, ceilingDbtp: -12 } : null);
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.nat({ max: 300_000 }),
        fc.integer({ min: 1, max: 20_000 }),
        fc.record({ clip: fc.boolean(), track: fc.boolean(), programme: fc.boolean() }),
        async (clips, from, count, on) => {
          const plain = testProject(clips);
          const project = {
            ...plain,
            clips: plain.clips.map((clip) => ({ ...clip, limiter: limiterOf(on.clip) })),
            tracks: plain.tracks.map((track) => ({ ...track, limiter: limiterOf(on.track) })),
            limiter: limiterOf(on.programme),
          };
          const part = excerpt(project, { from, to: from + count });
          expect(programmeFrames(part)).toBe(programmeFrames(project));
          const [own, whole] = await Promise.all(
            [part, project].map((of) => renderRange(of, openTestSource, from, count)),
          );
          expect(own!.every((channel, c) => channel.every((x, i) => x === whole![c]![i]))).toBe(true);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('leaves out clips and sources that do not sound there', () => {
    const project = testProject([
      testClip({ id: 'a', sourceId: 's0', length: 48_000 }),
      testClip({ id: 'b', sourceId: 's1', start: 480_000, length: 48_000 }),
      testClip({ id: 'c', sourceId: 's2', start: 960_000, length: 48_000 }),
    ]);
    const part = excerpt(project, { from: 0, to: 4_800 });
    // The last holds its length.
    expect(part.clips.map(({ id }) => id)).toEqual(['a', 'c']);
    expect(part.sources.map(({ id }) => id)).toEqual(['s0', 's2']);
  });
});
