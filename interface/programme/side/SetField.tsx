'use client';

import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import { MOST_SET_LETTERS, putInSet, setNames } from '@/core/programme/edits/sets';
import type { Clip } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { useProject, useSession } from '../../session/SessionContext';

/** The set that the chosen clips are in, to be levelled together: chosen among those there are, or typed. */
export function SetField({ clips }: { clips: readonly Clip[] }) {
  const session = useSession();
  const project = useProject();
  const names = useMemo(() => setNames(project), [project]);
  const [first] = clips;
  const same = clips.every(({ setName }) => setName === first?.setName);
  const value = same ? (first?.setName ?? null) : null;
  const put = (typed: string | null): void => {
    const name = typed?.trim() || null;
    if (same && name === value) return;
    const ids = new Set(clips.map(({ id }) => id));
    const who = clips.length === 1 ? first!.name : count(clips.length, 'clip');
    session.do(name === null ? `Remove ${who} from the set` : `Add ${who} to set ${name}`, (state) =>
      putInSet(state, ids, name),
    );
  };
  return (
    <Autocomplete
      key={clips.map(({ id }) => id).join()}
      freeSolo
      autoSelect
      size="small"
      options={names}
      value={value}
      onChange={(_, next) => put(next)}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Set, to level together"
          placeholder={same ? 'none' : 'various'}
          slotProps={{
            ...params.slotProps,
            inputLabel: { ...params.slotProps.inputLabel, shrink: true },
            htmlInput: { ...params.slotProps.htmlInput, maxLength: MOST_SET_LETTERS },
          }}
        />
      )}
    />
  );
}
