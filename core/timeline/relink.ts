import type { Source } from '@/core/programme/model';
import { mediaKey, type Cut, type CutClip } from './cut';
import { isObject, mediaOf, rangeOf } from './otioJson';

/** How a source suits a medium that was not found by its name. */
export interface Candidate {
  readonly source: Source;
  /** As long as the cut says of its medium, to a tenth of a second. */
  readonly sameLength: boolean;
}

/** Two lengths closer than this are the same, seconds: frames of picture are coarser than samples. */
const SAME_SECONDS = 0.1;

const secondsOf = ({ frames, sampleRate }: Pick<Source, 'frames' | 'sampleRate'>): number =>
  frames / sampleRate;

type Sound = Pick<Source, 'frames' | 'sampleRate' | 'timeReference'>;

/** What the file says of a clip's medium, as far as it can be read. */
function statedRange({ passthrough }: CutClip): Record<string, unknown> | null {
  const range = passthrough && mediaOf(passthrough)?.['available_range'];
  return isObject(range) ? range : null;
}

/** Lengths that a cut gives for a medium, seconds. */
export const statedLengths = (clips: readonly CutClip[]): number[] =>
  clips.flatMap((clip) => rangeOf(statedRange(clip), 'its media')?.length ?? []);

/** Rates in which a cut counts a medium: those of sound among them are its own, Hz. */
export const statedRates = (clips: readonly CutClip[]): number[] =>
  clips.flatMap((clip) => {
    const duration = statedRange(clip)?.['duration'];
    return isObject(duration) && typeof duration['rate'] === 'number' ? [duration['rate']] : [];
  });

/** Whether a sound is as long as one of these, seconds. */
export const isAsLong = (sound: Sound, lengths: readonly number[]): boolean =>
  lengths.some((seconds) => Math.abs(seconds - secondsOf(sound)) <= SAME_SECONDS);

/** Whether a sound holds every slice that these clips use of their medium. */
export function holdsAll(sound: Sound, clips: readonly CutClip[]): boolean {
  const begun = sound.timeReference === null ? 0 : sound.timeReference / sound.sampleRate;
  return clips.every((clip) => {
    const begins = clip.sourceIsTimecode ? begun : 0;
    const from = clip.sourceStart - (clip.sourceStart >= begins ? begins : 0);
    return from >= -SAME_SECONDS && from + clip.length <= secondsOf(sound) + SAME_SECONDS;
  });
}

/**
 * The sources that can stand in for a medium: those that hold every slice the cut uses of it; those as long as the medium
 * first.
 * @param key of the medium, see `mediaKey`
 */
export function relinkCandidates(cut: Cut, key: string, sources: readonly Source[]): Candidate[] {
  const clips = cut.tracks.flatMap((track) => track.clips).filter(({ media }) => mediaKey(media) === key);
  const lengths = statedLengths(clips);
  return sources
    .filter((source) => holdsAll(source, clips))
    .map((source) => ({ source, sameLength: isAsLong(source, lengths) }))
    .sort((a, b) => Number(b.sameLength) - Number(a.sameLength));
}
