import { FAR_LU } from '@/core/text/overRest';

/** Places nearer to each other than this are one, seconds. */
const APART_SECONDS = 5;

/** Where the rest comes nearest to speech. */
export interface LowPlace {
  /** Seconds. */
  readonly at: number;
  /** Speech over the rest, LU. */
  readonly lu: number;
}

/**
 * The places where speech lies lowest over the rest, the lowest first; where nothing sounds beside it there is none.
 * @param distances see `OverTime.distances`
 * @param perSecond how many of them there are
 */
export function lowestPlaces(distances: Float32Array, perSecond: number, most: number): LowPlace[] {
  const order = Array.from(distances.keys())
    .filter((k) => distances[k]! < FAR_LU)
    .sort((a, b) => distances[a]! - distances[b]! || a - b);
  const found: LowPlace[] = [];
  for (const k of order) {
    if (found.length === most) break;
    const at = k / perSecond;
    if (found.every((place) => Math.abs(place.at - at) >= APART_SECONDS))
      found.push({ at, lu: distances[k]! });
  }
  return found;
}
