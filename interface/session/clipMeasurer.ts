import type { Project } from '@/core/programme/model';
import { clipKey, clipStretch } from '@/core/render/clipKey';
import type { ClipMeasurement } from '@/core/render/measureClip';
import type { Failure } from '@/engine/failure';
import type { ClipTask } from '@/engine/measure.worker';
import { measurePool } from '@/engine/measurePool';
import { getClipMeasurement, putClipMeasurement } from '@/storage/measurements';

/** How long measurements are collected before they are told, ms. */
const TELL_MS = 80;

/** Sees to it that every clip has its own measurement: from the store if it is there, else from the workers. */
export class ClipMeasurer {
  private readonly underWay = new Set<string>();
  private waiting = new Map<string, ClipMeasurement>();
  private timer: ReturnType<typeof setTimeout> | null = null;
  private readonly controller = new AbortController();

  constructor(
    private readonly audioOf: (audioKey: string) => Blob | undefined,
    private readonly onMeasured: (measurements: ReadonlyMap<string, ClipMeasurement>) => void,
    private readonly onFailed: (failure: Failure) => void,
  ) {}

  /** Asks for what is missing. */
  want(project: Project, known: ReadonlyMap<string, ClipMeasurement>): void {
    for (const clip of project.clips) {
      const key = clipKey(project, clip);
      if (!key || known.has(key) || this.underWay.has(key)) continue;
      const { audioKey, ...stretch } = clipStretch(project, clip)!;
      const blob = this.audioOf(audioKey);
      if (!blob) continue;
      this.underWay.add(key);
      void this.measure(key, { ...stretch, blob });
    }
  }

  private async measure(key: string, task: ClipTask): Promise<void> {
    try {
      const stored = await getClipMeasurement(key).catch(() => null);
      if (stored) return this.tell(key, stored);
      const outcome = await measurePool().measureClip(task, this.controller.signal);
      if ('failure' in outcome) this.onFailed(outcome.failure);
      if (!('ok' in outcome)) return;
      this.tell(key, outcome.ok);
      // Only a shortcut for the next visit: if it cannot be kept, it is measured again then.
      await putClipMeasurement(key, outcome.ok).catch(() => undefined);
    } finally {
      this.underWay.delete(key);
    }
  }

  /** Hundreds may come in a second: they are told together, a few times a second. */
  private tell(key: string, measurement: ClipMeasurement): void {
    this.waiting.set(key, measurement);
    this.timer ??= setTimeout(() => {
      this.timer = null;
      const told = this.waiting;
      this.waiting = new Map();
      this.onMeasured(told);
    }, TELL_MS);
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.controller.abort();
  }
}
