import type { History } from '@/core/programme/history';
import { storageError } from '@/storage/failure';
import { saveProject } from '@/storage/projects';
import type { Failure } from '@/engine/protocol';
import type { SaveState } from './state';

interface Host {
  readonly history: () => History;
  readonly onSave: (save: SaveState) => void;
  /** Why what was stored could not be opened again as it is; `null` where it could. */
  readonly fault: () => Promise<Failure | null>;
}

/** What could not be kept is tried again after so long, ms; from then on as the last says. */
const AGAIN_MS = [2_000, 5_000, 10_000, 30_000];

/**
 * Keeps a project with its history in the browser, after every step: what comes while it is being kept is kept next, what
 * could not be kept is tried again and again.
 */
export class Saving {
  private saving: Promise<void> | null = null;
  private unsaved = false;
  private failures = 0;
  private again: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly host: Host) {}

  /** Something was done that is not kept yet. */
  get isBehind(): boolean {
    return this.unsaved || this.saving !== null || this.failures > 0;
  }

  /** Keeps what there is; again, after it could not be kept. */
  save(): void {
    clearTimeout(this.again);
    this.unsaved = true;
    this.saving ??= this.keep().finally(() => {
      this.saving = null;
      // What came just as it ended.
      if (this.unsaved) this.save();
    });
  }

  private async keep(): Promise<void> {
    this.host.onSave('saving');
    try {
      while (this.unsaved) {
        this.unsaved = false;
        await saveProject(this.host.history());
      }
      this.failures = 0;
      const fault = await this.host.fault();
      this.host.onSave(fault ?? 'saved');
    } catch (error) {
      this.unsaved = false;
      const wait = AGAIN_MS[Math.min(this.failures++, AGAIN_MS.length - 1)];
      this.again = setTimeout(() => this.save(), wait);
      const { code, message, hint } = storageError(error);
      this.host.onSave({ code, message, hint });
    }
  }

  /** Waits until all that was done is kept, or cannot be. */
  async settled(): Promise<void> {
    await this.saving;
  }

  /** Tries no more. */
  close(): void {
    clearTimeout(this.again);
  }
}
