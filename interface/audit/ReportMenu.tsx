'use client';

import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { checkedFile, checkTable, type CheckedFile } from '@/core/deliver/checkReport';
import { saveBlob } from '../ui/saveBlob';
import type { Audit } from './audit';
import type { AuditRow } from './auditFile';
import { csvOf } from './saveMany';

/** Everything that was found of some files, as the command line tells it. */
async function reportOf(audit: Audit, rows: readonly AuditRow[]): Promise<CheckedFile[]> {
  const all: CheckedFile[] = [];
  const never = new AbortController().signal;
  for (const { id, file } of rows) {
    const name = file.folder === '' ? file.file.name : `${file.folder}/${file.file.name}`;
    if (!file.checked) {
      const { failure } = file;
      const { code, message, hint } = failure ?? {
        ...{ code: 'notMeasured', message: 'It was not measured.', hint: 'Measure it first.' },
      };
      all.push({ file: name, error: { code, message, hint } });
      continue;
    }
    const outcome = await audit.details(id, never);
    if ('failure' in outcome) all.push({ file: name, error: outcome.failure });
    if ('ok' in outcome) all.push(checkedFile(name, outcome.ok.check, outcome.ok.levels, []));
  }
  return all;
}

/** Saves what was found of all files shown. */
export function ReportMenu({ audit, rows }: { audit: Audit; rows: readonly AuditRow[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [busy, setBusy] = useState(false);
  const save = (form: 'csv' | 'json') => () => {
    setAnchor(null);
    setBusy(true);
    void reportOf(audit, rows)
      .then((files) => {
        const text =
          form === 'csv'
            ? csvOf(checkTable(files))
            : `${JSON.stringify(
                files.map((one) => ('error' in one ? one : one.report)),
                null,
                2,
              )}\n`;
        saveBlob(
          new Blob([text], { type: form === 'csv' ? 'text/csv' : 'application/json' }),
          `audit.${form}`,
        );
      })
      .finally(() => setBusy(false));
  };
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        aria-haspopup="menu"
        disabled={rows.length === 0 || busy}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ borderColor: 'divider' }}
      >
        {busy ? 'Writing the report …' : 'Report…'}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={save('csv')}>
          Table (CSV), a row a file and target
        </MenuItem>
        <MenuItem dense onClick={save('json')}>
          Everything (JSON), findings included
        </MenuItem>
      </Menu>
    </>
  );
}
