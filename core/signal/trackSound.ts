import type { Project, Track } from '@/core/programme/model';

/** A track with all that its stations depend on. Plain data, also for workers. */
export interface TrackSound {
  readonly track: Track;
  /** Of the programme. */
  readonly sampleRate: number;
  readonly layoutId: string;
}

const known = new WeakMap<Track, TrackSound>();

/** What a track's stations read; the same object for the same track in the same surroundings. */
export function trackSound({ sampleRate, layoutId }: Project, track: Track): TrackSound {
  const last = known.get(track);
  if (last?.sampleRate === sampleRate && last.layoutId === layoutId) return last;
  const sound = { track, sampleRate, layoutId };
  known.set(track, sound);
  return sound;
}
