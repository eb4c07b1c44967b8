import type { Project } from '@/core/programme/model';
import type { Cue } from './cues';
import type { CutMarker } from './cut';
import { bearable } from './foreign';
import { isObject, nameOf, rangeOf, type Json } from './otioJson';

type TimeOf = (frames: number) => Json;

/** The markers of a programme and more notes, for the timeline's stack; nothing where there are none. */
export function markersTold({ markers }: Project, notes: readonly Cue[], time: TimeOf): Json {
  const marker = (from: number, to: number, name: string, more: Json): Json => ({
    OTIO_SCHEMA: 'Marker.2',
    color: 'GREEN',
    ...more,
    name,
    marked_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(from), duration: time(to - from) },
  });
  const all = [
    ...markers.map(({ at, name, passthrough }) => marker(at, at, name, passthrough ?? {})),
    ...notes.map(({ from, to, name, comment }) => marker(from, to, name, { color: 'ORANGE', comment })),
  ];
  return all.length > 0 ? { markers: all } : {};
}

/** More markers than anybody would set. */
const MOST_MARKERS = 100_000;

/** The markers of a timeline. @returns those that have a place; what is left is as the file had it */
export function markersIn(stack: Json): { readonly markers: readonly CutMarker[]; readonly rest: Json } {
  const { markers: all, ...rest } = stack;
  if (!Array.isArray(all) || all.length > MOST_MARKERS) return { markers: [], rest: stack };
  const markers = all.filter(isObject).flatMap((marker): CutMarker[] => {
    const range = rangeOf(marker['marked_range'], 'a marker');
    return range === null || range.start < 0
      ? []
      : [{ seconds: range.start, name: nameOf(marker) || 'Marker', passthrough: bearable(marker) }];
  });
  return { markers, rest };
}
