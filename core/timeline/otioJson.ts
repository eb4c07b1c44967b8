import { CutError } from './cut';

export type Json = Readonly<Record<string, unknown>>;

export const HINT = 'Export it again as OpenTimelineIO (.otio).';

export const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

export function damaged(what: string): CutError {
  return new CutError('damaged', `The timeline is damaged: ${what}.`, HINT);
}

/** “Clip” of “Clip.2”. */
export function kindOf(item: Json): string {
  const schema = item['OTIO_SCHEMA'];
  return typeof schema === 'string' ? schema.split('.')[0]! : '';
}

export const nameOf = (item: Json): string => (typeof item['name'] === 'string' ? item['name'] : '');

export const childrenOf = (item: Json): Json[] =>
  Array.isArray(item['children']) ? item['children'].filter(isObject) : [];

/** Seconds of a RationalTime. */
export function seconds(time: unknown, what: string): number {
  if (!isObject(time)) throw damaged(`${what} is missing`);
  const { value, rate } = time;
  if (typeof value !== 'number' || typeof rate !== 'number' || !Number.isFinite(value / rate) || rate <= 0)
    throw damaged(`${what} is no time`);
  return value / rate;
}

interface Range {
  readonly start: number;
  readonly length: number;
}

export function rangeOf(range: unknown, what: string): Range | null {
  if (!isObject(range)) return null;
  const found = {
    start: seconds(range['start_time'], `the start of ${what}`),
    length: seconds(range['duration'], `the length of ${what}`),
  };
  if (found.length < 0) throw damaged(`the length of ${what} is under zero`);
  return found;
}

/** What a clip plays: a version 2 clip may hold several, one of them in use. */
export function mediaOf(clip: Json): Json | null {
  const several = clip['media_references'];
  if (isObject(several)) {
    const active = clip['active_media_reference_key'];
    const chosen = several[typeof active === 'string' ? active : 'DEFAULT_MEDIA'];
    return isObject(chosen) ? chosen : null;
  }
  return isObject(clip['media_reference']) ? clip['media_reference'] : null;
}

export function fileName(url: string): string {
  const last = url.split(/[/\\]/).at(-1) ?? '';
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}

/** Under this name in a track's metadata stands what of it was not known. */
export const LEFT_OUT = 'dengung_left_out';
