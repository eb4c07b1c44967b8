import { useEffect, useState } from 'react';
import type { LimitWanted } from '@/core/proposals/limitedClip';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import type { Project } from '@/core/programme/model';
import { clipSound } from '@/core/signal/clipSound';
import { measurePool } from '@/engine/measurePool';
import type { Failure } from '@/engine/protocol';
import { useSession } from '../../session/SessionContext';

/** What was worked out through limiters, by the keys of the questions. */
export interface ClipLimits {
  readonly found: ReadonlyMap<string, LimitedGain>;
  readonly failure: Failure | null;
}

/** Works out what proposals want through limiters, clip by clip; what is no longer wanted is given up. */
export function useClipLimits(project: Project, wanted: readonly LimitWanted[]): ClipLimits {
  const session = useSession();
  const [found, setFound] = useState<ReadonlyMap<string, LimitedGain>>(new Map());
  const [failure, setFailure] = useState<Failure | null>(null);
  useEffect(() => {
    const stop = new AbortController();
    for (const { clip, asked, key } of wanted) {
      if (found.has(key)) continue;
      const sound = clipSound(project, clip);
      const blob = sound && session.engine.audioOf(sound.audioKey);
      if (!sound || !blob) continue;
      void measurePool()
        .limitClip({ sound, blob }, asked, stop.signal)
        .then((outcome) => {
          if (stop.signal.aborted) return;
          if ('failure' in outcome) setFailure(outcome.failure);
          else if ('ok' in outcome) {
            const gain = outcome.ok;
            setFailure(null);
            setFound((before) => new Map(before).set(key, gain));
          }
        });
    }
    return () => stop.abort();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what is found is not looked for again
  }, [session, project, wanted]);
  return { found, failure };
}
