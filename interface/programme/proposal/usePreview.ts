import { useEffect } from 'react';
import type { ProposedRow } from '@/core/proposals/protocol';
import type { Project } from '@/core/programme/model';
import { useSession } from '../../session/SessionContext';

/**
 * Shows where a proposal puts clips, and while it is previewed the programme as it would be: seen, heard and measured. What
 * was shown goes when the sheet does.
 * @param rows of which those with a clip's id show where it goes
 * @param previewed `null` while it is not previewed
 */
export function usePreview(rows: readonly ProposedRow[], previewed: Project | null): void {
  const session = useSession();
  useEffect(() => {
    session.setGhosts(new Map(rows.map((row) => [row.id, row.gainAfterDb])));
  }, [session, rows]);
  useEffect(() => {
    session.setPreview(previewed === session.project ? null : previewed);
  }, [session, previewed]);
  useEffect(
    () => () => {
      session.setGhosts(new Map());
      session.setPreview(null);
      session.listening.audition.stop();
    },
    [session],
  );
}
