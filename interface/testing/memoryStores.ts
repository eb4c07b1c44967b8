/** What the browser keeps, in memory: in place of `@/storage/stores`. */
export class MemoryStore {
  readonly items = new Map<string, unknown>();
  /** Refuses to keep anything, as a full disk does. */
  full = false;
  /** Gives nothing back, as a broken disk does. */
  broken = false;

  getItem = (key: string): Promise<unknown> =>
    this.broken ? Promise.reject(new Error('Disk error')) : Promise.resolve(this.items.get(key) ?? null);

  setItem = (key: string, value: unknown): Promise<unknown> => {
    if (this.full) return Promise.reject(new DOMException('Full', 'QuotaExceededError'));
    this.items.set(key, value);
    return Promise.resolve(value);
  };

  removeItem = (key: string): Promise<void> => Promise.resolve(void this.items.delete(key));

  keys = (): Promise<string[]> => Promise.resolve([...this.items.keys()]);
}

export const projectStore = new MemoryStore();
export const shelfStore = new MemoryStore();
export const audioStore = new MemoryStore();
export const measurementStore = new MemoryStore();
export const settingsStore = new MemoryStore();
export const asideStore = new MemoryStore();
export const auditStore = new MemoryStore();
