import { useEffect, useMemo, useState } from 'react';
import { limitedShiftStart, limiterForTarget } from '@/core/proposals/limitedShift';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import type { Limiter, Project } from '@/core/programme/model';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import type { Failure } from '@/engine/protocol';
import { useSession } from '../../session/SessionContext';

/** Where the search for a limited programme's gain is. */
export interface LimitedShiftState {
  readonly limiter: Limiter;
  readonly found: LimitedGain | null;
  /** 0 to 1 */
  readonly done: number;
  readonly failure: Failure | null;
}

/**
 * Solves the gain that brings the programme to its target with a limiter on it, while that is wanted; given up when it is not,
 * or when the programme changes.
 * @param blocks the gating blocks of the programme as it stands; `null` until it is measured
 */
export function useLimitedShift(
  wanted: boolean,
  project: Project,
  blocks: Float64Array | null,
): LimitedShiftState {
  const session = useSession();
  const limiter = useMemo(() => limiterForTarget(project, project.limiter ?? SPEECH_AND_MUSIC), [project]);
  const [state, setState] = useState<{
    readonly of: Float64Array | null;
    readonly found: LimitedGain | null;
    readonly done: number;
    readonly failure: Failure | null;
  }>({ of: null, found: null, done: 0, failure: null });
  useEffect(() => {
    if (!wanted || !blocks) return;
    const start = limitedShiftStart({ blocks }, project);
    if (!start) return;
    const stop = new AbortController();
    const at = (more: Partial<typeof state>): void => {
      if (!stop.signal.aborted) setState({ of: blocks, found: null, done: 0, failure: null, ...more });
    };
    const { integratedLufs } = project.target;
    void session.engine
      .solveLimited(project, limiter, integratedLufs, start, stop.signal, (done) => at({ done }))
      .then((outcome) => {
        if ('ok' in outcome) at({ found: outcome.ok, done: 1 });
        else if ('failure' in outcome) at({ failure: outcome.failure });
      });
    return () => stop.abort();
  }, [wanted, project, blocks, limiter, session]);
  const mine = wanted && state.of === blocks;
  return {
    limiter,
    found: mine ? state.found : null,
    done: mine ? state.done : 0,
    failure: mine ? state.failure : null,
  };
}
