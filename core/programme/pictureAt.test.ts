import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipsArbitrary, testProject } from '@/core/testing/projects';
import { clipEnd } from './model';
import { pictureAt, picturedClips } from './pictureAt';

describe('the picture at a place', () => {
  it('is that of the uppermost clip with a picture there, as far into its film as into its sound', () => {
    fc.assert(
      fc.property(clipsArbitrary, fc.nat(12 * 48_000), (clips, frame) => {
        const project = { ...testProject(), clips };
        const film = project.sources[0]!.id;
        const found = pictureAt(picturedClips(project, new Set([film])), frame, project.sampleRate);
        const there = project.tracks
          .flatMap(({ id }) => clips.filter(({ trackId }) => trackId === id))
          .filter((clip) => clip.sourceId === film && frame >= clip.start && frame < clipEnd(clip));
        if (there.length === 0) {
          expect(found).toBeNull();
          return;
        }
        expect(found!.sourceId).toBe(film);
        const possible = there
          .filter(({ trackId }) => trackId === there[0]!.trackId)
          .map((clip) => (clip.sourceStart + frame - clip.start) / project.sampleRate);
        expect(possible).toContain(found!.seconds);
      }),
    );
  });
});
