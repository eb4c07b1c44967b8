import { useDeferredValue, useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import type { Mend } from '@/core/proposals/fixes/fixFor';
import { fixProposal } from '@/core/proposals/fixes/fixProposal';
import type { CheckState } from '../session/checking';
import { useSession, useSessionState } from '../session/SessionContext';

export function useCheckState<T>(select: (state: CheckState) => T): T {
  return useStore(useSession().checking.store, select);
}

/** As the stage comes, before its thousands of rows. */
const NOTHING_YET = { checked: null, mends: new Map<string, Mend>() };

/** What the check has come to, kept up to date as long as it is looked at. */
export function useCheck() {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  useEffect(() => session.checking.watch(), [session]);
  const checked = useCheckState((state) => state.checked);
  const mends = useCheckState((state) => state.mends);
  // There may be thousands: they are drawn as there is time between what hands do.
  const newest = useMemo(() => ({ checked, mends }), [checked, mends]);
  const shown = useDeferredValue<Pick<CheckState, 'checked' | 'mends'>>(newest, NOTHING_YET);
  const proposal = useMemo(
    () => (shown.checked ? fixProposal(project, shown.checked.findings, shown.mends) : null),
    [project, shown],
  );
  const isOlder = useCheckState(({ of }) => of !== null && of !== project);
  /** What stands there is of an older state. */
  const isOld = isOlder || shown.checked !== checked;
  /** It is there, and drawn in a moment. */
  const isComing = shown.checked === null && checked !== null;
  return { project, checked: shown.checked, proposal, isOld, isComing };
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
