import { expose, transfer } from 'comlink';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { integratedWithin, type WithinRanges } from '@/core/loudness/levelTrack';
import { MovingFigures, type ProgrammeLevels } from '@/core/measuring/movingFigures';
import { sumsArrays, type MovingSums } from '@/core/measuring/movingSums';
import { solveMoving, type MovingSolution } from '@/core/measuring/movingSolve';
import { overChannels } from '@/core/loudness/sound';
import {
  subBlockCount,
  SUB_BLOCKS_PER_SECOND,
  weightedEnergy,
  type SubBlockHistory,
} from '@/core/loudness/subBlocks';
import { gatedWeights } from '@/core/loudness/gatedWeights';
import { everyHop, gatingBlocks, shortTermWindows } from '@/core/loudness/windows';
import { dialogueRanges } from '@/core/programme/dialogue';
import type { Id, Project } from '@/core/programme/model';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import { movesLinearly, movingIds, movingRanges, type Moving } from '@/core/measuring/moving';
import { allMoving, joinMoving } from '@/core/measuring/measureMoving';
import { audibleClips } from '@/core/signal/audible';
import { sharesOf } from '@/core/measuring/measureShares';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { buffersOf } from './buffers';
import type { Outcome } from './measure.worker';
import { toFailure, type Failure } from './failure';
import type { Worked } from './range.worker';
import { RangePool } from './rangePool';

/** What the page keeps of the programme's measurement. */
export interface ProgrammeSummary extends ProgrammeLevels {
  readonly figures: LoudnessFigures;
  /** Weighted mean squares of the gating blocks. */
  readonly blocks: Float64Array;
  /** Weighted mean squares of the short-term windows, one every 100 ms; the first ends at 3 s. */
  readonly shortTerm: Float64Array;
  readonly lengthSeconds: number;
  /** Loudness while somebody speaks, by the roles of tracks and the subtitles of sources. */
  readonly dialogue: WithinRanges;
}

/** Which gain on some clips puts the programme at a loudness. */
export interface Solved {
  /** The change nearest to none, dB; `null` when none does. */
  readonly answerDb: number | null;
  readonly nearest: MovingSolution['nearest'];
  /** What the programme measures without those clips. */
  readonly restLufs: number | null;
  /** With the answer, no true peak is higher. */
  readonly peakBoundDbtp: number | null;
}

/** Measured at a time by one worker: little enough to be superseded soon, enough to be worth the settling before it. */
const PIECE = 10 * SUB_BLOCKS_PER_SECOND;

/** The same for shares, whose products take longer. */
const SHARES_PIECE = 20 * SUB_BLOCKS_PER_SECOND;

const pool = new RangePool();

/** A failure told by another worker. */
class Failed extends Error {
  constructor(readonly failure: Failure) {
    super(failure.message);
  }
}

/** A measurement that is brought up to date; a newer task supersedes an older one. */
class Measuring {
  readonly measurement = new ProgrammeMeasurement();
  newest = 0;

  /** Measures what is dirty, piece by piece, until it is done or a newer task has come. */
  private async work(
    task: number,
    project: Project,
    seen: SubBlockRange | null,
    onDone: () => void,
  ): Promise<void> {
    const { measurement } = this;
    while (task === this.newest) {
      const hand = measurement.take(PIECE, seen);
      if (!hand) return;
      const worked = await pool.measureRange(project, hand.range).catch((error: unknown) => {
        measurement.giveBack(hand);
        throw error;
      });
      if ('failure' in worked) {
        measurement.giveBack(hand);
        throw new Failed(worked.failure);
      }
      measurement.put(hand, worked.ok);
      onDone();
    }
  }

  /** @returns `null` when a newer task has come */
  async update(
    project: Project,
    seen: SubBlockRange | null,
    onProgress: (done: number) => void,
  ): Promise<SubBlockHistory | null> {
    const { measurement } = this;
    const task = ++this.newest;
    measurement.update(project);
    const total = measurement.left;
    const report = (): void => onProgress(1 - measurement.left / total);
    await Promise.all(Array.from({ length: pool.size }, () => this.work(task, project, seen, report)));
    // What an older task still has in hand belongs to this one as well.
    while (task === this.newest && measurement.left > 0) {
      await new Promise((resolve) => setTimeout(resolve, 5));
      await this.work(task, project, seen, report);
    }
    return task === this.newest ? measurement.history! : null;
  }
}

const present = new Measuring();
/** Another state of the programme, to be compared with. */
const other = new Measuring();

function summarise(history: SubBlockHistory, project: Project): ProgrammeSummary {
  const levels = levelsOf(history);
  const { energy, sampleRate } = levels;
  return {
    ...levels,
    figures: figuresOf(history),
    blocks: gatingBlocks(energy, sampleRate),
    shortTerm: everyHop(shortTermWindows(energy, sampleRate)),
    lengthSeconds: history.frames / project.sampleRate,
    dialogue: integratedWithin({ energy, sampleRate }, dialogueRanges(project)),
  };
}

const told = (error: unknown): { failure: Failure } => ({
  failure: error instanceof Failed ? error.failure : toFailure(error),
});

/** A range in pieces of at most so many sub-blocks. */
const pieces = ({ from, to }: SubBlockRange, most: number): SubBlockRange[] =>
  Array.from({ length: Math.ceil((to - from) / most) }, (_, i) => ({
    from: from + i * most,
    to: Math.min(to, from + (i + 1) * most),
  }));

/**
 * Works through pieces side by side, handing each out only while they are still wanted.
 * @returns what came of them, in order; `null` when they were given up
 */
async function eachPiece<T>(
  ranges: readonly SubBlockRange[],
  wanted: () => boolean,
  run: (range: SubBlockRange) => Promise<Worked<T>>,
  onProgress: (done: number) => void = () => undefined,
): Promise<T[] | null> {
  const results: T[] = [];
  let done = 0;
  const waiting = ranges.entries();
  const hand = async (): Promise<void> => {
    for (const [index, range] of waiting) {
      if (!wanted()) return;
      const worked = await run(range);
      if ('failure' in worked) throw new Failed(worked.failure);
      results[index] = worked.ok;
      onProgress(++done / ranges.length);
    }
  };
  await Promise.all(Array.from({ length: pool.size }, hand));
  return done === ranges.length ? results : null;
}

/** Sums for a hand that were asked for last; older ones are given up. */
let newestMoving = 0;

/**
 * Takes the sums where the clips are, side by side; what lies between is known already.
 * @returns `undefined` when they are not wanted any more, `null` when none of the clips sounds, or what they go through is not
 * linear
 */
async function movingSums(
  project: Project,
  moving: Moving,
  wanted: () => boolean,
): Promise<MovingSums | null | undefined> {
  const { history } = present.measurement;
  const ids = movingIds(moving);
  if (!movesLinearly(project, ids)) return null;
  const all = moving.kind === 'gain' && audibleClips(project).every(({ id }) => ids.has(id));
  if (history && all) return allMoving(history);
  const ranges = movingRanges(project, moving).flatMap((range) => pieces(range, PIECE));
  const sums = await eachPiece(ranges, wanted, (range) => pool.measureMoving(project, moving, range));
  return sums && history ? joinMoving(sums, history) : undefined;
}

function levelsOf(history: SubBlockHistory): ProgrammeLevels {
  return {
    energy: weightedEnergy(history),
    sampleRate: history.sampleRate,
    truePeaks: overChannels(history.truePeak),
  };
}

const api = {
  putAudio(audioKey: string, blob: Blob): void {
    pool.putAudio(audioKey, blob);
  },

  /**
   * Brings the measurement up to date. A newer call supersedes an older one, which then ends as cancelled.
   * @param seen what is looked at, sub-blocks
   */
  async measure(
    project: Project,
    seen: SubBlockRange | null,
    onProgress: (done: number) => void,
  ): Promise<Outcome<ProgrammeSummary>> {
    try {
      const history = await present.update(project, seen, onProgress);
      if (!history) return { cancelled: true };
      const summary = summarise(history, project);
      const { energy, truePeaks, blocks, shortTerm } = summary;
      return transfer({ ok: summary }, buffersOf([energy, truePeaks, blocks, shortTerm]));
    } catch (error) {
      return told(error);
    }
  },

  /** Integrated loudness of another state of the programme; what it has in common with the last one asked for stands. */
  async integratedOf(project: Project): Promise<Outcome<number | null>> {
    try {
      const history = await other.update(project, null, () => undefined);
      return history ? { ok: figuresOf(history).integratedLufs } : { cancelled: true };
    } catch (error) {
      return told(error);
    }
  },

  /**
   * The sums that give the programme's figures while something moves; `null` when none of it sounds, or what it goes through is
   * not linear.
   */
  async moving(project: Project, moving: Moving): Promise<Outcome<MovingSums | null>> {
    try {
      const turn = ++newestMoving;
      const sums = await movingSums(project, moving, () => turn === newestMoving);
      if (sums === undefined) return { cancelled: true };
      if (sums === null) return { ok: null };
      return transfer({ ok: sums }, buffersOf(sumsArrays(sums)));
    } catch (error) {
      return told(error);
    }
  },

  /**
   * Each clip's share of the programme's gated energy, once the programme is measured; given up when it changes.
   * @param onProgress told the part done, 0 to 1
   */
  async shares(
    project: Project,
    onProgress: (done: number) => void,
  ): Promise<Outcome<ReadonlyMap<Id, number>>> {
    const task = present.newest;
    const { history, left } = present.measurement;
    if (left > 0 || !history) return { cancelled: true };
    const weights = gatedWeights(weightedEnergy(history), project.sampleRate);
    const whole = { from: 0, to: subBlockCount(history.frames, project.sampleRate) };
    try {
      const sums = await eachPiece(
        pieces(whole, SHARES_PIECE),
        () => task === present.newest,
        (range) => pool.measureShares(project, weights, range),
        onProgress,
      );
      return sums ? { ok: sharesOf(sums) } : { cancelled: true };
    } catch (error) {
      return told(error);
    }
  },

  /** Which change of these clips' gain puts the programme at a loudness; proved by evaluating it. */
  async solve(
    project: Project,
    moving: ReadonlySet<Id>,
    goalLufs: number,
    room: { readonly minDb: number; readonly maxDb: number },
  ): Promise<Outcome<Solved>> {
    const { history, left } = present.measurement;
    if (left > 0 || !history) return { cancelled: true };
    const levels = levelsOf(history);
    try {
      const sums = await movingSums(project, { kind: 'gain', ids: moving }, () => true);
      if (!sums) return { cancelled: true };
      const figures = new MovingFigures(levels, sums);
      const { answer, nearest } = solveMoving(figures, goalLufs, room.minDb, room.maxDb);
      return {
        ok: {
          answerDb: answer,
          nearest,
          restLufs: figures.at(-Infinity).integratedLufs,
          peakBoundDbtp: answer === null ? null : figures.at(answer).truePeakBoundDbtp,
        },
      };
    } catch (error) {
      return told(error);
    }
  },
};

export type ProgrammeApi = typeof api;
expose(api);
