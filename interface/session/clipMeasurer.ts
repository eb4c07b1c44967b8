import type { Project } from '@/core/programme/model';
import { clipKey, clipStretch } from '@/core/render/clipKey';
import type { ClipMeasurement } from '@/core/render/measureClip';
import type { Failure } from '@/engine/failure';
import type { ClipTask } from '@/engine/measure.worker';
import { measurePool } from '@/engine/measurePool';
import { getClipMeasurement, putClipMeasurement } from '@/storage/measurements';

/** Sees to it that every clip has its own measurement: from the store if it is there, else from the workers. */
export class ClipMeasurer {
  private readonly underWay = new Set<string>();
  private readonly controller = new AbortController();

  constructor(
    private readonly audioOf: (audioKey: string) => Blob | undefined,
    private readonly onMeasured: (key: string, measurement: ClipMeasurement) => void,
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
      if (stored) return this.onMeasured(key, stored);
      const outcome = await measurePool().measureClip(task, this.controller.signal);
      if ('failure' in outcome) this.onFailed(outcome.failure);
      if (!('ok' in outcome)) return;
      this.onMeasured(key, outcome.ok);
      // Only a shortcut for the next visit: if it cannot be kept, it is measured again then.
      await putClipMeasurement(key, outcome.ok).catch(() => undefined);
    } finally {
      this.underWay.delete(key);
    }
  }

  close(): void {
    this.controller.abort();
  }
}
