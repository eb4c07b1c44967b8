import { useEffect, useState } from 'react';
import type { ClickLimits, FoundClick } from '@/core/proposals/clicks';
import type { Project } from '@/core/programme/model';
import type { Failure } from '@/engine/protocol';
import { useSession } from '../../session/SessionContext';

interface Search {
  /** What was looked through. */
  readonly of: Project | null;
  readonly found: readonly FoundClick[] | null;
  /** 0 to 1 */
  readonly done: number;
  readonly failure: Failure | null;
  readonly cancelled: boolean;
}

const NONE: Search = { of: null, found: null, done: 0, failure: null, cancelled: false };

/** Looks through a programme for clicks, anew whenever it changes. @param limits `null` while they cannot be read */
export function useClicks(project: Project, limits: ClickLimits | null) {
  const session = useSession();
  const [search, setSearch] = useState<Search>(NONE);
  const [controller, setController] = useState<AbortController | null>(null);
  useEffect(() => {
    if (!limits) return;
    const stop = new AbortController();
    const at = (more: Partial<Search>): void => {
      if (!stop.signal.aborted) setSearch({ ...NONE, of: project, ...more });
    };
    // eslint-disable-next-line react-hooks/set-state-in-effect -- what can be cancelled is what was begun here
    setController(stop);
    void session.engine
      .findClicks(session.playable(project), limits, stop.signal, (done) => at({ done }))
      .then((outcome) => {
        if ('ok' in outcome) at({ found: outcome.ok, done: 1 });
        else if ('failure' in outcome) at({ failure: outcome.failure });
      });
    return () => stop.abort();
  }, [session, project, limits]);
  const mine = search.of === project ? search : NONE;
  return {
    ...mine,
    cancel: (): void => {
      controller?.abort();
      setSearch({ ...NONE, of: project, cancelled: true });
    },
  };
}
