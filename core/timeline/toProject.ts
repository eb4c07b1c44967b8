import { clampGain } from '@/core/programme/gainField';
import { curveOf } from '@/core/programme/curve';
import { sourceLength } from '@/core/programme/edits/clips';
import {
  AS_RECORDED,
  PLAIN_CLIP,
  PLAIN_TRACK,
  type Clip,
  type Id,
  type Project,
  type Source,
  type Track,
} from '@/core/programme/model';
import type { Cut, CutClip } from './cut';

/** A cut as a programme, and what was not found or did not fit, as full sentences. */
export interface PlacedCut {
  readonly project: Project;
  /** Names of media that no source was found for. */
  readonly missing: readonly string[];
  readonly warnings: readonly string[];
}

const stem = (name: string): string => name.replace(/\.[^.]+$/, '').toLowerCase();

/**
 * Finds the file for each media name of a cut: by its whole name, else without its ending; capitals do not matter.
 * @param files names of files, without folders
 * @returns index into `files` by media name; names that match nothing are left out
 */
export function matchMedia(cut: Cut, files: readonly string[]): Map<string, number> {
  const whole = new Map<string, number>();
  const stems = new Map<string, number>();
  files.forEach((file, index) => {
    if (!whole.has(file.toLowerCase())) whole.set(file.toLowerCase(), index);
    if (!stems.has(stem(file))) stems.set(stem(file), index);
  });
  const found = new Map<string, number>();
  for (const { clips } of cut.tracks)
    for (const { media } of clips) {
      const index = whole.get(media.name.toLowerCase()) ?? stems.get(stem(media.name));
      if (index !== undefined) found.set(media.name, index);
    }
  return found;
}

/** Where in its media a clip begins, seconds. Timecode counts from where the media's own begins, if it says so. */
function sourceSeconds(clip: CutClip, { timeReference, sampleRate }: Source): number {
  if (!clip.sourceIsTimecode || timeReference === null) return clip.sourceStart;
  const from = clip.sourceStart - timeReference / sampleRate;
  return from >= -1e-6 ? Math.max(0, from) : clip.sourceStart;
}

/**
 * Lays a cut out in a programme, on tracks of its own; empty tracks that were there give way. What reaches beyond its
 * media is shortened, and that is said.
 * @param media the programme's sources by the names the cut uses; clips of others are left out and named
 * @param newId gives an id for each track and clip
 */
export function placeCut(
  base: Project,
  cut: Cut,
  media: ReadonlyMap<string, Source>,
  newId: () => Id,
): PlacedCut {
  const { sampleRate } = base;
  const missing = new Set<string>();
  const warnings = [...cut.warnings];
  const clips: Clip[] = [];
  const frames = (seconds: number): number => Math.round(seconds * sampleRate);
  const place = (clip: CutClip, trackId: Id): void => {
    const source = media.get(clip.media.name);
    if (!source) {
      missing.add(clip.media.name);
      return;
    }
    const room = sourceLength(source, sampleRate);
    const first = frames(sourceSeconds(clip, source));
    // Edges are rounded in the programme's time, so that clips that touch still touch.
    const start = Math.max(0, frames(clip.start));
    const wanted = frames(clip.start + clip.length) - start;
    const lost = Math.max(0, -first);
    const length = Math.min(wanted, room - first) - lost;
    if (length <= 0) {
      warnings.push(`“${clip.name}” lies outside its media “${clip.media.name}” and is left out.`);
      return;
    }
    if (length < wanted - 1)
      warnings.push(
        `“${clip.name}” asks for ${((wanted - length) / sampleRate).toFixed(2)} s more than “${clip.media.name}” has.`,
      );
    const gainDb = clampGain(clip.gainDb);
    const fadeIn = Math.min(frames(clip.fadeIn), length);
    clips.push({
      id: newId(),
      trackId,
      sourceId: source.id,
      name: clip.name,
      start: start + lost,
      length,
      sourceStart: first + lost,
      ...PLAIN_CLIP,
      trimDb: source.trimDb,
      gain: gainDb === 0 ? AS_RECORDED : { db: gainDb, lastChangeDb: gainDb, reason: { kind: 'byHand' } },
      fadeIn,
      fadeOut: Math.min(frames(clip.fadeOut), length - fadeIn),
      curve: curveOf(clip.curve.map((point) => ({ at: frames(point.seconds), db: point.db }))),
      kept: clip.kept,
    });
  };
  const tracks = cut.tracks.map((track): Track => {
    const id = newId();
    for (const clip of track.clips) place(clip, id);
    return {
      id,
      name: track.name,
      role: 'dialogue',
      ...PLAIN_TRACK,
      muted: track.kept?.['enabled'] === false,
      kept: track.kept,
    };
  });
  const used = new Set(base.clips.map(({ trackId }) => trackId));
  const project = {
    ...base,
    kept: cut.kept ?? base.kept,
    tracks: [...base.tracks.filter(({ id }) => used.has(id)), ...tracks],
    clips: [...base.clips, ...clips],
  };
  return { project, missing: [...missing].sort(), warnings };
}
