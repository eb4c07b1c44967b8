import { useMemo, useState } from 'react';
import type { Project } from '@/core/programme/model';
import { together, type FixRow } from '@/core/proposals/fixes/fixProposal';
import type { Proposal } from '@/core/proposals/protocol';

/** Fixes that are picked to be applied in one step. */
export interface PickedFixes {
  readonly rows: readonly FixRow[];
  readonly isPicked: (id: string) => boolean;
  readonly pick: (id: string, picked: boolean) => void;
  /** Those that are applied, in the order of the rows. */
  readonly applied: readonly FixRow[];
  /** How many of those picked work at the same place as another, and wait. */
  readonly waiting: number;
}

const NO_ROWS: readonly FixRow[] = [];

/** Picks fixes out of what was found; none is to begin with. What hinders another waits for its turn. */
export function usePicked(proposal: Proposal<FixRow> | null, project: Project): PickedFixes {
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const rows = proposal?.rows ?? NO_ROWS;
  const chosen = useMemo(
    () => rows.filter(({ id, skipped }) => skipped === null && picked.has(id)),
    [rows, picked],
  );
  const applied = useMemo(() => {
    const fixes = chosen.flatMap(({ mend }) => (mend && 'fix' in mend ? [mend.fix] : []));
    const ids = new Set(together(project, fixes).applied.map(({ findingId }) => findingId));
    return chosen.filter(({ id }) => ids.has(id));
  }, [chosen, project]);
  return useMemo(
    () => ({
      rows,
      isPicked: (id) => picked.has(id),
      pick: (id, is) => {
        const next = new Set(picked);
        if (is) next.add(id);
        else next.delete(id);
        setPicked(next);
      },
      applied,
      waiting: chosen.length - applied.length,
    }),
    [rows, picked, applied, chosen],
  );
}
