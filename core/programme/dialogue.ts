import { mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';
import { clipEnd, type Project, type Role } from './model';

const SPOKEN: readonly Role[] = ['dialogue', 'narration'];

/**
 * When somebody speaks in a programme: where clips lie on tracks for dialogue or narration that are not muted; within a
 * clip whose source has subtitles, only while they say so.
 * @returns ranges in seconds of the programme, in order
 */
export function dialogueRanges({ tracks, clips, sources, sampleRate }: Project): TimeRange[] {
  const spoken = new Set(
    tracks.filter((track) => SPOKEN.includes(track.role) && !track.muted).map((track) => track.id),
  );
  const speech = new Map(sources.map((source) => [source.id, source.speech]));
  return mergeRanges(
    clips
      .filter((clip) => spoken.has(clip.trackId))
      .flatMap((clip) => {
        const whole = { from: clip.start / sampleRate, to: clipEnd(clip) / sampleRate };
        const said = speech.get(clip.sourceId);
        if (!said) return [whole];
        const shift = (clip.start - clip.sourceStart) / sampleRate;
        return said.ranges.map(({ from, to }) => ({
          from: Math.max(whole.from, from + shift),
          to: Math.min(whole.to, to + shift),
        }));
      }),
  );
}
