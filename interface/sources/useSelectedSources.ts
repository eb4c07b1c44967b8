import { useEffect, useMemo, useRef, useState } from 'react';
import { tinykeys } from 'tinykeys';
import type { Id } from '@/core/programme/model';

/** Which sources are selected: one by one, a range with Shift, all with Ctrl A, none with Escape. */
export interface SelectedSources {
  readonly ids: ReadonlySet<Id>;
  /** @param toHere all from the last one to this one, as they are listed */
  readonly choose: (id: Id, on: boolean, toHere: boolean) => void;
  readonly set: (ids: Iterable<Id>) => void;
}

/** @param listed ids of those in the list, in its order */
export function useSelectedSources(listed: () => readonly Id[]): SelectedSources {
  const [ids, setIds] = useState<ReadonlySet<Id>>(new Set());
  const last = useRef<Id | null>(null);
  const order = useRef(listed);
  useEffect(() => {
    order.current = listed;
  }, [listed]);
  useEffect(() => {
    const ifFree = (act: () => void) => (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target.closest(
        'input:not([type=checkbox]), textarea, [role=menu], [role=dialog], [role=combobox]',
      );
      if (event.defaultPrevented || typing) return;
      event.preventDefault();
      act();
    };
    return tinykeys(window, {
      'Control+a': ifFree(() => setIds(new Set(order.current()))),
      Escape: ifFree(() => setIds(new Set())),
    });
  }, []);
  return useMemo(
    () => ({
      ids,
      choose: (id, on, toHere) => {
        const list = order.current();
        const from = last.current === null ? -1 : list.indexOf(last.current);
        const to = list.indexOf(id);
        const meant =
          toHere && from >= 0 && to >= 0 ? list.slice(Math.min(from, to), Math.max(from, to) + 1) : [id];
        last.current = id;
        const next = new Set(ids);
        for (const one of meant) {
          if (on || toHere) next.add(one);
          else next.delete(one);
        }
        setIds(next);
      },
      set: (all) => setIds(new Set(all)),
    }),
    [ids],
  );
}
