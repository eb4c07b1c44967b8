import { proxy, wrap, type Remote } from 'comlink';
import type { WriteFormat } from '@/core/audio/pcm';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Contributions } from '@/core/measuring/contributions';
import type { Moving } from '@/core/measuring/moving';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { GainRoom } from '@/core/programme/clipGain';
import type { Id, Limiter, Project } from '@/core/programme/model';
import type { ClickLimits, FoundClick } from '@/core/proposals/clicks';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import { outcomeOf } from './failure';
import type { Finding } from '@/core/check/findings/finding';
import type { Mend } from '@/core/proposals/fixes/fixFor';
import type { MendedAll } from '@/core/proposals/fixes/mendAll';
import type {
  CheckedProgramme,
  CheckRequest,
  OnProgress,
  Outcome,
  ProgrammeApi,
  ProgrammeSummary,
  Solved,
} from './protocol';
import type { RenderApi, RenderedFile } from './renderProtocol';
import { withProgress } from './progress';
import { workerJob } from './workerJob';

function startRenderWorker(): { worker: Worker; api: Remote<RenderApi> } {
  const worker = new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' });
  return { worker, api: wrap<RenderApi>(worker) };
}

/** Does something in a worker of its own. */
async function once<T>(
  signal: AbortSignal,
  onProgress: (done: number) => void,
  start: (api: Remote<RenderApi>, job: number, report: OnProgress) => Promise<Outcome<T>>,
): Promise<Outcome<T>> {
  const { worker, api } = startRenderWorker();
  try {
    return await workerJob<T>({
      ...{ worker, signal, onProgress },
      start: (job, report) => start(api, job, report),
      cancel: (job) => void api.cancel(job),
    });
  } finally {
    worker.terminate();
  }
}

/** Writes a file again with one gain on all of it, and a limiter behind that where there is one. */
export const applyGainToFile = (
  blob: Blob,
  gainDb: number,
  limiter: Limiter | null,
  format: WriteFormat,
  signal: AbortSignal,
  onProgress: (done: number) => void,
): Promise<Outcome<RenderedFile>> =>
  once(signal, onProgress, (api, job, report) => api.applyGain(job, blob, gainDb, limiter, format, report));

/** The gain that brings a file to a loudness with a limiter behind it. */
export const limitFile = (
  blob: Blob,
  limiter: Limiter,
  goalLufs: number,
  startDb: number,
  signal: AbortSignal,
  onProgress: (done: number) => void,
): Promise<Outcome<LimitedGain>> =>
  once(signal, onProgress, (api, job, report) =>
    api.limitFile(job, blob, limiter, goalLufs, startDb, report),
  );

/** The workers of one open project: one measures, one renders what is heard, one (when needed) what is handed over. */
export class ProgrammeEngine {
  private readonly measureWorker = new Worker(new URL('./programme.worker.ts', import.meta.url), {
    type: 'module',
  });
  private readonly measureApi = wrap<ProgrammeApi>(this.measureWorker);
  private readonly listening = startRenderWorker();
  private readonly audio = new Map<string, Blob>();

  /** Forgets sound that can no longer be read. */
  dropAudio(audioKey: string): void {
    this.audio.delete(audioKey);
  }

  /** Gives the workers the sound of a source. */
  putAudio(audioKey: string, blob: Blob): void {
    this.audio.set(audioKey, blob);
    void this.measureApi.putAudio(audioKey, blob);
    void this.listening.api.putAudio(audioKey, blob);
  }

  hasAudio(audioKey: string): boolean {
    return this.audio.has(audioKey);
  }

  audioOf(audioKey: string): Blob | undefined {
    return this.audio.get(audioKey);
  }

  /**
   * Measures the programme; a newer call supersedes an older one.
   * @param seen what is looked at, sub-blocks: measured before the rest
   */
  measure(
    project: Project,
    seen: SubBlockRange | null,
    onProgress: (done: number) => void,
  ): Promise<Outcome<ProgrammeSummary>> {
    return withProgress<Outcome<ProgrammeSummary>>(onProgress, (report) =>
      outcomeOf(this.measureApi.measure(project, seen, report)),
    );
  }

  /** Integrated loudness of another state of the programme, LUFS. */
  summaryOf(project: Project): Promise<Outcome<ProgrammeSummary>> {
    return outcomeOf(this.measureApi.summaryOf(project));
  }

  /** See {@link ProgrammeApi.moving}. */
  moving(project: Project, moving: Moving): Promise<Outcome<MovingSums | null>> {
    return outcomeOf(this.measureApi.moving(project, moving));
  }

  /** See {@link ProgrammeApi.contributions}. */
  contributions(
    project: Project,
    range: TimeRange | null,
    onProgress: (done: number) => void,
  ): Promise<Outcome<Contributions>> {
    return withProgress<Outcome<Contributions>>(onProgress, (report) =>
      outcomeOf(this.measureApi.contributions(project, range, report)),
    );
  }

  /** Gives up measuring parts. */
  stopParts(): void {
    void this.measureApi.stopParts();
  }

  /** See {@link ProgrammeApi.check}. */
  check(project: Project, request: CheckRequest): Promise<Outcome<CheckedProgramme>> {
    return outcomeOf(this.measureApi.check(project, request));
  }

  /** See {@link ProgrammeApi.fixes}. */
  fixes(
    project: Project,
    request: CheckRequest,
    findings: readonly Finding[],
    onFound: (findingId: string, mend: Mend) => void,
  ): Promise<Outcome<true>> {
    return outcomeOf(this.measureApi.fixes(project, request, findings, proxy(onFound)));
  }

  /** See {@link ProgrammeApi.mendAll}. */
  mendAll(
    project: Project,
    request: CheckRequest,
    accepted: readonly string[],
    onProgress: (done: number) => void,
  ): Promise<Outcome<Pick<MendedAll, 'fixes' | 'left'>>> {
    return withProgress<Outcome<Pick<MendedAll, 'fixes' | 'left'>>>(onProgress, (report) =>
      outcomeOf(this.measureApi.mendAll(project, request, accepted, report)),
    );
  }

  /** Gives up what is being worked out to mend findings. */
  stopFixing(): void {
    void this.measureApi.stopFixing();
  }

  /** See {@link ProgrammeApi.solve}. */
  solve(
    project: Project,
    moving: ReadonlySet<Id>,
    goalLufs: number,
    room: GainRoom,
  ): Promise<Outcome<Solved>> {
    return outcomeOf(this.measureApi.solve(project, moving, goalLufs, room));
  }

  /** See {@link RenderApi.correlation}. */
  correlation(
    project: Project,
    beforeId: Id,
    from: number,
    to: number,
  ): Promise<Outcome<{ readonly rho: number | null }>> {
    return outcomeOf(this.listening.api.correlation(project, beforeId, from, to));
  }

  /** A range of the programme to be heard. */
  renderHeard(
    project: Project,
    start: number,
    count: number,
    soloed: readonly string[],
    channels: number,
  ): Promise<Float32Array[]> {
    return this.listening.api.renderHeard(project, start, count, soloed, channels);
  }

  /** Does something with a programme in a worker of its own. */
  private async apart<T>(
    project: Project,
    signal: AbortSignal,
    onProgress: (done: number) => void,
    start: (api: Remote<RenderApi>, job: number, report: OnProgress) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    const { worker, api } = startRenderWorker();
    try {
      for (const { audioKey } of project.sources) {
        const blob = this.audio.get(audioKey);
        if (blob) await api.putAudio(audioKey, blob);
      }
      return await workerJob<T>({
        ...{ worker, signal, onProgress },
        start: (job, report) => start(api, job, report),
        cancel: (job) => void api.cancel(job),
      });
    } finally {
      worker.terminate();
    }
  }

  /** See {@link RenderApi.solveLimited}. */
  solveLimited(
    project: Project,
    limiter: Limiter,
    goalLufs: number,
    [startDb, mostDb]: readonly [number, number],
    signal: AbortSignal,
    onProgress: (done: number) => void,
  ): Promise<Outcome<LimitedGain>> {
    return this.apart(project, signal, onProgress, (api, job, report) =>
      api.solveLimited(job, project, limiter, goalLufs, startDb, mostDb, report),
    );
  }

  /** See {@link RenderApi.findClicks}. */
  findClicks(
    project: Project,
    limits: ClickLimits,
    signal: AbortSignal,
    onProgress: (done: number) => void,
  ): Promise<Outcome<readonly FoundClick[]>> {
    return this.apart(project, signal, onProgress, (api, job, report) =>
      api.findClicks(job, project, limits, report),
    );
  }

  close(): void {
    this.measureWorker.terminate();
    this.listening.worker.terminate();
  }
}
