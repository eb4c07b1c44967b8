import { auditStore } from './stores';

/** Held by a page as long as it is open: what it has kept is its own. */
const lockOf = (visit: string): string => `dengung-audit-${visit}`;

/**
 * What was measured of files that are audited, kept aside so that a hundred long ones fit: of one visit only. What cannot be
 * kept aside stays in memory.
 * @typeParam T anything that can be cloned
 */
export class AuditFiles<T> {
  private readonly memory = new Map<string, T>();

  /** @param visit a name that no other page has */
  constructor(private readonly visit: string) {}

  private key(id: string): string {
    return `${this.visit}/${id}`;
  }

  /** Takes away what visits have left that are over. */
  async open(): Promise<void> {
    const { locks } = navigator;
    void locks.request(lockOf(this.visit), () => new Promise(() => undefined)).catch(() => undefined);
    const { held = [] } = await locks.query();
    const open = new Set([lockOf(this.visit), ...held.map(({ name }) => name)]);
    for (const key of await auditStore.keys())
      if (!open.has(lockOf(key.split('/')[0]!))) await auditStore.removeItem(key);
  }

  async put(id: string, value: T): Promise<void> {
    try {
      await auditStore.setItem(this.key(id), value);
    } catch {
      this.memory.set(id, value);
    }
  }

  /** @returns `null` when it is gone */
  async get(id: string): Promise<T | null> {
    return this.memory.get(id) ?? (await auditStore.getItem<T>(this.key(id)).catch(() => null));
  }

  async remove(id: string): Promise<void> {
    this.memory.delete(id);
    await auditStore.removeItem(this.key(id)).catch(() => undefined);
  }
}
