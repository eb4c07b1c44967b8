import { clock, signed, withUnit } from '@/core/text/figures';
import type { Id } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { exactPeakToShow } from './exactPeak';
import { heldWords, type Held } from './held';
import type { LevelRequest, SkipReason, Subject } from './proposal';
import { readClip, UNIT } from '@/core/measuring/clipReading';

/** How a place in something is told. @param id of the clip, source or file @param seconds of it */
export type PlaceTold = (id: Id, seconds: number) => string;

export const placeInClip: PlaceTold = (_, seconds) => clock(seconds);

export const SKIPPED: Readonly<Record<SkipReason, string>> = {
  silent: 'Skipped: nothing in it is over −70 LUFS.',
  tooShort: 'Skipped: too short for this measure.',
  notMeasured: 'Skipped: it is still being measured.',
  noSpeech: 'Skipped: nobody speaks in it, as its subtitles say.',
  byHand: 'Set by hand and left alone: release it to level it.',
  limiter:
    'Left alone: its limiter is at work, and its figures are before that. Level it through a limiter, or take it off.',
};

/** A change by more than this is rarely meant, dB. */
const SANE_DB = 20;
/** The loudest three seconds may be this far over the rest before one gain is too blunt for all of it, LU. */
const EVEN_LU = 9;

/** Who has the same change: all clips, those of the clip's set, or no other (`null`). */
export type Shared = 'all' | 'set' | null;

type Measured = Subject & { readonly measurement: ClipMeasurement };

interface Told {
  readonly before: number | null;
  readonly after: number | null;
  readonly held: Held;
  readonly passesCeiling: boolean;
  readonly needsLimiter: boolean;
  readonly truePeakAfter: number | null;
  readonly shared: Shared;
  /** What was set by ear on its track and groups, and stays on top of the goal, dB. */
  readonly onTopDb: number;
  /** Whose peak or gain holds all of them, where it is another. */
  readonly holder: Measured;
}

/** A row in one sentence. */
export function explain(request: LevelRequest, told: Told, place: PlaceTold): string {
  const { before, after, held, passesCeiling, truePeakAfter, shared, onTopDb, holder } = told;
  const unit = UNIT[request.measure];
  const who = shared === null ? '' : shared === 'all' ? 'All together ' : 'Its set together ';
  const { figures, exactTruePeakDbtp } = holder.measurement;
  const heard = readClip(holder.measurement, 0);
  const exact = exactPeakToShow(figures.truePeakDbtp, exactTruePeakDbtp ?? null) !== null;
  const peak = `the ${exact ? 'exact ' : ''}peak at ${place(holder.id, heard.peakAt ?? 0)}`;
  const of = shared === null ? '' : ` of ${holder.name}`;
  const stopped = heldWords(held, {
    peak: `${peak}${of}`,
    ceilingDbtp: request.ceilingDbtp,
    gain: `the ${holder.range.name.toLowerCase()}${of}`,
  });
  const kept = onTopDb === 0 ? '' : `; ${signed(onTopDb)} dB of track and group, set by ear, stay on top`;
  if (stopped !== null) return `${who}${stopped}${kept}.`;
  const from = `${withUnit(before, unit)}, to ${withUnit(shared !== null ? after : request.goal + onTopDb, unit)}`;
  const ungated = request.measure === 'integrated' && heard.ungated && shared === null;
  const goes = `; ${peak} ${told.needsLimiter ? 'would go' : 'goes'} to ${withUnit(truePeakAfter, 'dBTP')}`;
  const past = passesCeiling
    ? `${goes}, past the ceiling`
    : told.needsLimiter
      ? `${goes} without a limiter`
      : '';
  return `${from}: ${signed(held.changeDb)} dB${shared === null ? '' : shared === 'all' ? ', the same for all' : ', the same for all of its set'}${ungated ? ' (ungated: shorter than 400 ms)' : ''}${past}${kept}.`;
}

/** The loudest three seconds of a clip, where they are so far over all of it that one gain is too blunt; else `null`. */
export function farPart({
  figures,
  maxShortTermAt: at,
}: ClipMeasurement): { at: number; overLu: number } | null {
  const { maxShortTermLufs, integratedLufs } = figures;
  if (maxShortTermLufs === null || integratedLufs === null || at === null) return null;
  const overLu = maxShortTermLufs - integratedLufs;
  return overLu > EVEN_LU ? { at, overLu } : null;
}

/** What is to check when a clip gets a gain. */
export function warningsOf(
  { id, gain, measurement }: Measured,
  gainAfterDb: number,
  request: LevelRequest,
  place: PlaceTold,
): string[] {
  const change = gainAfterDb - gain.db;
  const warnings: string[] = [];
  const { noiseFloorLufs: floor } = readClip(measurement, gainAfterDb);
  if (request.floorLufs !== null && change > 0 && floor !== null && floor > request.floorLufs)
    warnings.push(`Its noise floor comes up to ${withUnit(floor, 'LUFS')}.`);
  if (Math.abs(change) > SANE_DB)
    warnings.push(`${signed(change)} dB is a lot: check that this is the right clip.`);
  const far = farPart(measurement);
  if (far)
    warnings.push(
      `The three seconds at ${place(id, far.at)} are ${withUnit(far.overLu, 'LU')} over all of it: a gain on that part only would work better.`,
    );
  return warnings;
}
