import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { curveDifference, curveOf } from '@/core/programme/curve';
import { applyCurves, curveOtherwise, settledCurve, type WorkedCurve } from '@/core/programme/curveReason';
import { PART_GAIN } from '@/core/programme/gainField';
import type { Clip, CurvePoint, Id, Project } from '@/core/programme/model';
import { signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { evenedFor } from './curveFor';
import { evenOut, type Evened, type EvenFigures, type EvenRequest } from './evenOut';
import type { Proposal, ProposedRow } from './protocol';

/** A clip that is evened out. */
export interface EvenRow extends ProposedRow {
  readonly clip: Clip;
  readonly curve: readonly CurvePoint[];
  readonly figuresBefore: EvenFigures | null;
  readonly figuresAfter: EvenFigures | null;
}

const HOP_SECONDS = 0.1;

/** Points counted in 100 ms from a clip's start, as those of its curve. */
const curveFrom = ({ points }: Evened, { sourceStart }: Clip, sampleRate: number): readonly CurvePoint[] =>
  curveOf(points.map(({ at, db }) => ({ at: sourceStart + Math.round(at * HOP_SECONDS * sampleRate), db })));

const SKIPPED = {
  byHand:
    'Its gain curve was set by hand, or ducks it, and is left alone: tick “Replace other curves” to replace it.',
  notMeasured: 'It is still being measured.',
  silent: 'Nothing in it is over −70 LUFS.',
} as const;

function sentenceOf({ points, before, after, reached }: Evened, request: EvenRequest, same: boolean): string {
  if (same) return 'It stands as even as asked already.';
  if (points.every(({ db }) => Math.abs(db) < 0.05))
    return 'It is as even as asked already: nothing is moved.';
  const levels = points.map(({ db }) => db);
  const moved = `${signed(Math.min(...levels))} to ${signed(Math.max(...levels))} dB`;
  const range = `LRA ${withUnit(before.rangeLu, 'LU')} to ${withUnit(after.rangeLu, 'LU')}`;
  const most = `max short-term ${withUnit(before.maxShortTermLufs, 'LUFS')} to ${withUnit(after.maxShortTermLufs, 'LUFS')}`;
  const short = reached
    ? ''
    : request.way === 'maxShortTerm'
      ? ` ${withUnit(request.maxShortTermLufs, 'LUFS')} is not reached: it may move by ${request.rangeDb} dB at most.`
      : ` ${withUnit(request.maxRangeLu, 'LU')} is not reached within ${request.rangeDb} dB and ${request.dbPerSecond} dB a second.`;
  return `${moved} over time: ${range}, ${most}.${short}`;
}

/**
 * Evens clips out by a slow gain curve each.
 * @param bare what is measured of a clip without its curve, before its own gain and with all else that lies on it
 * @param release clips whose curve was set by hand get another all the same
 */
export function evenProposal(
  project: Project,
  clips: readonly Clip[],
  request: EvenRequest,
  bare: (clip: Clip) => ClipMeasurement | null,
  release = false,
): Proposal<EvenRow> {
  const rowOf = (clip: Clip): EvenRow => {
    const row = {
      ...{ id: clip.id, name: clip.name, clip },
      ...{ gainBeforeDb: 0, gainAfterDb: 0, truePeakAfter: null, exactPeakAfter: null },
      ...{ noiseFloorAfter: null, limitedBy: null, passesCeiling: false, warnings: [] },
    };
    const none = { curve: clip.curve, figuresBefore: null, figuresAfter: null, before: null, after: null };
    const skip = (skipped: keyof typeof SKIPPED): EvenRow => ({
      ...{ ...row, ...none, skipped, sentence: SKIPPED[skipped] },
    });
    if (!release && curveOtherwise(clip, 'evened')) return skip('byHand');
    const measurement = bare(clip);
    if (!measurement) return skip('notMeasured');
    const gain = 10 ** (clip.gain.db / 10);
    const evened = evenOut(
      measurement.hops.map((z) => z * gain),
      request,
    );
    if (!evened) return skip('silent');
    const curve = settledCurve(curveFrom(evened, clip, project.sampleRate), clip);
    const same = curve.length > 0 && curveDifference(curve, clip.curve) === null;
    return {
      ...{ ...row, curve, figuresBefore: evened.before, figuresAfter: evened.after },
      before: evened.before.integratedLufs,
      after: evened.after.integratedLufs,
      skipped: null,
      sentence: sentenceOf(evened, request, same),
    };
  };
  return {
    rows: clips.map(rowOf),
    unit: 'LUFS',
    gives: 'change',
    range: PART_GAIN,
    inexact: [],
    typed: (row) => row,
    edit: (current, rows) =>
      applyCurves(
        current,
        new Map(
          rows
            .filter(({ clip, curve, skipped }) => !skipped && curveDifference(curve, clip.curve) !== null)
            .map(({ id, clip, curve }): [Id, WorkedCurve] => [
              id,
              { curve, kind: 'evened', of: evenedFor(current, clip) },
            ]),
        ),
      ),
    step: (rows) => `Even out ${rows.length === 1 ? rows[0]!.name : count(rows.length, 'clip')}`,
  };
}
