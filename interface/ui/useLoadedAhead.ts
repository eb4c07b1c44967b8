import { useEffect } from 'react';

/** Brings parts in once the page is idle, so that they are there at once, and without the server. @param loaders always the same */
export function useLoadedAhead(loaders: Readonly<Record<string, () => Promise<unknown>>>): void {
  useEffect(() => {
    const idle = requestIdleCallback(() => {
      for (const load of Object.values(loaders)) void load().catch(() => undefined);
    });
    return () => cancelIdleCallback(idle);
  }, [loaders]);
}
