import type { SoundHandle } from '@/storage/soundFiles';

/** Stands for the site's private folder: files in memory, opened at once as in a worker. */
export class SoundFolder {
  readonly files = new Map<string, Uint8Array<ArrayBuffer>>();
  /** Handles that are open. */
  open = 0;
  /** Bytes that may be written before there is no room left. */
  room = Infinity;

  /** Puts it where code looks for it. @returns takes it away again */
  install(): () => void {
    const before = Object.getOwnPropertyDescriptor(globalThis, 'navigator');
    const storage = {
      getDirectory: () => Promise.resolve({ getDirectoryHandle: () => Promise.resolve(this.folder) }),
    };
    // Node 20 has no navigator of its own.
    Object.defineProperty(globalThis, 'navigator', { configurable: true, value: { storage } });
    return () => {
      if (before) Object.defineProperty(globalThis, 'navigator', before);
      else delete (globalThis as { navigator?: unknown }).navigator;
    };
  }

  private readonly folder = {
    getFileHandle: (name: string, { create = false } = {}): Promise<unknown> => {
      if (!this.files.has(name)) {
        if (!create) return Promise.reject(new DOMException('No such file', 'NotFoundError'));
        this.files.set(name, new Uint8Array());
      }
      return Promise.resolve({
        createSyncAccessHandle: () => Promise.resolve(this.handle(name)),
        getFile: () => Promise.resolve(new File([this.files.get(name)!], name)),
      });
    },
    removeEntry: (name: string): Promise<void> => {
      this.files.delete(name);
      return Promise.resolve();
    },
  };

  private handle(name: string): SoundHandle {
    this.open++;
    const resize = (size: number): void => {
      const bytes = new Uint8Array(size);
      bytes.set(this.files.get(name)!.subarray(0, size));
      this.files.set(name, bytes);
    };
    return {
      read: (into, { at }) => {
        const bytes = this.files.get(name)!.subarray(at, at + into.length);
        into.set(bytes);
        return bytes.length;
      },
      write: (bytes, { at }) => {
        const some = bytes.subarray(0, Math.max(0, Math.min(bytes.length, this.room)));
        this.room -= some.length;
        if (at + some.length > this.files.get(name)!.length) resize(at + some.length);
        this.files.get(name)!.set(some, at);
        return some.length;
      },
      truncate: resize,
      getSize: () => this.files.get(name)!.length,
      flush: () => undefined,
      close: () => void this.open--,
    };
  }
}
