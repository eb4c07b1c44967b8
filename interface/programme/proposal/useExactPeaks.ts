import { useEffect } from 'react';
import type { Id } from '@/core/programme/model';
import type { ProposedRow } from '@/core/proposals/protocol';
import type { PickedRows } from './useRows';

/**
 * Works out the exact true peaks that a proposal waits for: near the ceiling the promise to keep it needs them.
 * @param subjects what the rows are of
 */
export function useExactPeaks<R extends ProposedRow, S extends { readonly id: Id }>(
  { proposal }: PickedRows<R>,
  subjects: readonly S[],
  find: (wanted: readonly S[]) => void,
): void {
  useEffect(() => {
    const wanted = new Set(proposal?.inexact);
    if (wanted.size > 0) find(subjects.filter(({ id }) => wanted.has(id)));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what finds them may be another at each drawing
  }, [proposal, subjects]);
}
