import { drifts } from '@/core/check/findings/course';
import type { Finding } from '@/core/check/findings/finding';
import { dbToPower, meanSquareToLufs } from '@/core/loudness/decibels';
import { loudnessOf } from '@/core/loudness/figures';
import { PEAK_BLOCKS_PER_SECOND, SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { hopMeans } from '@/core/loudness/windows';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import { PART_GAIN } from '@/core/programme/gainField';
import type { CurvePoint } from '@/core/programme/model';
import { signed, withUnit } from '@/core/text/figures';
import { withFix, type Fix, type FixChange } from './fix';
import { rideDbAt, type RidePoint } from './rideCurve';
import { resultOf, type Workshop } from './workshop';

/** Points of a ride lie so far apart, and follow the level over so much around each, seconds. */
const STEP_SECONDS = 5;
const AROUND_SECONDS = 7.5;
/** A ride follows the level so far from the programme’s loudness, LU: what is quieter or louder moves along with that. */
const FOLLOWED_LU = 10;
/** What is found is brought so far within its limit, LU; rendered, it may need a little more. */
const SPARE_LU = 0.1;
const MOST_TRIES = 3;
const MORE = 1.04;

/** Whether a curve can have a ride on it without coming to an end of what it can be. */
const fits = (curve: readonly CurvePoint[], points: readonly RidePoint[]): boolean =>
  points.every(({ at, db }) => {
    const sum = curveDbAt(curve, at) + db;
    return curveDbAt(curve, at) <= SILENT_DB || (sum >= PART_GAIN.min && sum <= PART_GAIN.max);
  });

/** Energies with a ride on them: as they will be but for what limiters do, and within a sub-block. */
function ridden({ material }: Workshop, points: readonly RidePoint[]): Float64Array {
  const { energy, sampleRate } = material;
  return energy.map(
    (e, k) => e * dbToPower(rideDbAt(points, ((k + 0.5) * sampleRate) / SUB_BLOCKS_PER_SECOND)),
  );
}

/** A ride from one level at the start to another at the end. */
const slope = ({ material: { seconds, sampleRate } }: Workshop, db: number): readonly RidePoint[] => [
  { at: 0, db: -db / 2 },
  { at: Math.round(seconds * sampleRate), db: db / 2 },
];

/** A ride that brings the level nearer to the programme’s loudness by a part of its distance; away from it where `part` < 0. */
function nearer({ material }: Workshop, part: number): readonly RidePoint[] {
  const { energy, sampleRate, seconds, figures } = material;
  const blocks = hopMeans(energy, sampleRate);
  const middle = figures.integratedLufs ?? -23;
  const count = Math.max(2, Math.ceil(seconds / STEP_SECONDS) + 1);
  return Array.from({ length: count }, (_, i) => {
    const at = Math.min(seconds, i * STEP_SECONDS);
    const from = Math.max(0, Math.round((at - AROUND_SECONDS) * PEAK_BLOCKS_PER_SECOND));
    const to = Math.min(blocks.length, Math.round((at + AROUND_SECONDS) * PEAK_BLOCKS_PER_SECOND));
    let sum = 0;
    for (let k = from; k < to; k++) sum += blocks[k]!;
    const lufs = meanSquareToLufs(sum / Math.max(1, to - from)) ?? -Infinity;
    const off = Math.max(-FOLLOWED_LU, Math.min(FOLLOWED_LU, lufs - middle));
    return { at: Math.round(at * sampleRate), db: -part * off };
  });
}

/** How far a kind of finding is still from where it should be, LU; 0 or less where it is gone. */
type Left = (
  energy: Float64Array,
  workshop: Workshop,
) => { readonly over: number; readonly value: number | null };

const driftLeft: Left = (energy, { material, thresholds }) => {
  const value = drifts({ ...material, energy }, { ...thresholds, driftLu: 0 })[0]?.value ?? 0;
  return { over: Math.abs(value) - thresholds.driftLu, value };
};

const rangeLeft =
  (limit: number, tooLarge: boolean): Left =>
  (energy, { material }) => {
    const value = loudnessOf(energy, material.sampleRate).loudnessRangeLu ?? 0;
    return { over: tooLarge ? value - limit : limit - value, value };
  };

/** The least amount, of those from 0 to 1, with which a finding is gone as far as can be told without rendering. */
function leastAmount(
  workshop: Workshop,
  at: (amount: number) => readonly RidePoint[],
  left: Left,
): number | null {
  const isGone = (amount: number): boolean => left(ridden(workshop, at(amount)), workshop).over <= -SPARE_LU;
  if (!isGone(1)) return null;
  let [low, high] = [0, 1];
  for (let pass = 0; pass < 10; pass++) {
    const middle = (low + high) / 2;
    if (isGone(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/** A drift or a loudness range mended by riding the programme’s gain: slowly, and by as little as does it. */
export async function riddenOut(
  finding: Finding,
  workshop: Workshop,
): Promise<Omit<Fix, 'findingId'> | null> {
  const { project, tryOut } = workshop;
  const { kind, value, limit } = finding;
  if (value === null || limit === null) return null;
  const tooLarge = value > limit;
  const isDrift = kind === 'drift';
  const ride = (amount: number): readonly RidePoint[] =>
    isDrift ? slope(workshop, -value * amount) : nearer(workshop, tooLarge ? amount : -amount);
  const left = isDrift ? driftLeft : rangeLeft(limit, tooLarge);
  let amount = leastAmount(workshop, ride, left);
  for (let pass = 0; amount !== null && amount <= 1 && pass < MOST_TRIES; pass++) {
    const points = ride(amount);
    if (!fits(project.curve, points)) return null;
    const change: FixChange = { kind: 'ride', points };
    const state = await tryOut(withFix(project, change));
    const after = left(state.energy, workshop);
    amount *= MORE;
    if (after.over > 0) continue;
    const dbs = points.map(({ db }) => db);
    const [least, most] = isDrift ? [dbs[0]!, dbs[1]!] : [Math.min(...dbs), Math.max(...dbs)];
    const what = `a gain curve on the programme, ${signed(least)} to ${signed(most)} dB`;
    const result = resultOf(state, workshop);
    const comes = isDrift
      ? `it drifts by ${signed(after.value)} LU`
      : `a loudness range of ${withUnit(after.value, 'LU')}`;
    return {
      ...{ change, what, before: value, after: after.value, mends: true },
      ...result,
      sentence: `${what[0]!.toUpperCase()}${what.slice(1)}: ${comes}, programme ${signed(result.changeLu, 2)} LU.`,
    };
  }
  return null;
}
