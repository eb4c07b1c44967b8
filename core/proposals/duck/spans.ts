import type { TimeRange } from '@/core/loudness/levelTrack';
import { BLOCK_SECONDS } from '@/core/measuring/clipReading';
import { curveDbAt, curveOf } from '@/core/programme/curve';
import type { DuckTiming } from '@/core/programme/ducking';
import type { Clip, CurvePoint } from '@/core/programme/model';

/** Where sound steps aside: from the first word to the last, seconds of the programme. */
export interface DuckSpan extends TimeRange {
  /** When somebody speaks in it. */
  readonly words: readonly TimeRange[];
}

/** Where it is down and where it begins to move, seconds. */
export function edgesOf({ from, to }: TimeRange, { lookAheadMs, attackMs, holdMs, releaseMs }: DuckTiming) {
  const begins = from - lookAheadMs / 1000;
  const down = begins + attackMs / 1000;
  const holds = Math.max(down, to + holdMs / 1000);
  return { begins, down, holds, ends: holds + releaseMs / 1000 };
}

/**
 * Speech put together where its pauses are bridged, or too short to come up at all.
 * @param speech in order, seconds
 */
export function duckSpans(speech: readonly TimeRange[], timing: DuckTiming): DuckSpan[] {
  const spans: { from: number; to: number; words: TimeRange[] }[] = [];
  for (const word of speech) {
    const last = spans.at(-1);
    const bridged =
      last &&
      (word.from - last.to < timing.bridgeMs / 1000 ||
        edgesOf(word, timing).down <= edgesOf(last, timing).holds);
    if (bridged) {
      last.to = Math.max(last.to, word.to);
      last.words.push(word);
    } else spans.push({ ...word, words: [word] });
  }
  return spans;
}

/** Where nobody speaks in a range of time and no ramp goes, seconds; what is shorter than a gating block is left out. */
export function aloneRanges(
  spans: readonly DuckSpan[],
  timing: DuckTiming,
  from: number,
  to: number,
): TimeRange[] {
  const ranges: TimeRange[] = [];
  let at = from;
  const add = (until: number): void => {
    if (until - at >= BLOCK_SECONDS) ranges.push({ from: at, to: until });
  };
  for (const span of spans) {
    const { begins, ends } = edgesOf(span, timing);
    add(Math.min(to, begins));
    at = Math.max(at, ends);
  }
  add(to);
  return ranges;
}

/** A curve by time, seconds of the programme. */
interface Place {
  readonly at: number;
  readonly db: number;
}

/** From one span up and down into the next: where the two ramps meet, if they do before it is all the way up. */
function between(
  [underDb, nextDb]: readonly [number, number],
  aloneDb: number,
  before: ReturnType<typeof edgesOf>,
  after: ReturnType<typeof edgesOf>,
): Place[] {
  if (before.ends <= after.begins)
    return [
      { at: before.ends, db: aloneDb },
      { at: after.begins, db: aloneDb },
    ];
  const up = (aloneDb - underDb) / (before.ends - before.holds);
  const down = (aloneDb - nextDb) / (after.down - after.begins);
  if (up + down === 0) return [];
  const at = (aloneDb - underDb + up * before.holds + down * after.begins) / (up + down);
  return at > before.holds && at < after.down ? [{ at, db: underDb + up * (at - before.holds) }] : [];
}

/**
 * The gain curve of a clip that steps aside: as few points as say it.
 * @param underDb gain in each span, at most `aloneDb`
 * @param aloneDb gain between them
 */
export function duckCurve(
  clip: Pick<Clip, 'start' | 'length' | 'sourceStart'>,
  sampleRate: number,
  spans: readonly DuckSpan[],
  underDb: readonly number[],
  aloneDb: number,
  timing: DuckTiming,
): readonly CurvePoint[] {
  const edges = spans.map((span) => edgesOf(span, timing));
  const places = spans.flatMap((_, i): Place[] => {
    const { begins, down, holds, ends } = edges[i]!;
    const db = underDb[i]!;
    const next = edges[i + 1];
    return [
      ...(i === 0 ? [{ at: begins, db: aloneDb }] : []),
      { at: down, db },
      { at: holds, db },
      ...(next ? between([db, underDb[i + 1]!], aloneDb, edges[i]!, next) : [{ at: ends, db: aloneDb }]),
    ];
  });
  const { start, length, sourceStart } = clip;
  const points = places.map(({ at, db }) => ({ at: Math.round(at * sampleRate) - start + sourceStart, db }));
  if (points.length === 0) return curveOf(aloneDb === 0 ? [] : [{ at: sourceStart, db: aloneDb }]);
  // Beyond the clip there is nothing to say: its edges have what the curve has there.
  const end = sourceStart + length;
  const inside = points.filter(({ at }) => at > sourceStart && at < end);
  return curveOf([
    { at: sourceStart, db: curveDbAt(points, sourceStart) },
    ...inside,
    { at: end, db: curveDbAt(points, end) },
  ]);
}
