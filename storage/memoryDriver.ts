/** Name of the driver below. */
export const MEMORY = 'memory';

type Rows = Map<string, unknown>;

const databases = new Map<string, Rows>();

/** What localForage binds a driver's methods to. */
interface Bound {
  rows: Rows;
}

/** Rows come out as copies, as they do from a database. */
const copyOf = <T>(value: unknown): T => (value === undefined ? null : structuredClone(value)) as T;

/**
 * Stores rows for as long as the page is open: for browsers that let nothing be stored. What is stored is not there after a reload, so
 * whoever uses it has to say so.
 */
export const memoryDriver = {
  _driver: MEMORY,
  _support: true,
  _initStorage(this: Bound, { name, storeName }: LocalForageOptions): Promise<void> {
    const key = `${name}/${storeName}`;
    this.rows = databases.get(key) ?? new Map<string, unknown>();
    databases.set(key, this.rows);
    return Promise.resolve();
  },
  getItem<T>(this: Bound, key: string): Promise<T | null> {
    return Promise.resolve(copyOf<T | null>(this.rows.get(key)));
  },
  setItem<T>(this: Bound, key: string, value: T): Promise<T> {
    this.rows.set(key, copyOf(value));
    return Promise.resolve(value);
  },
  removeItem(this: Bound, key: string): Promise<void> {
    this.rows.delete(key);
    return Promise.resolve();
  },
  clear(this: Bound): Promise<void> {
    this.rows.clear();
    return Promise.resolve();
  },
  length(this: Bound): Promise<number> {
    return Promise.resolve(this.rows.size);
  },
  key(this: Bound, index: number): Promise<string> {
    return Promise.resolve([...this.rows.keys()][index] ?? (null as never));
  },
  keys(this: Bound): Promise<string[]> {
    return Promise.resolve([...this.rows.keys()]);
  },
  iterate<T, U>(this: Bound, visit: (value: T, key: string, index: number) => U): Promise<U> {
    let count = 0;
    for (const [key, value] of [...this.rows]) {
      const result = visit(copyOf<T>(value), key, ++count);
      if (result !== undefined) return Promise.resolve(result);
    }
    return Promise.resolve(undefined as U);
  },
  dropInstance(this: Bound): Promise<void> {
    this.rows.clear();
    return Promise.resolve();
  },
};
