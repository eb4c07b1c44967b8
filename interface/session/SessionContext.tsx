'use client';

import { createContext, use, useMemo } from 'react';
import { useStore } from 'zustand';
import type { Project } from '@/core/programme/model';
import type { Session } from './session';
import { isAbsent, leftOut, type LeftOut } from './sounds';
import { shownProject, type SessionState } from './state';

export const SessionContext = createContext<Session | null>(null);

/** The open project's session. */
export function useSession(): Session {
  const session = use(SessionContext);
  if (!session) throw new Error('useSession needs an open project');
  return session;
}

/** A part of the session's state; the component follows it. */
export function useSessionState<T>(select: (state: SessionState) => T): T {
  return useStore(useSession().store, select);
}

/** The programme as it is to be shown. */
export function useProject(): Project {
  return useSessionState(shownProject);
}

/** What the programme's figures leave out, because its sound is not there. */
export function useLeftOut(): LeftOut {
  const project = useProject();
  const absent = useSessionState((state) => state.absent);
  return useMemo(() => leftOut(project, (key) => !isAbsent(absent, key)), [project, absent]);
}
