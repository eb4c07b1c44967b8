'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMemo, type ReactNode } from 'react';
import { CLIP_STATES, type LedgerRow } from '@/core/proposals/ledger';
import { setNames } from '@/core/programme/edits/sets';
import { ROLES, type Id, type Project } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { ROLE_NAMES } from '../../ui/words';
import { useRemembered } from '../../ui/useRemembered';
import { useProject } from '../../session/SessionContext';
import { STATE_NAMES } from './columns';

const ALL = 'all';
const NOTHING = { text: '', track: ALL, role: ALL, source: ALL, set: ALL, state: ALL };
type Wanted = typeof NOTHING;

export interface Filter {
  readonly wanted: Wanted;
  readonly set: (change: Partial<Wanted>) => void;
  readonly keeps: (row: LedgerRow, project: Project) => boolean;
}

/** Which rows are shown. */
export function useFilter(projectId: Id): Filter {
  const [wanted, setWanted] = useRemembered(`ledger ${projectId}`, NOTHING);
  return useMemo(() => {
    const text = wanted.text.trim().toLowerCase();
    return {
      wanted,
      set: (change) => setWanted({ ...wanted, ...change }),
      keeps: ({ entry: { clip }, state }, project) => {
        const is = (value: string, chosen: string): boolean => chosen === ALL || chosen === value;
        const role = project.tracks.find(({ id }) => id === clip.trackId)?.role ?? '';
        return (
          clip.name.toLowerCase().includes(text) &&
          is(clip.trackId, wanted.track) &&
          is(clip.sourceId, wanted.source) &&
          is(clip.setName ?? '', wanted.set) &&
          is(state, wanted.state) &&
          is(role, wanted.role)
        );
      },
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the setter does the same each time
  }, [wanted]);
}

interface Choice {
  readonly label: string;
  readonly key: Exclude<keyof Wanted, 'text'>;
  readonly options: readonly (readonly [value: string, name: string])[];
}

/** Finds rows by name, and keeps those of a track, role, source or state. */
export function LedgerFilters({
  filter,
  shown,
  of,
  columns,
}: {
  filter: Filter;
  shown: number;
  of: number;
  /** Which columns are shown. */
  columns: ReactNode;
}) {
  const project = useProject();
  const { tracks, sources } = project;
  const sets = setNames(project);
  const choices: readonly Choice[] = [
    { label: 'Track', key: 'track', options: tracks.map(({ id, name }) => [id, name]) },
    { label: 'Role', key: 'role', options: ROLES.map((role) => [role, ROLE_NAMES[role]]) },
    { label: 'Source', key: 'source', options: sources.map(({ id, name }) => [id, name]) },
    // Sets are made by hand: mostly there are none.
    ...(sets.length > 0
      ? [{ label: 'Set', key: 'set', options: sets.map((name) => [name, name] as const) } as const]
      : []),
    { label: 'State', key: 'state', options: CLIP_STATES.map((state) => [state, STATE_NAMES[state]]) },
  ];
  const { wanted, set } = filter;
  return (
    <Box
      role="search"
      aria-label="Rows shown"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1,
        py: 0.75,
        borderBottom: 1,
        borderColor: 'divider',
        fontSize: 12,
      }}
    >
      <TextField
        label="Find"
        value={wanted.text}
        onChange={(event) => set({ text: event.target.value })}
        sx={{ width: 130 }}
      />
      {choices.map(({ label, key, options }) => (
        <TextField
          key={key}
          select
          label={label}
          value={wanted[key]}
          onChange={(event) => set({ [key]: event.target.value })}
          sx={{ width: 122 }}
        >
          <MenuItem value={ALL} dense>
            All
          </MenuItem>
          {options.map(([value, name]) => (
            <MenuItem key={value} value={value} dense>
              {name}
            </MenuItem>
          ))}
        </TextField>
      ))}
      <Box role="status" sx={{ color: 'text.secondary' }}>
        {shown === of ? count(of, 'clip') : `${shown.toLocaleString('en')} of ${count(of, 'clip')}`}
      </Box>
      {shown !== of && (
        <Button color="inherit" onClick={() => set(NOTHING)}>
          Show all
        </Button>
      )}
      <Box sx={{ ml: 'auto' }}>{columns}</Box>
    </Box>
  );
}
