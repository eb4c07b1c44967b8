'use client';

import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { csvOf } from './csv';
import { saveBlob } from './saveBlob';

/** What a report says: as a table, and as data. */
interface Report {
  readonly table: Parameters<typeof csvOf>[0];
  readonly data: unknown;
}

/** Saves a report as a table (CSV) or as data (JSON). */
export function SaveReport({
  name,
  disabled,
  table,
  data,
  make,
}: {
  /** Of the file, without its ending. */
  name: string;
  disabled: boolean;
  /** What each of them holds. */
  table: string;
  data: string;
  make: () => Promise<Report>;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [busy, setBusy] = useState(false);
  const save = (form: 'csv' | 'json') => () => {
    setAnchor(null);
    setBusy(true);
    void make()
      .then((report) => {
        const text = form === 'csv' ? csvOf(report.table) : `${JSON.stringify(report.data, null, 2)}\n`;
        const type = form === 'csv' ? 'text/csv' : 'application/json';
        saveBlob(new Blob([text], { type }), `${name}.${form}`);
      })
      .finally(() => setBusy(false));
  };
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        aria-haspopup="menu"
        disabled={disabled || busy}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ borderColor: 'divider' }}
      >
        {busy ? 'Writing the report …' : 'Report…'}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={save('csv')}>
          {table}
        </MenuItem>
        <MenuItem dense onClick={save('json')}>
          {data}
        </MenuItem>
      </Menu>
    </>
  );
}
