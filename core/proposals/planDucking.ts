import { meanSquareToLufs } from '@/core/loudness/decibels';
import { largest } from '@/core/loudness/figures';
import { integrated } from '@/core/loudness/gating';
import { mergeRanges } from '@/core/loudness/levelTrack';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { curveDifference } from '@/core/programme/curve';
import { curveOtherwise, curveReasonOf, settledCurve, type WorkedCurve } from '@/core/programme/curveReason';
import { dialogueRanges } from '@/core/programme/dialogue';
import { clipEnd, type Clip, type Id, type Project, type Role } from '@/core/programme/model';
import { duckTimingOf, type Plan, type PlanLevel } from '@/core/programme/plan';
import { figure, signed } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { duckedFor } from './curveFor';
import { blocksIn } from './duck/levels';
import { aloneRanges, duckCurve, duckSpans, edgesOf, type DuckSpan } from './duck/spans';
import type { MeasuredClip, ProposalRow } from './proposal';

/** Music that is heard alone for less than this is levelled as a whole, gating blocks: three seconds. */
const LEAST_ALONE = 27;
/** Three seconds of gating blocks, 400 ms every 100 ms. */
const SHORT_TERM_BLOCKS = 27;

/** What a measure reads of some gating blocks. */
function readBlocks(blocks: Float64Array, measure: PlanLevel['measure']): number | null {
  if (measure === 'integrated') return integrated(blocks).integratedLufs;
  if (measure === 'maxMomentary') return meanSquareToLufs(largest(blocks));
  // Of three seconds there is only the mean of their blocks, whose edges count for less: a good tenth off at most.
  let most = 0;
  for (let k = 0; k + SHORT_TERM_BLOCKS <= blocks.length; k++) {
    const some = blocks.subarray(k, k + SHORT_TERM_BLOCKS);
    most = Math.max(most, some.reduce((sum, z) => sum + z, 0) / SHORT_TERM_BLOCKS);
  }
  return meanSquareToLufs(most);
}

/** The measurement of a clip as if only some of its blocks were there; its peaks are those of all of it. */
function onlyBlocks(measurement: ClipMeasurement, places: readonly number[]): ClipMeasurement {
  const blocks = Float64Array.from(places, (k) => measurement.blocks[k]!);
  return {
    ...measurement,
    blocks,
    figures: {
      ...measurement.figures,
      ...integrated(blocks),
      maxMomentaryLufs: readBlocks(blocks, 'maxMomentary'),
      maxShortTermLufs: readBlocks(blocks, 'maxShortTerm'),
    },
  };
}

/** A music clip that a plan has step aside within itself. */
export interface PlanDucked {
  /** It is heard both alone and under speech; `false`: it was once, and its curve is taken off. */
  readonly aside: boolean;
  /** Measured by what of it is heard alone. */
  readonly entry: MeasuredClip;
  /** The same row with its curve, to what level it goes under speech. @param goal LUFS */
  readonly withCurve: (row: ProposalRow, goal: number, level: PlanLevel) => ProposalRow;
}

const NO_CURVE: WorkedCurve = { curve: [], kind: 'ducked', of: '' };

/**
 * The music clips that are heard both alone and under speech: they get a level for each, within one clip. Those that a
 * hand gave a curve are left out.
 * @param bare what is measured of a clip without its curve
 */
export function duckedByPlan(
  project: Project,
  plan: Plan,
  entries: readonly MeasuredClip[],
  bare: (clip: Clip) => ClipMeasurement | null,
): ReadonlyMap<Id, PlanDucked> {
  const { sampleRate } = project;
  const roles = new Map<Id, Role>(project.tracks.map(({ id, role }) => [id, role]));
  const music = entries.filter(
    ({ clip }) => roles.get(clip.trackId) === 'music' && !curveOtherwise(clip, 'ducked'),
  );
  const wanted = plan.levels.musicUnder !== null && plan.levels.musicAlone !== null;
  if (!wanted || music.length === 0) return new Map();
  const timing = duckTimingOf(plan);
  const spans = duckSpans(mergeRanges(dialogueRanges(project)), timing);
  return new Map(
    music.flatMap((entry): [Id, PlanDucked][] => {
      const { clip } = entry;
      const [from, to] = [clip.start / sampleRate, clipEnd(clip) / sampleRate];
      const near = spans.filter(
        (span) => edgesOf(span, timing).ends > from && edgesOf(span, timing).begins < to,
      );
      const measurement = bare(clip);
      const last = (measurement?.blocks.length ?? 0) - 1;
      const blocks = (range: { from: number; to: number }): number[] => {
        const own = { from: Math.max(0, range.from - from), to: Math.min(to, range.to) - from };
        return own.to > own.from ? blocksIn(own).filter((k) => k <= last) : [];
      };
      const under = near.map(blocks);
      const alone = aloneRanges(near, timing, from, to).flatMap(blocks);
      const both = alone.length >= LEAST_ALONE && under.some((places) => places.length > 0);
      const had = curveReasonOf(clip)?.kind === 'ducked';
      if (!both && !had) return [];
      const whole = { aside: both, entry: { ...entry, measurement } };
      if (!measurement) return [[clip.id, { ...whole, withCurve: (row) => row }]];
      if (!both) {
        const why = alone.length >= LEAST_ALONE ? 'nobody speaks over it' : 'it is hardly heard alone';
        const withCurve: PlanDucked['withCurve'] = (row) =>
          row.skipped !== null
            ? row
            : {
                ...{ ...row, ducked: NO_CURVE, curveChanges: true },
                sentence: `${row.sentence} Its ducking is taken off: ${why}.`,
              };
        return [[clip.id, { ...whole, withCurve }]];
      }
      const withCurve: PlanDucked['withCurve'] = (row, goal, { measure }) => {
        if (row.skipped !== null) return row;
        const reads = under.map((places) =>
          readBlocks(
            Float64Array.from(places, (k) => measurement.blocks[k]!),
            measure,
          ),
        );
        const db = reads.map((lufs) =>
          lufs === null ? 0 : Math.min(0, goal + (entry.onTopDb ?? 0) - lufs - row.gainAfterDb),
        );
        const curve = settledCurve(duckCurve(clip, sampleRate, near, db, 0, timing), clip);
        const ducked: WorkedCurve = { curve, kind: 'ducked', of: duckedFor(project, clip, false) };
        return {
          ...row,
          ...{ ducked, curveChanges: changesCurve(ducked, clip) },
          // What is measured of it follows its curve: the curve says when it is stale.
          reason: withoutMeasured(row.reason),
          sentence: `Alone: ${row.sentence} ${underWords(near, under, db, goal)}`,
        };
      };
      const entryAlone = { ...entry, measurement: onlyBlocks(measurement, alone) };
      return [[clip.id, { aside: true, entry: entryAlone, withCurve }]];
    }),
  );
}

function withoutMeasured(reason: ProposalRow['reason']): ProposalRow['reason'] {
  if (reason.kind !== 'levelled') return reason;
  const { kind, measure, mode, goal, stoppedByCeiling, besidesDb } = reason;
  return { kind, measure, mode, goal, stoppedByCeiling, ...(besidesDb !== undefined && { besidesDb }) };
}

/** What becomes of it under speech. */
function underWords(
  spans: readonly DuckSpan[],
  blocks: readonly (readonly number[])[],
  db: readonly number[],
  goal: number,
): string {
  const some = db.filter((_, i) => blocks[i]!.length > 0);
  const [least, most] = [Math.min(...some), Math.max(...some)];
  const places = spans.filter((_, i) => blocks[i]!.length > 0).length;
  if (least === 0) return `Under speech it lies under ${figure(goal)} LUFS already.`;
  const by = most - least < 0.05 ? signed(least) : `${signed(least)} to ${signed(most)}`;
  return `Under speech (${count(places, 'place')}): ${by} dB more, to ${figure(goal)} LUFS.`;
}

/** Whether a clip would get another curve than it has. */
const changesCurve = (worked: WorkedCurve, { curve, curveReason }: Clip): boolean =>
  curveDifference(worked.curve, curve) !== null || (worked.curve.length > 0 && curveReason?.of !== worked.of);
