import { clipEnd, type Project } from '@/core/programme/model';
import { heardClips, type Heard } from './audible';
import { CLIP_PATH, PROGRAMME_PATH, TRACK_PATH } from './path';
import { differenceAlong, isLinear, type Span } from './station';
import type { TrackSound } from './trackSound';

const within = (span: Span | null, from: number, to: number): Span | null => {
  if (!span) return null;
  const cut = { from: Math.max(from, span.from), to: Math.min(to, span.to) };
  return cut.from < cut.to ? cut : null;
};

const placeOf = ({ clip }: Heard): Span => ({ from: clip.start, to: clipEnd(clip) });

/** Where a change of these frames of a track is heard, behind the stations of the track. */
const behind = (bus: TrackSound, span: Span | null): Span | null =>
  differenceAlong(TRACK_PATH, bus, bus, span);

/** Where in the programme a clip's coming or going is heard. */
const comesOrGoes = (heard: Heard): Span | null => behind(heard.bus, placeOf(heard));

/** Whether two clips go through one sum, or through sums that make no difference. */
const sameBus = (a: TrackSound, b: TrackSound): boolean =>
  a.track.id === b.track.id || (isLinear(TRACK_PATH, a) && isLinear(TRACK_PATH, b));

/** Where in the programme it is heard that a clip, or the track that it goes through, was changed. */
function changed(a: Heard, b: Heard): readonly (Span | null)[] {
  if (a.sound === b.sound && a.bus === b.bus) return [];
  const moved = a.clip.start !== b.clip.start || a.clip.length !== b.clip.length;
  if (moved || !a.sound || !b.sound || !sameBus(a.bus, b.bus)) return [comesOrGoes(a), comesOrGoes(b)];
  const { start, length } = a.clip;
  const own = a.sound === b.sound ? null : within(differenceAlong(CLIP_PATH, a.sound, b.sound), 0, length);
  const placed = own && { from: own.from + start, to: own.to + start };
  // Where the clip is silent its track changes nothing for it.
  const byTrack =
    a.bus === b.bus ? null : within(differenceAlong(TRACK_PATH, a.bus, b.bus), start, start + length);
  return [behind(a.bus, placed), behind(b.bus, placed), byTrack];
}

/** Whether two states are of one project, at one rate, in one layout: only then can they be held against each other clip by clip. */
export const areAlike = (a: Project, b: Project): boolean =>
  a.id === b.id && a.sampleRate === b.sampleRate && a.layoutId === b.layoutId && a.monoLaw === b.monoLaw;

/** Over which frames two states of a project sound different: clip by clip, in no order, perhaps overlapping. */
export function soundDifferences(a: Project, b: Project): Span[] {
  const [before, now] = [heardClips(a), heardClips(b)];
  const spans: (Span | null)[] = [];
  for (const [id, heard] of now) {
    const old = before.get(id);
    spans.push(...(old ? changed(old, heard) : [comesOrGoes(heard)]));
  }
  for (const [id, heard] of before) if (!now.has(id)) spans.push(comesOrGoes(heard));
  const whole = differenceAlong(PROGRAMME_PATH, a, b);
  return [
    ...spans.flatMap((span) => differenceAlong(PROGRAMME_PATH, b, b, span) ?? []),
    ...(whole ? [whole] : []),
  ];
}
