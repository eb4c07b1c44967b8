'use client';

import Box from '@mui/material/Box';
import { figure, signed } from '@/core/text/figures';
import type { DataColumn } from '../table/column';
import { ColumnMenu } from '../table/ColumnMenu';
import { DataTable } from '../table/DataTable';
import { useDataTable } from '../table/useDataTable';
import { ROWS } from './made';

type Row = (typeof ROWS)[number];

const COLUMNS: readonly DataColumn<Row>[] = [
  {
    ...{ id: 'name', heading: 'Clip', size: 120, grow: 1, fixed: true },
    order: ({ name }) => name,
    cell: ({ name }) => name,
  },
  {
    ...{ id: 'gain', heading: 'Gain dB', size: 70, right: true },
    order: ({ gainDb }) => gainDb,
    cell: ({ gainDb }) => signed(gainDb),
  },
  {
    ...{ id: 'after', heading: 'After LUFS', size: 80, right: true },
    order: ({ lufs }) => lufs,
    cell: ({ lufs }) => figure(lufs),
  },
];

/** A table of a few clips. */
export function ClipTable({ rows = ROWS }: { rows?: readonly Row[] }) {
  const model = useDataTable({ name: 'specimen', columns: COLUMNS, rows, keyOf: ({ name }) => name });
  return (
    <Box sx={{ flex: 1, display: 'flex', flexDirection: 'column', minWidth: 0 }}>
      <Box>
        <ColumnMenu model={model} />
      </Box>
      <DataTable
        label="Clips"
        model={model}
        rowHeight={30}
        rowProps={({ name }) => ({ 'data-row': name })}
        empty="No clips."
      />
    </Box>
  );
}
