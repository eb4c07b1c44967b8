'use client';

import { createContext, use } from 'react';
import { useStore } from 'zustand';
import type { Project } from '@/core/programme/model';
import type { Session } from './session';
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
