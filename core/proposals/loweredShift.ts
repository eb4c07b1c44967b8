import { isOver } from '@/core/check/judge';
import { amplitudeToDb, dbToPower } from '@/core/loudness/decibels';
import { integrated } from '@/core/loudness/gating';
import { PEAK_BLOCKS_PER_SECOND, SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import type { ProgrammeLevels } from '@/core/measuring/movingFigures';
import { curveDbAt } from '@/core/programme/curve';
import { everythingRoom, moveEverything } from '@/core/programme/edits/levels';
import { lowerParts } from '@/core/programme/edits/sections';
import type { CurvePoint, Project } from '@/core/programme/model';
import { RAMP_SECONDS } from '@/core/programme/sections';
import { MUCH_OF_THE_TIME } from '@/core/signal/limiter/presets';
import { clock, figure, signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { Proposal, ProposedRow } from './protocol';

/** A place where peaks pass the ceiling. */
export interface PlaceOver {
  /** Seconds of the programme, in whole tenths. */
  readonly from: number;
  readonly to: number;
  /** By how much it has to go down, dB, with a little to spare. */
  readonly db: number;
}

/** Places closer to each other than this are one, seconds. */
const APART = 0.3;
/** How far under the ceiling a place is brought: a ramp beside a peak moves it a little, dB. */
const SPARE_DB = 0.05;
/** So many places are told by name. */
const NAMED = 4;
/** More places than this a minute are the work of a limiter. */
const MANY_A_MINUTE = 4;
/** As near as the loudness is brought, LU, and in how many passes at most. */
const CLOSE_LU = 0.001;
const MOST_PASSES = 12;
/** Farther away than this the target is not reached, LU. */
const OFF_LU = 0.05;

/** Where peaks pass a ceiling with so much more gain, in order. @param truePeaks linear, one every 100 ms */
export function placesOver(truePeaks: Float32Array, shiftDb: number, ceilingDbtp: number): PlaceOver[] {
  const places: PlaceOver[] = [];
  truePeaks.forEach((peak, k) => {
    const level = (amplitudeToDb(peak) ?? -Infinity) + shiftDb;
    if (!isOver(level, ceilingDbtp)) return;
    const [from, to] = [k / PEAK_BLOCKS_PER_SECOND, (k + 1) / PEAK_BLOCKS_PER_SECOND];
    const db = level - ceilingDbtp + SPARE_DB;
    const last = places.at(-1);
    if (last && from - last.to < APART)
      places[places.length - 1] = { from: last.from, to, db: Math.max(last.db, db) };
    else places.push({ from, to, db });
  });
  return places;
}

/** A curve that is lower at some places, and as it was everywhere else. */
function loweredCurve(
  curve: readonly CurvePoint[],
  places: readonly PlaceOver[],
  sampleRate: number,
): readonly CurvePoint[] {
  const ramp = Math.round(RAMP_SECONDS * sampleRate);
  return lowerParts(
    curve,
    places.map(({ from, to, db }) => {
      const [start, end] = [Math.round(from * sampleRate), Math.round(to * sampleRate)];
      return { from: start - ramp, start, end, to: end + ramp, db };
    }),
  );
}

/** The integrated loudness with another curve in the place of one that differs at some places, LUFS. */
function loudnessWith(
  { energy, sampleRate }: Pick<ProgrammeLevels, 'energy' | 'sampleRate'>,
  before: readonly CurvePoint[],
  after: readonly CurvePoint[],
  places: readonly PlaceOver[],
): number | null {
  const changed = energy.slice();
  const block = (seconds: number): number => seconds * SUB_BLOCKS_PER_SECOND;
  for (const { from, to } of places) {
    const end = Math.min(energy.length, Math.ceil(block(to + RAMP_SECONDS)));
    for (let k = Math.max(0, Math.floor(block(from - RAMP_SECONDS))); k < end; k++) {
      const middle = ((k + 0.5) / SUB_BLOCKS_PER_SECOND) * sampleRate;
      const db = curveDbAt(after, middle) - curveDbAt(before, middle);
      if (changed[k] !== 0) changed[k]! *= dbToPower(db);
    }
  }
  return integrated(gatingBlocks(changed, sampleRate)).integratedLufs;
}

/**
 * The programme to its target by one change of every track's gain, with the places that would pass the ceiling lowered on the
 * programme's gain curve: nothing else changes.
 * @param level as it stands now
 * @returns `null` when the programme has nothing to measure
 */
export function loweredShift(level: ProgrammeLevels, project: Project): Proposal | null {
  const { target, sampleRate, curve } = project;
  const goal = target.integratedLufs;
  const ceilingDbtp = target.maxTruePeakDbtp;
  const before = loudnessWith(level, curve, curve, []);
  if (before === null) return null;
  const room = everythingRoom(project);
  const within = (db: number): number => Math.min(room.maxDb, Math.max(room.minDb, db));
  const at = (db: number) => {
    const places = placesOver(level.truePeaks, db, ceilingDbtp);
    const lowered = loweredCurve(curve, places, sampleRate);
    return { gainDb: db, places, after: (loudnessWith(level, curve, lowered, places) ?? before) + db };
  };
  const seconds = level.truePeaks.length / PEAK_BLOCKS_PER_SECOND;
  const peak = level.truePeaks.reduce((most, one) => Math.max(most, one), 0);
  const peakDb = amplitudeToDb(peak) ?? -Infinity;
  const tooMuch = ({ places }: { readonly places: readonly PlaceOver[] }): boolean =>
    places.reduce((sum, { from, to }) => sum + to - from, 0) > MUCH_OF_THE_TIME * seconds;
  let best = at(within(goal - before));
  if (tooMuch(best)) {
    // As far as it goes: from where no peak passes the ceiling on.
    let [low, high] = [Math.min(best.gainDb, within(ceilingDbtp - peakDb)), best.gainDb];
    for (let pass = 0; pass < MOST_PASSES; pass++) {
      const middle = (low + high) / 2;
      if (tooMuch(at(middle))) high = middle;
      else low = middle;
    }
    best = at(low);
  } else {
    // Lower places make it quieter, and more gain lets more of them pass.
    for (let pass = 1; pass < MOST_PASSES; pass++) {
      const next = at(within(best.gainDb + goal - best.after));
      if (tooMuch(next) || Math.abs(next.after - goal) > Math.abs(best.after - goal) - CLOSE_LU) break;
      best = next;
    }
  }
  const { gainDb, places, after } = best;
  const deepest = places.reduce((most, { db }) => Math.max(most, db), 0);
  const row: ProposedRow = {
    ...{ id: 'programme', name: 'Programme', before, gainBeforeDb: 0, gainAfterDb: gainDb, after },
    truePeakAfter: places.length > 0 ? ceilingDbtp - SPARE_DB : peakDb + gainDb,
    ...{ exactPeakAfter: null, noiseFloorAfter: null, skipped: null, passesCeiling: false, limitedBy: null },
    warnings: [],
    sentence: [
      `${signed(gainDb, 2)} dB on every track: ${withUnit(after, 'LUFS')}.`,
      ...(places.length > 0 || Math.abs(after - goal) <= OFF_LU
        ? placeSentences(places, deepest, seconds / 60)
        : []),
      ...shortSentences(after - goal, gainDb === room.maxDb || gainDb === room.minDb),
    ].join(' '),
  };
  return {
    rows: [row],
    unit: 'LUFS',
    gives: 'change',
    // Other places pass the ceiling at another gain.
    range: { name: 'The change', min: gainDb, max: gainDb },
    inexact: [],
    typed: (same) => same,
    edit: (current, [shifted]) =>
      shifted
        ? {
            ...moveEverything(current, shifted.gainAfterDb),
            curve: loweredCurve(current.curve, places, sampleRate),
          }
        : current,
    step: () =>
      places.length > 0
        ? `Bring programme to ${withUnit(goal, 'LUFS')}, ${count(places.length, 'place')} lowered`
        : `Bring programme to ${withUnit(goal, 'LUFS')}`,
  };
}

/** Why the goal is not reached. @param offLu how far it is away */
function shortSentences(offLu: number, atEnd: boolean): string[] {
  if (Math.abs(offLu) <= OFF_LU) return [];
  return [
    atEnd
      ? 'A track’s gain goes no further.'
      : `That is ${signed(offLu)} LU from the target: more than ${Math.round(100 * MUCH_OF_THE_TIME)} % of it would have to go down.`,
  ];
}

function placeSentences(places: readonly PlaceOver[], deepest: number, minutes: number): string[] {
  if (places.length === 0) return ['No peak comes to the ceiling: no place is lowered.'];
  const named = places.slice(0, NAMED).map(({ from }) => clock(from));
  const more = places.length > NAMED ? ` and ${count(places.length - NAMED, 'more place')}` : '';
  return [
    `On the programme’s gain curve ${count(places.length, 'place')} ${places.length === 1 ? 'goes' : 'go'} down by up to ${figure(deepest)} dB, so that no peak passes the ceiling: ${named.join(', ')}${more}.`,
    ...(places.length > MANY_A_MINUTE * Math.max(1, minutes)
      ? ['These are many places: a limiter does this with less to be heard.']
      : []),
  ];
}
