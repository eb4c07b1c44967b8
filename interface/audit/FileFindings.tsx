'use client';

import Box from '@mui/material/Box';
import { useMemo } from 'react';
import type { Finding } from '@/core/check/findings/finding';
import { fixOf, type Mends } from '@/core/proposals/fileFix';
import { findingColumns } from '../check/findingColumns';
import type { Looked } from '../check/looked';
import type { DataColumn } from '../ui/table/column';
import { DataTable } from '../ui/table/DataTable';
import { useDataTable } from '../ui/table/useDataTable';

interface Row {
  readonly id: string;
  readonly finding: Finding;
  readonly fix: string;
}

/** Everything that was found in a file: what, where, how much, and what mends it. */
export function FileFindings({
  findings,
  mends,
  lead,
  looked,
}: {
  findings: readonly Finding[];
  mends: Mends;
  /** Id of the target that rules where a finding names none. */
  lead: string;
  looked: Looked;
}) {
  const rows = useMemo(
    () =>
      findings.map((finding): Row => ({
        ...{ id: `${finding.id} ${finding.weight} ${finding.targets?.join(' ') ?? ''}`, finding },
        fix: fixOf(finding, mends, lead)?.sentence ?? '',
      })),
    [findings, mends, lead],
  );
  const columns: readonly DataColumn<Row>[] = [
    ...findingColumns<Row>(looked),
    {
      ...{ id: 'fix', heading: 'What mends it', size: 190, grow: 1.1, sentence: true },
      cell: ({ fix }) => fix,
      cellProps: ({ fix }) => ({ title: fix }),
    },
  ];
  const model = useDataTable({ name: 'file findings', columns, rows, keyOf: ({ id }) => id });
  return (
    <DataTable
      label="Findings of the file"
      model={model}
      rowHeight={40}
      empty={
        <Box sx={{ p: 2, color: 'text.secondary' }}>
          Nothing found: no limit is broken, and nothing is worth a look.
        </Box>
      }
      rowProps={({ finding }) => ({
        'data-finding': finding.kind,
        'data-weight': finding.weight,
        'data-from': finding.from.toFixed(2),
      })}
    />
  );
}
