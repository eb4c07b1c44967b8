import localforage from 'localforage';
import { MEMORY, memoryDriver } from './memoryDriver';

/** What is done with a store: what localForage offers, of it what is used. */
type Store = Pick<LocalForage, 'getItem' | 'setItem' | 'removeItem' | 'clear' | 'keys' | 'iterate'>;

const DATABASE = 'dengung';

/** All stores. */
const NAMES = [
  'projects',
  'shelf',
  'audio',
  'measurements',
  'handovers',
  'settings',
  'aside',
  'audit',
] as const;
type StoreName = (typeof NAMES)[number];

/** In which localForage tries whether Blobs can be stored. */
const TRIAL = 'local-forage-detect-blob-support';

/** A database that is not open by then never will be, ms. */
const PATIENCE_MS = 20_000;
/** Another tab that does not let go by then is not waited for, ms. */
const UPGRADE_MS = 5_000;

interface Opened {
  readonly names: DOMStringList;
  readonly version: number;
}

/** Opens the database once, making the stores that a new version of it lacks. @returns `null` where it does not open in time */
function openOnce(patienceMs: number, version?: number): Promise<Opened | null> {
  return new Promise((resolve) => {
    const timer = setTimeout(() => resolve(null), patienceMs);
    const end = (opened: Opened | null): void => {
      clearTimeout(timer);
      resolve(opened);
    };
    try {
      const asked = indexedDB.open(DATABASE, version);
      asked.onupgradeneeded = () => {
        const { result } = asked;
        for (const name of [...NAMES, TRIAL])
          if (!result.objectStoreNames.contains(name)) result.createObjectStore(name);
      };
      asked.onsuccess = () => {
        const { objectStoreNames: names, version: now } = asked.result;
        asked.result.close();
        end({ names, version: now });
      };
      asked.onerror = () => end(null);
    } catch {
      end(null);
    }
  });
}

const isWhole = ({ names }: Opened): boolean => [...NAMES, TRIAL].every((name) => names.contains(name));

/**
 * Makes all stores at once. localForage makes each as it is first used, by a new version of the database: a page and a worker that do
 * so at the same time wait for each other for ever.
 * @returns which there are; `null` where the database does not open: the browser may refuse, fail, or never answer
 */
async function makeStores(): Promise<Opened | null> {
  const opened = await openOnce(PATIENCE_MS);
  if (!opened || isWhole(opened)) return opened;
  return (await openOnce(UPGRADE_MS, opened.version + 1)) ?? opened;
}

let chosen: Promise<string> | null = null;

/** Where rows lie: found out once, before the first of them is read. */
function driver(): Promise<string> {
  chosen ??= makeStores().then(async (opened) => {
    if (opened) return localforage.INDEXEDDB;
    await localforage.defineDriver(memoryDriver as unknown as LocalForageDriver);
    return MEMORY;
  });
  return chosen;
}

/** Whether what is stored is there after the page was closed; if not, it is in memory only. */
export const storesLast = async (): Promise<boolean> => (await driver()) !== MEMORY;

function store(storeName: StoreName): Store {
  let opened: Promise<LocalForage> | null = null;
  const open = (): Promise<LocalForage> => {
    opened ??= driver().then((by) => localforage.createInstance({ name: DATABASE, storeName, driver: by }));
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

/** Whether all stores are there; where another tab holds an old database open, they may not be. */
export async function storesWhole(): Promise<boolean> {
  const opened = await openOnce(PATIENCE_MS);
  return opened !== null && isWhole(opened);
}
