import type { MovingFigures } from './movingFigures';

/** Close enough to the goal to be there, LU. */
const CLOSE = 1e-7;
/** How finely the way is looked over before each place is closed in on, dB. */
const STEP = 0.5;
const HALVINGS = 60;

/** A gain, and what the programme then measures. */
interface Reached {
  readonly changeDb: number;
  readonly integratedLufs: number;
}

export interface MovingSolution {
  /** The change of the moving part's gain nearest to none that puts the programme at the goal; `null` when there is none. */
  readonly answer: number | null;
  /** The nearest the programme comes; `null` when it has nothing to measure at any gain. */
  readonly nearest: Reached | null;
}

/**
 * The change of gain on a part of a programme that brings the whole to a loudness. Gates make loudness jump as gain
 * moves, so it may pass the goal without ever being there, or be there more than once: the whole way is looked over, each
 * place where it passes the goal is closed in on by halving, and only what is there when evaluated is an answer.
 * @param minDb least change allowed; `maxDb` the largest
 */
export function solveMoving(
  figures: Pick<MovingFigures, 'at'>,
  goalLufs: number,
  minDb: number,
  maxDb: number,
): MovingSolution {
  let nearest: Reached | null = null;
  /** What is over (positive) or under the goal; nothing to measure is under everything. */
  const off = (changeDb: number): number => {
    const { integratedLufs } = figures.at(changeDb);
    if (integratedLufs === null) return -Infinity;
    if (!nearest || Math.abs(integratedLufs - goalLufs) < Math.abs(nearest.integratedLufs - goalLufs))
      nearest = { changeDb, integratedLufs };
    return integratedLufs - goalLufs;
  };
  const closeIn = (from: number, to: number, offFrom: number): number | null => {
    let [a, b, offA] = [from, to, offFrom];
    for (let i = 0; i < HALVINGS; i++) {
      const middle = (a + b) / 2;
      const offMiddle = off(middle);
      if (Math.abs(offMiddle) < CLOSE) return middle;
      if (offMiddle > 0 === offA > 0) [a, offA] = [middle, offMiddle];
      else b = middle;
    }
    return null;
  };
  const places: number[] = [0];
  for (let db = STEP; db < Math.max(-minDb, maxDb) + STEP; db += STEP) {
    if (db - STEP < maxDb) places.push(Math.min(db, maxDb));
    if (db - STEP < -minDb) places.unshift(Math.max(-db, minDb));
  }
  const inRange = places.filter((db) => db >= minDb && db <= maxDb);
  const offs = inRange.map(off);
  let answer: number | null = null;
  const offer = (db: number | null): void => {
    if (db !== null && (answer === null || Math.abs(db) < Math.abs(answer))) answer = db;
  };
  inRange.forEach((db, i) => {
    if (Math.abs(offs[i]!) < CLOSE) offer(db);
    const next = inRange[i + 1];
    if (next !== undefined && offs[i]! > 0 !== offs[i + 1]! > 0) offer(closeIn(db, next, offs[i]!));
  });
  return { answer, nearest };
}
