import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { programmeLayout } from '@/core/audio/layout';
import { largest } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { PEAK_SUB_BLOCKS, subBlockCount, weighted } from '@/core/loudness/subBlocks';
import { programmeFrames, type Id, type Project } from '@/core/programme/model';
import { audibleClips } from '@/core/signal/audible';
import { renderRange } from '@/core/signal/mix';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import type { SubBlockRange } from './dirtyRanges';
import { joinShares, measureEach, type ClipShare } from './measureEach';

/** All of one clip rendered by itself and measured from the start. */
async function alone(project: Project, id: Id, { from, to }: SubBlockRange): Promise<ClipShare> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  const only = (clip: { readonly id: Id }): boolean => clip.id === id;
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project), only));
  const history = meter.finish();
  const blocks = [from / PEAK_SUB_BLOCKS, Math.ceil(to / PEAK_SUB_BLOCKS)] as const;
  return {
    energy: weighted(history)
      .energy.subarray(from, to)
      .reduce((sum, value) => sum + value, 0),
    peak: Math.max(...history.truePeak.map((channel) => largest(channel.subarray(...blocks)))),
  };
}

describe('what each clip brings to a range', () => {
  it('is what it measures by itself there, in one range or in several', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        async (clips, a, b) => {
          const project = testProject(clips);
          const end = subBlockCount(programmeFrames(project), project.sampleRate);
          const cut = (part: number): number => Math.floor((part * end) / PEAK_SUB_BLOCKS) * PEAK_SUB_BLOCKS;
          const [from, to] = [cut(Math.min(a, b)), a === b ? end : cut(Math.max(a, b))];
          fc.pre(from < to);
          const middle = Math.min(to, from + Math.ceil((to - from) / 2 / PEAK_SUB_BLOCKS) * PEAK_SUB_BLOCKS);
          const halves = [
            { from, to: middle },
            { from: middle, to },
          ].filter((half) => half.from < half.to);
          const whole = await measureEach(project, { from, to }, openTestSource);
          const parts = joinShares(
            await Promise.all(halves.map((half) => measureEach(project, half, openTestSource))),
          );
          for (const { id } of audibleClips(project)) {
            const own = await alone(project, id, { from, to });
            for (const shares of [whole, parts]) {
              const { energy, peak } = shares.get(id) ?? { energy: 0, peak: 0 };
              expect(Math.abs(energy - own.energy)).toBeLessThan(1e-7 * Math.max(1, own.energy));
              expect(Math.abs(peak - own.peak)).toBeLessThan(1e-6);
            }
          }
        },
      ),
      { numRuns: 12 },
    );
  });

  it('holds of more clips than are measured at once as well', async () => {
    const clips = Array.from({ length: 35 }, (_, i) =>
      testClip({ id: `c${i}`, sourceId: `s${i % 4}`, start: i * 2_000, length: 9_600 }),
    );
    const project = testProject(clips);
    const range = { from: 0, to: subBlockCount(programmeFrames(project), project.sampleRate) };
    const shares = await measureEach(project, range, openTestSource);
    expect([...shares.keys()].sort()).toEqual(clips.map(({ id }) => id).sort());
    for (const id of ['c0', 'c15', 'c16', 'c34']) {
      const own = await alone(project, id, range);
      expect(shares.get(id)!.energy).toBeCloseTo(own.energy, 7);
      expect(shares.get(id)!.peak).toBeCloseTo(own.peak, 6);
    }
  });
});
