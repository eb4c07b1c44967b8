import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dbToAmplitude, dbToPower } from '@/core/loudness/decibels';
import { clipSound } from '@/core/signal/clipSound';
import { measureClip, type ClipMeasurement } from '@/core/measuring/measureClip';
import { clipsArbitrary, openTestSource, testProject } from '@/core/testing/projects';
import { clipEnd, type Clip } from '@/core/programme/model';
import { TrackLevels } from './trackLevels';

const project = testProject();

async function measured(clips: readonly Clip[]): Promise<Map<string, ClipMeasurement>> {
  const found = new Map<string, ClipMeasurement>();
  for (const clip of clips) {
    const source = project.sources.find(({ id }) => id === clip.sourceId)!;
    const sound = clipSound(project, clip)!;
    found.set(clip.id, (await measureClip(await openTestSource(source), sound, () => true))!);
  }
  return found;
}

describe('what a track brings at a time', () => {
  it('is what is stored of each clip that lies there, looked up one by one', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.array(fc.nat(12 * 48_000), { maxLength: 30 }),
        async (clips, frames) => {
          const measurements = await measured(clips);
          const levels = new TrackLevels(clips, (clip) => measurements.get(clip.id)!, 48_000);
          for (const frame of [...frames, ...clips.map(({ start }) => start), ...clips.map(clipEnd)]) {
            const expected = { momentary: 0, truePeak: 0 };
            for (const clip of clips) {
              if (frame < clip.start || frame >= clipEnd(clip)) continue;
              const { blocks, truePeaks } = measurements.get(clip.id)!;
              const tenth = Math.floor((frame - clip.start) / 4800 + 1e-9);
              expected.momentary += (blocks[tenth - 4] ?? 0) * dbToPower(clip.gain.db);
              expected.truePeak += (truePeaks[tenth] ?? 0) * dbToAmplitude(clip.gain.db);
            }
            const { momentary, truePeak } = levels.at(frame);
            expect(momentary).toBeCloseTo(expected.momentary, 12);
            expect(truePeak).toBeCloseTo(expected.truePeak, 6);
          }
        },
      ),
      { numRuns: 15 },
    );
  });

  it('is nothing where nothing lies or nothing is measured yet', () => {
    expect(new TrackLevels([], () => null, 48_000).at(0)).toEqual({ momentary: 0, truePeak: 0 });
  });
});
