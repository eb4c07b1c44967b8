'use client';

import ColumnsIcon from '@mui/icons-material/ViewColumnOutlined';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { DataTableModel } from './useDataTable';

/** Which columns of a table are shown; what is set stays. */
export function ColumnMenu<T extends object>({ model }: { model: DataTableModel<T> }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const hidden = model.choices.filter(({ shown }) => !shown).length;
  return (
    <>
      <Button
        color="inherit"
        size="small"
        startIcon={<ColumnsIcon />}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ whiteSpace: 'nowrap' }}
      >
        Columns{hidden > 0 ? ` (${hidden} hidden)` : ''}
      </Button>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, 'aria-label': 'Columns' } }}
      >
        {model.choices.map(({ column, shown }) => (
          <MenuItem
            key={column.id}
            role="menuitemcheckbox"
            aria-checked={shown}
            data-column={column.id}
            onClick={() => model.show(column.id, !shown)}
            title={column.hint}
          >
            <Checkbox
              size="small"
              checked={shown}
              tabIndex={-1}
              disableRipple
              sx={{ p: 0, mr: 1 }}
              aria-hidden
            />
            {column.heading === '' ? column.spoken : column.heading}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem disabled={!model.changed} onClick={model.reset}>
          All columns, usual widths
        </MenuItem>
      </Menu>
    </>
  );
}
