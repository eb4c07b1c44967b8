import localforage from 'localforage';
import { MEMORY, memoryDriver } from './memoryDriver';

/** What is done with a store: what localForage offers, of it what is used. */
type Store = Pick<LocalForage, 'getItem' | 'setItem' | 'removeItem' | 'clear' | 'keys' | 'iterate'>;

/** A database that is not open by then never will be, ms. */
const PATIENCE_MS = 20_000;

/** Which stores the database has; `null` where it does not open: the browser may refuse, fail, or never answer. */
function storesThere(): Promise<DOMStringList | null> {
  return new Promise((resolve) => {
    const timer = setTimeout(() => resolve(null), PATIENCE_MS);
    const end = (names: DOMStringList | null): void => {
      clearTimeout(timer);
      resolve(names);
    };
    try {
      const asked = indexedDB.open('dengung');
      asked.onsuccess = () => {
        const names = asked.result.objectStoreNames;
        asked.result.close();
        end(names);
      };
      asked.onerror = () => end(null);
    } catch {
      end(null);
    }
  });
}

let chosen: Promise<string> | null = null;

/** Where rows lie: found out once, before the first of them is read. */
function driver(): Promise<string> {
  chosen ??= storesThere().then(async (names) => {
    if (names) return localforage.INDEXEDDB;
    await localforage.defineDriver(memoryDriver as unknown as LocalForageDriver);
    return MEMORY;
  });
  return chosen;
}

/** Whether what is stored is there after the page was closed; if not, it is in memory only. */
export const storesLast = async (): Promise<boolean> => (await driver()) !== MEMORY;

function store(storeName: string): Store {
  let opened: Promise<LocalForage> | null = null;
  const open = (): Promise<LocalForage> => {
    opened ??= driver().then((by) => localforage.createInstance({ name: 'dengung', storeName, driver: by }));
    return opened;
  };
  return {
    getItem: async (key) => (await open()).getItem(key),
    setItem: async (key, value) => (await open()).setItem(key, value),
    removeItem: async (key) => (await open()).removeItem(key),
    clear: async () => (await open()).clear(),
    keys: async () => (await open()).keys(),
    iterate: async (visit) => (await open()).iterate(visit),
  };
}

/** One record a project: the project with its history. */
export const projectStore = store('projects');
/** One record a project: what the shelf shows of it. */
export const shelfStore = store('shelf');
/** Sound, in pieces. */
export const audioStore = store('audio');
/** Measurements of sources and clips; all of it can be worked out again. */
export const measurementStore = store('measurements');
/** One record a project: what was handed over of it. */
export const handoverStore = store('handovers');
/** What belongs to no project: own targets. */
export const settingsStore = store('settings');
/** What could not be read, as it was found. */
export const asideStore = store('aside');
/** What was measured of finished files that are being audited: of this visit only. */
export const auditStore = store('audit');

const WORKED_ON = ['projects', 'audio', 'measurements', 'aside'] as const;

/**
 * Whether the stores that hold sound and what names it are all there. localForage makes each as it is first used, by a new version of the
 * database: a page and a worker that do so at the same time wait for each other for ever.
 */
export async function storesWhole(): Promise<boolean> {
  const names = await storesThere();
  return names !== null && WORKED_ON.every((name) => names.contains(name));
}
