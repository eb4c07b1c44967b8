import { useDeferredValue, useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import type { Mend } from '@/core/proposals/fixes/fixFor';
import type { CheckState } from '../session/checking';
import { useSession, useSessionState } from '../session/SessionContext';

export function useCheckState<T>(select: (state: CheckState) => T): T {
  return useStore(useSession().checking.store, select);
}

/** What is drawn of a check. */
export type ShownCheck = Pick<CheckState, 'checked' | 'mends'>;

/** As the stage comes, before its thousands of rows. */
const NOTHING_YET: ShownCheck = { checked: null, mends: new Map<string, Mend>() };

/**
 * What the check has come to, kept up to date as long as it is looked at. There may be thousands of findings: they are drawn as
 * there is time between what hands do.
 */
export function useShownCheck(): ShownCheck {
  const session = useSession();
  useEffect(() => session.checking.watch(), [session]);
  const checked = useCheckState((state) => state.checked);
  const mends = useCheckState((state) => state.mends);
  return useDeferredValue(
    useMemo(() => ({ checked, mends }), [checked, mends]),
    NOTHING_YET,
  );
}

/** Whether what stands there is of an older state. */
export function useIsOld({ checked }: ShownCheck): boolean {
  const project = useSessionState((state) => state.history.project);
  return useCheckState((state) => (state.of !== null && state.of !== project) || state.checked !== checked);
}

/** What is being done, in a few words; `null` when nothing is. */
export function workWords({ work }: Pick<CheckState, 'work'>): string | null {
  if (work === null) return null;
  return {
    checking: 'Looking through the programme',
    clicks: 'Looking at every join',
    fixes: 'Working out what mends it',
    mending: 'Working out how to mend all of it',
  }[work];
}
