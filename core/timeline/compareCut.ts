import { totalDbOf } from '@/core/programme/clipGain';
import {
  programmeFrames,
  type Clip,
  type Id,
  type Project,
  type Source,
  type Track,
} from '@/core/programme/model';
import type { Cut } from './cut';
import { placeCut, type MissingMedia, type PlacedCut } from './toProject';

/**
 * What became of a clip in a cut that comes back: as it is here; at another place or on another track; with other edges or fades;
 * not here yet; no longer in the cut.
 */
export type ClipFate = 'same' | 'moved' | 'trimmed' | 'new' | 'gone';

export interface ComparedClip {
  readonly fate: ClipFate;
  /** As it is here; `null` when it is new. */
  readonly before: Clip | null;
  /** As it will be; `null` when it is gone. */
  readonly after: Clip | null;
  /** The name of the track that it comes to lie on, or lay on. */
  readonly track: string;
  /** What the cut says of its gain in all, dB, where that is neither 0 nor what it has here; else `null`. */
  readonly toldDb: number | null;
}

/** A cut that came back, beside what is here. */
export interface ComparedCut {
  /** In order of time. */
  readonly clips: readonly ComparedClip[];
  readonly counts: Readonly<Record<ClipFate, number>>;
  readonly missing: readonly MissingMedia[];
  readonly warnings: readonly string[];
  /** The programme as the cut has it: gains and all that was done by ear stay on what is still there. */
  readonly project: Project;
}

/** Edges of a cut that are off by less than this do not count as changed, frames in which it counts: it rounds to them. */
const SLACK_FRAMES = 0.5;

/** Gains nearer than this are the same, dB: lists round them. */
const SAME_DB = 0.05;

const sourceEnd = ({ sourceStart, length }: Clip): number => sourceStart + length;

/** Frames of their source that two clips share. */
const shared = (a: Clip, b: Clip): number =>
  Math.min(sourceEnd(a), sourceEnd(b)) - Math.max(a.sourceStart, b.sourceStart);

/** Takes a name apart that was given to the further rows of a track: see `writeOtio`. */
const trackName = (name: string): string => name.replace(/ \(\d+\)$/, '');

/**
 * Lays the tracks of a cut over those that are here: by their names; else, as lists only number them, by where most of their clips
 * lie here; else as new ones.
 */
function tracksOver(
  here: readonly Track[],
  cut: readonly Track[],
  matched: ReadonlyMap<Clip, Clip>,
): ReadonlyMap<Id, Track> {
  const byName = new Map(here.map((track) => [track.name, track]));
  const byId = new Map(here.map((track) => [track.id, track]));
  const votes = new Map<Id, Map<Id, number>>();
  for (const [told, before] of matched) {
    const counted = votes.get(told.trackId) ?? new Map<Id, number>();
    votes.set(told.trackId, counted.set(before.trackId, (counted.get(before.trackId) ?? 0) + 1));
  }
  const most = (id: Id): Track | undefined => {
    const [first] = [...(votes.get(id) ?? [])].sort(([, a], [, b]) => b - a);
    return first && byId.get(first[0]);
  };
  return new Map(
    cut.map((track) => [
      track.id,
      byName.get(track.name) ?? byName.get(trackName(track.name)) ?? most(track.id) ?? track,
    ]),
  );
}

/** Pairs what the cut has with what is here, the surest first. */
function pairs(here: readonly Clip[], cut: readonly Clip[], slack: number): ReadonlyMap<Clip, Clip> {
  const bySource = new Map<Id, Clip[]>();
  for (const clip of here) {
    const others = bySource.get(clip.sourceId);
    if (others) others.push(clip);
    else bySource.set(clip.sourceId, [clip]);
  }
  const free = new Set(here);
  const found = new Map<Clip, Clip>();
  const near = (a: number, b: number): boolean => Math.abs(a - b) <= slack;
  const sameSound = (a: Clip, b: Clip): boolean =>
    near(a.sourceStart, b.sourceStart) && near(sourceEnd(a), sourceEnd(b));
  const passes: readonly ((a: Clip, b: Clip) => boolean)[] = [
    (a, b) => sameSound(a, b) && near(a.start, b.start),
    sameSound,
    // Trimmed where it lies: its sound stays in its place.
    (a, b) => shared(a, b) > slack && near(a.start - a.sourceStart, b.start - b.sourceStart),
    (a, b) => shared(a, b) > slack,
  ];
  for (const fits of passes)
    for (const clip of cut) {
      if (found.has(clip)) continue;
      const among = (bySource.get(clip.sourceId) ?? []).filter((one) => free.has(one) && fits(clip, one));
      const [first] = among;
      if (!first) continue;
      const best = among.reduce(
        (nearest, one) =>
          Math.abs(one.start - clip.start) < Math.abs(nearest.start - clip.start) ? one : nearest,
        first,
      );
      free.delete(best);
      found.set(clip, best);
    }
  // What was cut in two stands for both of its parts.
  for (const clip of cut) {
    if (found.has(clip)) continue;
    const parent = (bySource.get(clip.sourceId) ?? []).find(
      (one) => clip.sourceStart >= one.sourceStart - slack && sourceEnd(clip) <= sourceEnd(one) + slack,
    );
    if (parent) found.set(clip, parent);
  }
  return found;
}

/**
 * Lists count from their first event: put where its timecode says that lies, unless fewer clips
 * lie then as they do here, or that is far behind its end.
 */
function inItsPlace(here: Project, laid: PlacedCut, { beginsAt }: Cut, slack: number): PlacedCut {
  if (beginsAt === undefined) return laid;
  const offset = Math.round((beginsAt - here.time.startSeconds) * here.sampleRate);
  if (offset <= 0) return laid;
  const places = new Map<string, number[]>();
  for (const { sourceId, start, sourceStart } of here.clips) {
    const known = places.get(sourceId);
    if (known) known.push(start - sourceStart);
    else places.set(sourceId, [start - sourceStart]);
  }
  const lying = (by: number): number =>
    laid.project.clips.filter(({ sourceId, start, sourceStart }) =>
      places.get(sourceId)?.some((place) => Math.abs(place - (start + by - sourceStart)) <= 2 * slack),
    ).length;
  const within = offset < programmeFrames(here);
  if (lying(offset) < lying(0) || (!within && lying(offset) === 0)) return laid;
  const clips = laid.project.clips.map((clip) => ({ ...clip, start: clip.start + offset }));
  return { ...laid, project: { ...laid.project, clips } };
}

/**
 * Holds a cut that comes back from the edit against the programme. A clip is known by its source and by what of it is used. What
 * is still there keeps its gain, its reason and everything else that was done here; place, edges and fades are the cut's.
 * @param media the programme's sources by `mediaKey`
 * @param newId gives an id for what is new
 */
export function compareCut(
  project: Project,
  cut: Cut,
  media: ReadonlyMap<string, Source>,
  newId: () => Id,
): ComparedCut {
  const slack = 1 + Math.ceil((SLACK_FRAMES / (cut.perSecond ?? Infinity)) * project.sampleRate);
  const counted = placeCut({ ...project, tracks: [], clips: [] }, cut, media, newId);
  const laid = inItsPlace(project, counted, cut, slack);
  const matched = pairs(project.clips, laid.project.clips, slack);
  const over = tracksOver(project.tracks, laid.project.tracks, matched);
  const nameOf = new Map([...project.tracks, ...over.values()].map(({ id, name }) => [id, name]));
  const totalDb = totalDbOf(project);
  const trims = new Map(project.sources.map(({ id, trimDb }) => [id, trimDb]));
  const taken = new Set<Clip>();
  const near = (a: number, b: number): boolean => Math.abs(a - b) <= slack;

  const compared = laid.project.clips.map((told): ComparedClip => {
    const trackId = over.get(told.trackId)!.id;
    const track = nameOf.get(trackId)!;
    const before = matched.get(told) ?? null;
    if (!before) return { fate: 'new', before, after: { ...told, trackId }, track, toldDb: null };
    const toldTotal = told.gain.db + told.trimDb - (trims.get(told.sourceId) ?? 0);
    const toldDb =
      Math.abs(toldTotal) > SAME_DB && Math.abs(toldTotal - totalDb(before)) > SAME_DB ? toldTotal : null;
    const again = taken.has(before);
    taken.add(before);
    const edges = near(told.sourceStart, before.sourceStart) && near(sourceEnd(told), sourceEnd(before));
    const fades = near(told.fadeIn, before.fadeIn) && near(told.fadeOut, before.fadeOut);
    const moved =
      !near(told.start - told.sourceStart, before.start - before.sourceStart) || trackId !== before.trackId;
    if (edges && fades && !moved) return { fate: 'same', before, after: before, track, toldDb };
    const { start, length, sourceStart, fadeIn, fadeOut, passthrough } = told;
    const place = edges && fades ? { start } : { start, length, sourceStart, fadeIn, fadeOut };
    const id = again ? newId() : before.id;
    const after: Clip = { ...before, id, trackId, ...place, passthrough };
    return { fate: edges && fades ? 'moved' : 'trimmed', before, after, track, toldDb };
  });
  const gone = project.clips
    .filter((clip) => !taken.has(clip))
    .map((before): ComparedClip => ({
      ...{ fate: 'gone', before, after: null, track: nameOf.get(before.trackId) ?? '', toldDb: null },
    }));
  const clips = [...compared, ...gone].sort(
    (a, b) => (a.after ?? a.before)!.start - (b.after ?? b.before)!.start,
  );
  const counts: Record<ClipFate, number> = { same: 0, moved: 0, trimmed: 0, new: 0, gone: 0 };
  for (const { fate } of clips) counts[fate]++;
  const added = [...over.values()].filter((track) => !project.tracks.includes(track));
  return {
    ...{ clips, counts, missing: laid.missing, warnings: laid.warnings },
    project: {
      ...project,
      passthrough: laid.project.passthrough,
      cutFaults: laid.project.cutFaults,
      markers: laid.project.markers,
      tracks: [...project.tracks, ...new Set(added)],
      clips: clips.flatMap(({ after }) => after ?? []),
      // A group of which nothing is left is gone with its clips.
      groups: keptGroups(project, clips),
    },
  };
}

/** The groups that still hold a clip, themselves or within. */
function keptGroups({ groups }: Project, clips: readonly ComparedClip[]): Project['groups'] {
  const parents = new Map(groups.map(({ id, parentId }) => [id, parentId]));
  const used = new Set<Id>();
  for (const { after } of clips)
    for (let id = after?.groupId ?? null; id !== null && !used.has(id); id = parents.get(id) ?? null)
      used.add(id);
  return groups.filter(({ id }) => used.has(id));
}
