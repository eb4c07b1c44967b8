import { CutError, type CutPoint } from './cut';

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

/** Under this name in a gain's metadata stands what it is over time: points of time in the media, and dB. */
export const GAIN_POINTS = 'dengung_points';
/** More points than a curve of hours would have. */
const MOST_POINTS = 100_000;

/** @throws CutError when they are not points */
function pointsOf(points: unknown): CutPoint[] {
  if (!Array.isArray(points) || points.length > MOST_POINTS)
    throw damaged('a gain over time is no list of points');
  return points.map((point: unknown): CutPoint => {
    const db = isObject(point) ? point['db'] : null;
    if (!isObject(point) || typeof db !== 'number' || !Number.isFinite(db))
      throw damaged('a point of a gain over time has no dB');
    return { seconds: seconds(point['time'], 'a point of a gain'), db };
  });
}

const GAIN = /^(audio.?)?(gain|volume)$/i;

/** The effects of an item: its gain in dB (`gain_db`, or `gain` as a factor, in the effect's metadata), and the others. */
export function effectsOf(item: Json): {
  readonly gainDb: number;
  readonly curve: readonly CutPoint[];
  readonly others: readonly Json[];
} {
  let gainDb = 0;
  let curve: readonly CutPoint[] = [];
  const others: Json[] = [];
  for (const effect of Array.isArray(item['effects']) ? item['effects'].filter(isObject) : []) {
    const metadata = isObject(effect['metadata']) ? effect['metadata'] : {};
    const { gain_db: inDb, gain: factor } = metadata;
    if (GAIN.test(effectName(effect)) && typeof inDb === 'number' && Number.isFinite(inDb)) {
      gainDb += inDb;
      if (GAIN_POINTS in metadata) curve = pointsOf(metadata[GAIN_POINTS]);
    } else if (GAIN.test(effectName(effect)) && typeof factor === 'number' && factor > 0)
      gainDb += 20 * Math.log10(factor);
    else others.push(effect);
  }
  return { gainDb, curve, others };
}

export const effectName = (effect: Json): string =>
  typeof effect['effect_name'] === 'string' ? effect['effect_name'] : nameOf(effect);

/** Under this name in a track's metadata stands what of it was not known. */
export const LEFT_OUT = 'dengung_left_out';
