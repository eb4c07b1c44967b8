import type { GainRoom } from '@/core/programme/clipGain';
import { dbToAmplitude } from '@/core/loudness/decibels';

/**
 * How a programme's energies follow from those that were taken, while something is dragged.
 *
 * `gain`: one gain on all that moves, at all times. With what moves M and the rest F, K-weighted separately, the energy of a
 * sub-block is ⟨F,F⟩ + 2g·⟨F,M⟩ + g²·⟨M,M⟩, as K-weighting is linear: exact at any gain.
 *
 * `states`: what moves goes up and down by different amounts at different places, each by a part of the change between 0 and
 * 1 (a part of a clip with its ramps, points of a curve). Each sample is then multiplied by g^w, 0 ≤ w ≤ 1, and each energy
 * is a sum of g^s, 0 ≤ s ≤ 2. It is measured at some changes, and between them it is a polynomial in u = g^(2/(n−1)), n the
 * number of states: exact wherever the gain is the same throughout, where it is of degree n−1 and no more.
 */
export type MovingLaw = { readonly kind: 'gain' } | StatesLaw;

export interface StatesLaw {
  readonly kind: 'states';
  /** The changes at which states are taken, dB, upwards. */
  readonly changesDb: readonly number[];
  /** Between which changes it holds, dB. */
  readonly fromDb: number;
  readonly toDb: number;
}

/** Over 30 dB so many states leave less than 1e-5 LU of error in the steepest ramp. */
const STATES = 9;
const WIDEST_DB = 30;

const powerOf = (states: number): number => 2 / (states - 1);
const root = (changeDb: number, states: number): number => dbToAmplitude(changeDb * powerOf(states));

/**
 * The states for changes around a place: 15 dB either way, as far as there is room.
 * @returns `null` where there is none
 */
export function statesAround(aroundDb: number, room: GainRoom): StatesLaw | null {
  const fromDb = Math.max(room.minDb, aroundDb - WIDEST_DB / 2);
  const toDb = Math.min(room.maxDb, aroundDb + WIDEST_DB / 2);
  return toDb - fromDb < 0.1 ? null : statesBetween(fromDb, toDb);
}

/** The states for changes from one to another, at the Chebyshev nodes in u. */
function statesBetween(fromDb: number, toDb: number): StatesLaw {
  const [low, high] = [root(fromDb, STATES), root(toDb, STATES)];
  const changesDb = Array.from({ length: STATES }, (_, k) => {
    const across = Math.cos((Math.PI * (2 * k + 1)) / (2 * STATES));
    return (20 * Math.log10((low + high - (high - low) * across) / 2)) / powerOf(STATES);
  });
  return { kind: 'states', changesDb, fromDb, toDb };
}

/** Whether a change lies where the law holds. */
export const covers = (law: MovingLaw, changeDb: number): boolean =>
  law.kind === 'gain' || (changeDb >= law.fromDb && changeDb <= law.toDb);

/** By how much each of the energies that were taken counts at a change. */
export function energyWeights(law: MovingLaw, changeDb: number): readonly number[] {
  if (law.kind === 'gain') {
    const factor = changeDb === -Infinity ? 0 : dbToAmplitude(changeDb);
    return [1, 2 * factor, factor * factor];
  }
  const n = law.changesDb.length;
  const u = root(changeDb, n);
  const nodes = law.changesDb.map((db) => root(db, n));
  return nodes.map((node, j) =>
    nodes.reduce((weight, other, i) => (i === j ? weight : (weight * (u - other)) / (node - other)), 1),
  );
}

/** The two states between which a change lies, and how far on its way from one to the other (in dB). */
export function statesBeside(
  changesDb: readonly number[],
  changeDb: number,
): readonly [index: number, part: number] {
  const after = changesDb.findIndex((db) => db > changeDb);
  const index = Math.max(0, (after < 0 ? changesDb.length : after) - 1);
  const from = Math.min(index, changesDb.length - 2);
  return [from, (changeDb - changesDb[from]!) / (changesDb[from + 1]! - changesDb[from]!)];
}
