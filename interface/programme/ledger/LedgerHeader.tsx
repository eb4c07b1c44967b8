'use client';

import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import { gridOf, type Column, type Sorting } from './columns';

/** The titles; a press sorts, another turns the order round. */
export function LedgerHeader({
  columns,
  sorting,
  onSort,
}: {
  columns: readonly Column[];
  sorting: Sorting;
  onSort: (sorting: Sorting) => void;
}) {
  return (
    <Box
      role="rowgroup"
      sx={{
        position: 'sticky',
        top: 0,
        zIndex: 1,
        bgcolor: 'background.paper',
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <Box
        role="row"
        aria-rowindex={1}
        sx={{ display: 'grid', gridTemplateColumns: gridOf(columns), columnGap: 0.75, px: 1, minWidth: 900 }}
      >
        {columns.map(({ id, title, hint, left }) => {
          const here = sorting.column === id;
          return (
            <Box
              key={id}
              role="columnheader"
              aria-sort={here ? (sorting.down ? 'descending' : 'ascending') : 'none'}
              sx={{ textAlign: left ? 'left' : 'right' }}
            >
              <Tooltip title={hint}>
                <Box
                  component="button"
                  onClick={() => onSort({ column: id, down: here && !sorting.down })}
                  sx={{
                    font: 'inherit',
                    fontSize: 11.5,
                    fontWeight: here ? 650 : 500,
                    color: here ? 'text.primary' : 'text.secondary',
                    border: 0,
                    bgcolor: 'transparent',
                    cursor: 'pointer',
                    p: 0,
                    lineHeight: '26px',
                    whiteSpace: 'nowrap',
                  }}
                >
                  {title}
                  {here && (sorting.down ? ' ↓' : ' ↑')}
                </Box>
              </Tooltip>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
