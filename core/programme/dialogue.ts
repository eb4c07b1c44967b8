import { mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';
import { type Clip, type Project, type Role } from './model';

const SPOKEN: readonly Role[] = ['dialogue', 'narration'];

/** The clips that speak: those on tracks for dialogue or narration that are not muted. */
export function spokenClips({ tracks, clips }: Pick<Project, 'tracks' | 'clips'>): readonly Clip[] {
  const spoken = new Set(
    tracks.filter((track) => SPOKEN.includes(track.role) && !track.muted).map((track) => track.id),
  );
  return clips.filter((clip) => spoken.has(clip.trackId));
}

/** When somebody speaks in a clip, seconds of it, as its source says; `null` where nothing says so. */
export function speechInClip({
  sources,
  sampleRate,
}: Pick<Project, 'sources' | 'sampleRate'>): (clip: Clip) => TimeRange[] | null {
  const speech = new Map(sources.map((source) => [source.id, source.speech]));
  return (clip) => {
    const said = speech.get(clip.sourceId);
    if (!said) return null;
    const begin = clip.sourceStart / sampleRate;
    const length = clip.length / sampleRate;
    return said.ranges
      .map(({ from, to }) => ({ from: Math.max(0, from - begin), to: Math.min(length, to - begin) }))
      .filter(({ from, to }) => from < to);
  };
}

/**
 * When somebody speaks in a programme: where clips lie on tracks for dialogue or narration that are not muted; within a
 * clip whose source has subtitles, only while they say so.
 * @returns ranges in seconds of the programme, in order
 */
export function dialogueRanges({ tracks, clips, sources, sampleRate }: Project): TimeRange[] {
  const said = speechInClip({ sources, sampleRate });
  return mergeRanges(
    spokenClips({ tracks, clips }).flatMap((clip) => {
      const start = clip.start / sampleRate;
      const ranges = said(clip) ?? [{ from: 0, to: clip.length / sampleRate }];
      return ranges.map(({ from, to }) => ({ from: start + from, to: start + to }));
    }),
  );
}
