import { useMemo, useState } from 'react';
import type { Project } from '@/core/programme/model';
import type { Proposal, ProposedRow } from '@/core/proposals/protocol';

/** A proposal as the editor has it: which rows are left out, and which gains were typed. */
export interface PickedRows<R extends ProposedRow> {
  readonly proposal: Proposal<R> | null;
  /** The project with those to be applied. */
  readonly proposed: Project;
  /** All of them, with the gains that were typed. */
  readonly rows: readonly R[];
  /** Those to be applied. */
  readonly picked: readonly R[];
  readonly isLeft: (id: string) => boolean;
  readonly leave: (ids: readonly string[], left: boolean) => void;
  readonly isTyped: (id: string) => boolean;
  /** @param gainDb `null`: the one proposed again */
  readonly type: (id: string, gainDb: number | null) => void;
  /** How many of those to be applied have a typed gain. */
  readonly typedCount: number;
}

/** Picks rows of a proposal and types gains over them; what was picked and typed stays while it is worked out anew. */
export function useRows<R extends ProposedRow>(
  proposal: Proposal<R> | null,
  project: Project,
): PickedRows<R> {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [typed, setTyped] = useState<ReadonlyMap<string, number>>(new Map());
  const rows = useMemo(
    () =>
      proposal?.rows.map((row) => {
        const gainDb = typed.get(row.id);
        return gainDb === undefined ? row : proposal.typed(row, gainDb);
      }) ?? [],
    [proposal, typed],
  );
  const picked = useMemo(() => rows.filter((row) => row.skipped === null && !left.has(row.id)), [rows, left]);
  const proposed = useMemo(() => proposal?.edit(project, picked) ?? project, [proposal, project, picked]);
  return {
    ...{ proposal, proposed, rows, picked },
    isLeft: (id) => left.has(id),
    leave: (ids, leaving) => {
      const next = new Set(left);
      for (const id of ids) {
        if (leaving) next.add(id);
        else next.delete(id);
      }
      setLeft(next);
    },
    isTyped: (id) => typed.has(id),
    type: (id, gainDb) => {
      const next = new Map(typed);
      if (gainDb === null) next.delete(id);
      else next.set(id, gainDb);
      setTyped(next);
    },
    typedCount: picked.filter(({ id }) => typed.has(id)).length,
  };
}
