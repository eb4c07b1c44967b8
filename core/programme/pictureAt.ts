import { clipEnd, type Clip, type Id, type Project } from './model';

/** Where a film is. */
export interface PicturePlace {
  readonly sourceId: Id;
  /** Of the film, from its beginning. */
  readonly seconds: number;
}

/** The clips of sources that have a picture, those of upper tracks first. @param pictured ids of sources */
export function picturedClips({ tracks, clips }: Project, pictured: ReadonlySet<Id>): readonly Clip[] {
  const order = new Map(tracks.map(({ id }, index) => [id, index]));
  return clips
    .filter(({ sourceId }) => pictured.has(sourceId))
    .sort((a, b) => order.get(a.trackId)! - order.get(b.trackId)!);
}

/**
 * Which picture belongs to a place of the programme: that of the clip that lies there, on the uppermost track where there are several.
 * @param clips as from {@link picturedClips}
 * @param frame programme frames
 */
export function pictureAt(clips: readonly Clip[], frame: number, sampleRate: number): PicturePlace | null {
  const clip = clips.find((each) => frame >= each.start && frame < clipEnd(each));
  if (!clip) return null;
  return { sourceId: clip.sourceId, seconds: (clip.sourceStart + frame - clip.start) / sampleRate };
}
