import { useEffect, useState } from 'react';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Contributions } from '@/core/measuring/contributions';
import type { Project } from '@/core/programme/model';
import type { Failure } from '@/engine/protocol';
import { useSession, useSessionState } from '../../session/SessionContext';

interface Found {
  /** Of what. */
  readonly project: Project | null;
  readonly from: number;
  readonly to: number;
  readonly contributions: Contributions | null;
  /** 0 to 1 */
  readonly done: number;
  readonly failure: Failure | null;
  readonly cancelled: boolean;
}

const NONE: Found = {
  ...{ project: null, from: NaN, to: NaN, contributions: null, done: 0, failure: null, cancelled: false },
};

/**
 * What each part brings, kept up to date with the programme as long as it is looked at.
 * @param range seconds; all of it where `null`
 */
export function useContributions(project: Project, range: TimeRange | null) {
  const session = useSession();
  const resting = useSessionState((state) => state.measuring === null && state.preview === null);
  const [found, setFound] = useState<Found>(NONE);
  const [turn, setTurn] = useState(0);
  const from = range?.from ?? 0;
  const to = range?.to ?? Infinity;
  useEffect(() => {
    if (!resting) return;
    let wanted = true;
    const set = (more: Partial<Found>): void => {
      if (wanted) setFound((now) => ({ ...now, failure: null, cancelled: false, ...more }));
    };
    const run = session.measurer.contributions(to === Infinity ? null : { from, to }, (done) =>
      set({ done }),
    );
    void run?.then((outcome) => {
      if ('ok' in outcome) set({ project, from, to, contributions: outcome.ok, done: 1 });
      else if ('failure' in outcome) set({ failure: outcome.failure });
      else set({ cancelled: true });
    });
    return () => {
      wanted = false;
    };
  }, [session, project, resting, from, to, turn]);
  // It takes long, and is of use only while somebody looks.
  useEffect(() => () => session.engine.stopParts(), [session]);
  const mine = found.project === project && found.from === from && found.to === to;
  return {
    /** Of an older state while `isOld`. */
    contributions: found.contributions,
    isOld: !mine,
    ...{ done: found.done, failure: found.failure, cancelled: found.cancelled },
    cancel: (): void => session.engine.stopParts(),
    again: (): void => setTurn((now) => now + 1),
  };
}
