import { useEffect } from 'react';
import type { ProposalRow } from '@/core/proposals/proposal';
import type { Project } from '@/core/programme/model';
import { useSession } from '../session/SessionContext';

/**
 * Shows where a proposal puts clips, and while it is tried the programme as it would be: seen, heard and measured. What was
 * shown goes when the sheet does.
 * @param tried `null` while it is not tried
 */
export function useProposed(rows: readonly ProposalRow[], tried: Project | null): void {
  const session = useSession();
  useEffect(() => {
    session.setGhosts(new Map(rows.map((row) => [row.id, row.gainAfterDb])));
  }, [session, rows]);
  useEffect(() => {
    session.setPreview(tried === session.project ? null : tried);
  }, [session, tried]);
  useEffect(
    () => () => {
      session.setGhosts(new Map());
      session.setPreview(null);
      session.listening.audition.stop();
    },
    [session],
  );
}
