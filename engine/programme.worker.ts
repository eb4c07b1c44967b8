import { expose } from 'comlink';
import { figuresOf } from '@/core/loudness/figures';
import { integratedWithin } from '@/core/loudness/levelTrack';
import { MovingFigures, type ProgrammeLevels } from '@/core/measuring/movingFigures';
import type { MovingSums } from '@/core/measuring/movingSums';
import { solveMoving } from '@/core/measuring/movingSolve';
import { overChannels } from '@/core/loudness/sound';
import {
  PEAK_SUB_BLOCKS,
  SUB_BLOCKS_PER_SECOND,
  weightedEnergy,
  type WeightedHistory,
} from '@/core/loudness/subBlocks';
import { everyHop, gatingBlocks, shortTermWindows } from '@/core/loudness/windows';
import { dialogueRanges } from '@/core/programme/dialogue';
import type { Id, Project } from '@/core/programme/model';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import { gainMoved } from '@/core/measuring/gainMoved';
import { rebased } from '@/core/measuring/adoptGain';
import {
  apartAlone,
  movesLinearly,
  movingIds,
  movingRanges,
  sameIds,
  type Moving,
} from '@/core/measuring/moving';
import { allMoving, joinMoving } from '@/core/measuring/measureMoving';
import { audibleClips } from '@/core/signal/audible';
import { areAlike, soundDifferences } from '@/core/signal/differences';
import { reductionTracks } from '@/core/measuring/reductions';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { buffersOf } from './buffers';
import { answer } from './answer';
import { Checker } from './checker';
import { eachPiece, madeBy, PIECE, pieces } from './pieces';
import type { ProgrammeApi, ProgrammeSummary } from './protocol';
import { PartsKeeper } from './partsKeeper';
import { RangePool } from './rangePool';

const LEAST_PIECE = 2 * SUB_BLOCKS_PER_SECOND;

const pool = new RangePool();

/** A measurement that is brought up to date; a newer task supersedes an older one. */
class Measuring {
  readonly measurement = new ProgrammeMeasurement();
  newest = 0;
  /** The sums taken for what stands measured: of the heard clips that move by one gain. */
  taken: { readonly ids: ReadonlySet<Id>; readonly sums: MovingSums } | null = null;

  /** Measures what is dirty, piece by piece, until it is done or a newer task has come. */
  private async work(
    task: number,
    project: Project,
    seen: SubBlockRange | null,
    onDone: () => void,
  ): Promise<void> {
    const { measurement } = this;
    // What a small edit has touched is shared out, so that all workers are done with it at once; in whole peak blocks.
    const share = Math.ceil(measurement.left / pool.size / PEAK_SUB_BLOCKS) * PEAK_SUB_BLOCKS;
    const piece = Math.min(PIECE, Math.max(LEAST_PIECE, share));
    while (task === this.newest) {
      const hand = measurement.take(piece, seen);
      if (!hand) return;
      try {
        measurement.put(hand, madeBy(await pool.measureRange(project, hand.range)));
      } catch (error) {
        measurement.giveBack(hand);
        throw error;
      }
      onDone();
    }
  }

  /** Takes over a state: by the sums that were taken last, where only the gain they are for was moved. */
  private takeOver(project: Project): void {
    const { measurement, taken } = this;
    const moved =
      taken && measurement.left === 0 && measurement.of ? gainMoved(measurement.of, project) : null;
    if (moved && taken && sameIds(moved.ids, taken.ids)) {
      measurement.updateByGain(project, taken.sums, moved.changeDb);
      this.taken = { ids: taken.ids, sums: rebased(taken.sums, moved.changeDb) };
      return;
    }
    measurement.update(project);
    if (measurement.left > 0) this.taken = null;
  }

  /** Whether a state is the one that stands measured, all of it. */
  isOf(project: Project): boolean {
    const { of, left } = this.measurement;
    return of !== null && left === 0 && areAlike(of, project) && soundDifferences(of, project).length === 0;
  }

  /** @returns `null` when a newer task has come */
  async update(
    project: Project,
    seen: SubBlockRange | null,
    onProgress: (done: number) => void,
  ): Promise<WeightedHistory | null> {
    const { measurement } = this;
    const task = ++this.newest;
    this.takeOver(project);
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
const checker = new Checker(pool, present);
const parts = new PartsKeeper(pool);
/** Another state of the programme, to be compared with. */
const other = new Measuring();

function summarise(history: WeightedHistory, project: Project, from: Measuring): ProgrammeSummary {
  const levels = levelsOf(history);
  const { energy, sampleRate } = levels;
  return {
    ...levels,
    figures: figuresOf(history),
    samplePeaks: overChannels(history.samplePeak),
    blocks: gatingBlocks(energy, sampleRate),
    shortTerm: everyHop(shortTermWindows(energy, sampleRate)),
    lengthSeconds: history.frames / project.sampleRate,
    reductions: reductionTracks(from.measurement.reduction),
    dialogue: integratedWithin({ energy, sampleRate }, dialogueRanges(project)),
  };
}

/** Sums for a drag that were asked for last; older ones are given up. */
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
  const task = present.newest;
  const ids = movingIds(moving);
  if (!movesLinearly(project, ids)) return null;
  const heard = audibleClips(project);
  const heardIds = new Set(heard.flatMap(({ id }) => (ids.has(id) ? [id] : [])));
  // What is measured may be of another state: of a drag that goes on, say.
  const byGain = moving.kind === 'gain';
  const isMeasured = present.isOf(project);
  if (byGain && isMeasured && present.taken && sameIds(present.taken.ids, heardIds))
    return present.taken.sums;
  const touched = movingRanges(project, moving);
  const { alone, beside } =
    byGain && isMeasured ? apartAlone(project, ids, touched) : { alone: [], beside: touched };
  const ranges = beside.flatMap((range) => pieces(range, PIECE));
  const all = byGain && isMeasured && heardIds.size === heard.length;
  const parts =
    history && all
      ? []
      : await eachPiece(ranges, pool.size, wanted, (range) => pool.measureMoving(project, moving, range));
  if (!parts || !history) return undefined;
  // What was to be taken from the measurement has gone on to another state.
  if (task !== present.newest && (all || alone.length > 0)) return undefined;
  const sums = all ? allMoving(history) : joinMoving(parts, history, alone);
  // They stand for what is measured only if that is still the state they were taken of.
  if (byGain && isMeasured && sums && task === present.newest) present.taken = { ids: heardIds, sums };
  return sums;
}

function levelsOf(history: WeightedHistory): ProgrammeLevels {
  return {
    energy: weightedEnergy(history),
    sampleRate: history.sampleRate,
    truePeaks: overChannels(history.truePeak),
  };
}

const summaryBuffers = ({ energy, truePeaks, samplePeaks, blocks, shortTerm }: ProgrammeSummary) =>
  buffersOf([energy, truePeaks, samplePeaks, blocks, shortTerm]);

const api: ProgrammeApi = {
  putAudio: (audioKey, blob) => pool.putAudio(audioKey, blob),

  measure: (project, seen, onProgress) =>
    answer(async () => {
      const history = await present.update(project, seen, onProgress);
      return history && summarise(history, project, present);
    }, summaryBuffers),

  summaryOf: (project) =>
    answer(async () => {
      const history = await other.update(project, null, () => undefined);
      return history && summarise(history, project, other);
    }, summaryBuffers),

  async moving(project, moving) {
    const turn = ++newestMoving;
    const outcome = await answer(async () => {
      const sums = await movingSums(project, moving, () => turn === newestMoving);
      return sums === undefined ? null : { sums };
    });
    if (!('ok' in outcome)) return outcome;
    const { sums } = outcome.ok;
    // Copied: they are wanted here as well, once the drag ends.
    return { ok: sums };
  },

  check: (project, request) => answer(() => checker.check(project, request)),
  fixes: (project, request, findings, onFound) =>
    answer(() => checker.fixes(project, request, findings, onFound)),
  mendAll: (project, request, accepted, onProgress) =>
    answer(() => checker.mendAll(project, request, accepted, onProgress)),
  stopFixing: () => checker.stopFixing(),

  contributions(project, range, onProgress) {
    const task = present.newest;
    const stands = (): boolean => task === present.newest;
    return answer(async () =>
      present.isOf(project) ? parts.contributions(project, range, stands, onProgress) : null,
    );
  },
  stopParts: () => parts.stop(),

  solve(project, moving, goalLufs, { minDb, maxDb }) {
    const { history, left } = present.measurement;
    return answer(async () => {
      if (left > 0 || !history) return null;
      const levels = levelsOf(history);
      const sums = await movingSums(project, { kind: 'gain', ids: moving }, () => true);
      if (!sums) return null;
      const figures = new MovingFigures(levels, sums);
      const { answer: answerDb, nearest } = solveMoving(figures, goalLufs, minDb, maxDb);
      return {
        answerDb,
        nearest,
        restLufs: figures.at(-Infinity).integratedLufs,
        peakBoundDbtp: answerDb === null ? null : figures.at(answerDb).truePeakBoundDbtp,
      };
    });
  },
};

expose(api);
