import type { History } from '@/core/programme/history';
import { storageError } from '@/storage/failure';
import { saveProject } from '@/storage/projects';
import type { SaveState } from './state';

interface Host {
  readonly history: () => History;
  readonly onSave: (save: SaveState) => void;
}

/** Keeps a project with its history in the browser, after every step: what comes while it is being kept is kept next. */
export class Keeping {
  private saving: Promise<void> | null = null;
  private unsaved = false;

  constructor(private readonly host: Host) {}

  /** Keeps what there is; again, after it could not be kept. */
  save(): void {
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
      this.host.onSave('saved');
    } catch (error) {
      // It is tried again with the next step, or when asked.
      this.unsaved = false;
      const { code, message, hint } = storageError(error);
      this.host.onSave({ code, message, hint });
    }
  }

  /** Waits until all that was done is kept, or cannot be. */
  async settled(): Promise<void> {
    await this.saving;
  }
}
