/** How long a tab that is asked for a project may take to hand it over, ms; after that it is taken from it. */
const PATIENCE_MS = 4000;
/** A page that was just reloaded may not have let go yet: asked again so often, so far apart. */
const TRIES = 4;
const TRY_MS = 150;

const YIELD = 'yield';

/** A project held by this tab. */
export interface ProjectLock {
  release(): void;
  /** Somebody else of this tab answers for it from now on. */
  passTo(holder: Holder): void;
}

export interface Holder {
  /** Another tab asks for the project: finish what is being kept, then let go. */
  readonly onAsked: () => Promise<void>;
  /** It is another tab's now. */
  readonly onTaken: () => void;
}

const nameOf = (id: string): string => `dengung-project-${id}`;

/** @param options of the lock; waits for it unless they say otherwise */
function request(id: string, options: LockOptions, first: Holder): Promise<ProjectLock | null> {
  return new Promise((resolve, reject) => {
    let holding = false;
    let holder = first;
    const passTo = (next: Holder): void => {
      holder = next;
    };
    navigator.locks
      .request(nameOf(id), options, async (lock) => {
        if (!lock) return resolve(null);
        holding = true;
        const channel = new BroadcastChannel(nameOf(id));
        await new Promise<void>((release) => {
          channel.onmessage = ({ data }) => {
            if (data !== YIELD) return;
            const asked = holder;
            void asked.onAsked().finally(() => {
              release();
              asked.onTaken();
            });
          };
          resolve({ release, passTo });
        });
        channel.close();
      })
      .catch((error: unknown) => {
        // Taken from a tab that did not answer.
        if (holding) holder.onTaken();
        else reject(error instanceof Error ? error : new Error(String(error)));
      });
  });
}

/**
 * Holds a project, so that no other tab works on it at the same time.
 * @returns `null` when another tab holds it
 */
export async function holdProject(id: string, holder: Holder): Promise<ProjectLock | null> {
  for (let tries = 0; tries < TRIES; tries++) {
    const lock = await request(id, { ifAvailable: true }, holder);
    if (lock) return lock;
    await new Promise((resolve) => setTimeout(resolve, TRY_MS));
  }
  return null;
}

/** Asks the tab that holds a project for it; from one that does not answer it is taken. */
export async function takeProject(id: string, holder: Holder): Promise<ProjectLock> {
  const channel = new BroadcastChannel(nameOf(id));
  channel.postMessage(YIELD);
  channel.close();
  const waiting = new AbortController();
  const timer = setTimeout(() => waiting.abort(), PATIENCE_MS);
  try {
    return (await request(id, { signal: waiting.signal }, holder))!;
  } catch {
    return (await request(id, { steal: true }, holder))!;
  } finally {
    clearTimeout(timer);
  }
}

/** For work that is done in a moment: it is not worth telling. */
const BRIEF: Holder = { onAsked: () => Promise.resolve(), onTaken: () => undefined };

/**
 * Does something to a project that no other tab has open, nor this one.
 * @returns whether it was done; `false` when the project is open somewhere
 */
export async function whileClosed(id: string, work: () => Promise<unknown>): Promise<boolean> {
  const lock = await holdProject(id, BRIEF);
  if (!lock) return false;
  try {
    await work();
    return true;
  } finally {
    lock.release();
  }
}
