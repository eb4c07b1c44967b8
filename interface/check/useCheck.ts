import { useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import { fixProposal } from '@/core/proposals/fixes/fixProposal';
import type { CheckState } from '../session/checking';
import { useSession, useSessionState } from '../session/SessionContext';

/** What the check has come to, kept up to date as long as it is looked at. */
export function useCheck() {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  useEffect(() => session.checking.watch(), [session]);
  const state = useStore(session.checking.store);
  const { checked, mends } = state;
  const proposal = useMemo(
    () => (checked ? fixProposal(project, checked.findings, mends) : null),
    [project, checked, mends],
  );
  /** What stands there is of an older state. */
  const isOld = state.of !== null && state.of !== project;
  return { project, state, proposal, isOld };
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
