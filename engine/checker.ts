import { checkDetails } from '@/core/check/findings/details';
import { findingsOf, judgedOf } from '@/core/check/findings/findAll';
import type { Finding } from '@/core/check/findings/finding';
import type { CheckMaterial } from '@/core/check/findings/material';
import { programmeMaterial } from '@/core/check/findings/programmeMaterial';
import { overTime } from '@/core/check/overTime';
import type { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { settlingFrames, type SubBlockRange } from '@/core/measuring/dirtyRanges';
import { joinShares } from '@/core/measuring/measureEach';
import { StandingApart } from '@/core/measuring/standingApart';
import { PEAK_SUB_BLOCKS, SUB_BLOCKS_PER_SECOND, subBlockStart } from '@/core/loudness/subBlocks';
import { sideBySide } from '@/core/parallel/sideBySide';
import type { Project } from '@/core/programme/model';
import { excerpt } from '@/core/signal/excerpt';
import { areAlike, soundDifferences } from '@/core/signal/differences';
import { fixFor, type Mend } from '@/core/proposals/fixes/fixFor';
import { makeWorkshop, type Hands } from '@/core/proposals/fixes/makeWorkshop';
import { mendAll, type MendedAll } from '@/core/proposals/fixes/mendAll';
import type { Workshop } from '@/core/proposals/fixes/workshop';
import { eachPiece, madeBy, PIECE, pieces } from './pieces';
import type { CheckedProgramme, CheckRequest } from './protocol';
import type { RangePool } from './rangePool';

/** At least so much is measured at a time. */
const LEAST_PIECE = SUB_BLOCKS_PER_SECOND;

/** Something newer is wanted. */
class GivenUp extends Error {}

/** As much of a programme as is needed to measure a range of it. */
function excerptOf(project: Project, { from, to }: SubBlockRange): Project {
  const { sampleRate } = project;
  const settling = settlingFrames(sampleRate);
  return excerpt(project, {
    from: subBlockStart(from, sampleRate) - settling,
    to: subBlockStart(to, sampleRate),
  });
}

/** The measurement of the programme as it stands. */
interface Standing {
  readonly measurement: ProgrammeMeasurement;
  readonly newest: number;
  isOf(project: Project): boolean;
}

/** Checks the programme that stands measured, and works out what mends it, with workers that have nothing else to do. */
export class Checker {
  private readonly apart = new StandingApart();
  /** Speech and the rest are taken by one at a time. */
  private measuringApart: Promise<unknown> = Promise.resolve();
  private turn = 0;
  /** Of the state that is being mended: it is left as it is. */
  private base: { readonly project: Project; readonly measurement: ProgrammeMeasurement } | null = null;

  constructor(
    private readonly pool: RangePool,
    private readonly present: Standing,
  ) {}

  stopFixing(): void {
    this.turn++;
  }

  /** Speech and the rest of the programme; `undefined` when given up. */
  private apartOf(project: Project, wanted: () => boolean): Promise<CheckMaterial['apart'] | undefined> {
    const run = this.measuringApart.then(async () => {
      if (!wanted()) return undefined;
      const ranges = this.apart.update(project);
      if (!ranges) return null;
      const { project: of, ids } = this.apart.moving;
      const sums = await eachPiece(
        ranges.flatMap((range) => pieces(range, PIECE)),
        this.pool.size,
        wanted,
        (range) => this.pool.measureMoving(of, { kind: 'gain', ids }, range, 1),
      );
      if (!sums) return undefined;
      this.apart.put(sums);
      return this.apart.levels;
    });
    this.measuringApart = run.catch(() => undefined);
    return run;
  }

  /** @returns `null` when the programme has changed */
  async check(project: Project, request: CheckRequest): Promise<CheckedProgramme | null> {
    const { present } = this;
    if (!present.isOf(project)) return null;
    const task = present.newest;
    const wanted = (): boolean => present.newest === task;
    const apart = await this.apartOf(project, wanted);
    if (apart === undefined || !wanted()) return null;
    const { history, signal } = present.measurement;
    const measured = { history: history!, signal: signal!, apart };
    const material = programmeMaterial(project, measured, request.brought, request.clicks);
    const judged = judgedOf(material);
    const [target] = request.targets;
    return {
      judged,
      findings: findingsOf(material, judged, target!, request.thresholds),
      details: checkDetails(material),
      overTime: overTime(material, history!.truePeak),
    };
  }

  /** Measures what is dirty of a copy, shared out to all workers. */
  private async finish(measurement: ProgrammeMeasurement, wanted: () => boolean): Promise<void> {
    const share = Math.ceil(measurement.left / this.pool.size / PEAK_SUB_BLOCKS) * PEAK_SUB_BLOCKS;
    const piece = Math.min(PIECE, Math.max(LEAST_PIECE, share));
    const hand = async (): Promise<void> => {
      for (let taken = measurement.take(piece); taken; taken = measurement.take(piece)) {
        if (!wanted()) throw new GivenUp();
        const part = excerptOf(measurement.of!, taken.range);
        measurement.put(taken, madeBy(await this.pool.measureRange(part, taken.range, 1)));
      }
    };
    await Promise.all(Array.from({ length: this.pool.size }, hand));
  }

  /** A workshop over a measured state. */
  private workshop(
    project: Project,
    measurement: ProgrammeMeasurement,
    request: CheckRequest,
    apart: CheckMaterial['apart'],
    wanted: () => boolean,
  ): Workshop {
    const hands: Hands = {
      finish: (fork) => this.finish(fork, wanted),
      moving: async (state, moving, range) => {
        if (!wanted()) throw new GivenUp();
        return madeBy(await this.pool.measureMoving(excerptOf(state, range), moving, range, 1));
      },
      each: async (state, range) => {
        const shares = await eachPiece(pieces(range, PIECE), this.pool.size, wanted, (piece) =>
          this.pool.measureEach(excerptOf(state, piece), piece),
        );
        if (!shares) throw new GivenUp();
        return joinShares(shares);
      },
    };
    const measured = { history: measurement.history!, signal: measurement.signal!, apart };
    const { brought, clicks, targets, thresholds } = request;
    const material = programmeMaterial(project, measured, brought, clicks);
    return makeWorkshop(project, measurement, { target: targets[0]!, thresholds, material, clicks }, hands);
  }

  /** The state as it stands measured, to work from; `null` when it is another. */
  private baseOf(project: Project): ProgrammeMeasurement | null {
    const { base } = this;
    if (base && areAlike(base.project, project) && soundDifferences(base.project, project).length === 0)
      return base.measurement;
    if (!this.present.isOf(project)) return null;
    const measurement = this.present.measurement.fork();
    this.base = { project, measurement };
    return measurement;
  }

  /** @returns `null` when given up, or when the programme has changed */
  async fixes(
    project: Project,
    request: CheckRequest,
    findings: readonly Finding[],
    onFound: (findingId: string, mend: Mend) => void | Promise<void>,
  ): Promise<true | null> {
    const turn = ++this.turn;
    const wanted = (): boolean => turn === this.turn;
    const base = this.baseOf(project);
    if (!base) return null;
    return this.unlessGivenUp(async () => {
      const needsApart = findings.some(({ kind }) => kind === 'dialogue');
      const apart = needsApart ? await this.apartOf(project, wanted) : null;
      if (apart === undefined) return null;
      const workshop = this.workshop(project, base, request, apart, wanted);
      // Each keeps one worker busy for most of its time.
      const found = await sideBySide(findings, this.pool.size, wanted, async (finding) => {
        await onFound(finding.id, await fixFor(finding, workshop));
      });
      return found && true;
    });
  }

  /** @returns `null` when given up, or when the programme has changed */
  async mendAll(
    project: Project,
    request: CheckRequest,
    accepted: readonly string[],
    onProgress: (done: number) => void,
  ): Promise<Pick<MendedAll, 'fixes' | 'left'> | null> {
    const turn = ++this.turn;
    const wanted = (): boolean => turn === this.turn;
    const base = this.baseOf(project);
    if (!base) return null;
    const needsApart = (request.targets[0]!.minDialogueOverRestLu ?? null) !== null;
    let looked = 0;
    return this.unlessGivenUp(async () => {
      const mended = await mendAll(
        project,
        new Set(accepted),
        async (state) => {
          const measurement = base.fork();
          measurement.update(state);
          await this.finish(measurement, wanted);
          const apart = needsApart && state === project ? await this.apartOf(state, wanted) : null;
          return this.workshop(state, measurement, request, apart ?? null, wanted);
        },
        () => {
          // How many there will be is not known: it comes nearer to the end with each.
          onProgress(1 - 1 / (1 + ++looked / 4));
          return wanted();
        },
        this.pool.size,
      );
      return mended && { fixes: mended.fixes, left: mended.left };
    });
  }

  private async unlessGivenUp<T>(work: () => Promise<T | null>): Promise<T | null> {
    try {
      return await work();
    } catch (error) {
      if (error instanceof GivenUp) return null;
      throw error;
    }
  }
}
