'use client';

import dynamic from 'next/dynamic';
import { usePathname, useSelectedLayoutSegment } from 'next/navigation';
import { type ComponentType, type ReactNode } from 'react';
import { useLoadedAhead } from '../ui/useLoadedAhead';
import type { StageName } from './stageNames';

const LOADERS = {
  sources: () => import('../sources/SourcesStage').then((parts) => parts.SourcesStage),
  programme: () => import('../programme/ProgrammeStage').then((parts) => parts.ProgrammeStage),
  check: () => import('../check/CheckStage').then((parts) => parts.CheckStage),
  handover: () => import('../handover/HandoverStage').then((parts) => parts.HandoverStage),
} as const satisfies Readonly<Record<StageName, () => Promise<ComponentType>>>;

const LAZY: Readonly<Record<StageName, ComponentType>> = {
  sources: dynamic(LOADERS.sources),
  programme: dynamic(LOADERS.programme),
  check: dynamic(LOADERS.check),
  handover: dynamic(LOADERS.handover),
};

const isStage = (name: string | undefined): name is StageName => name !== undefined && name in LOADERS;

/** The stage that the address names: what the server sent for it, or, once another was gone to, what is brought in for that. */
export function ShownStage({ children }: { children: ReactNode }) {
  const sent = useSelectedLayoutSegment();
  const wanted = usePathname().split('/')[3];
  useLoadedAhead(LOADERS);
  if (wanted === sent || !isStage(wanted)) return children;
  const Stage = LAZY[wanted];
  return <Stage />;
}
