import type { Source } from '@/core/programme/model';
import type { Cut, CutClip } from './cut';
import { mediaOf, rangeOf } from './otioJson';

/** How a source suits a medium that was not found by its name. */
export interface Candidate {
  readonly source: Source;
  /** As long as the cut says of its medium, to a tenth of a second. */
  readonly sameLength: boolean;
}

/** Two lengths closer than this are the same, seconds: frames of picture are coarser than samples. */
const SAME_SECONDS = 0.1;

const secondsOf = ({ frames, sampleRate }: Source): number => frames / sampleRate;

/** Length of a clip's medium, as its file says it, seconds; `null` when it does not. */
function mediaSeconds({ kept }: CutClip): number | null {
  const media = kept && mediaOf(kept);
  return (media && rangeOf(media['available_range'], 'its media')?.length) ?? null;
}

/**
 * The sources that can stand in for a medium: those that hold every stretch the cut uses of it; those as long as the medium
 * first.
 * @param name of the medium
 */
export function relinkCandidates(cut: Cut, name: string, sources: readonly Source[]): Candidate[] {
  const clips = cut.tracks.flatMap((track) => track.clips).filter(({ media }) => media.name === name);
  const lengths = clips.flatMap((clip) => mediaSeconds(clip) ?? []);
  const holds = (source: Source): boolean =>
    clips.every((clip) => {
      const begins =
        clip.sourceIsTimecode && source.timeReference !== null ? source.timeReference / source.sampleRate : 0;
      const from = clip.sourceStart - (clip.sourceStart >= begins ? begins : 0);
      return from >= -SAME_SECONDS && from + clip.length <= secondsOf(source) + SAME_SECONDS;
    });
  return sources
    .filter(holds)
    .map((source) => ({
      source,
      sameLength: lengths.some((seconds) => Math.abs(seconds - secondsOf(source)) <= SAME_SECONDS),
    }))
    .sort((a, b) => Number(b.sameLength) - Number(a.sameLength));
}
