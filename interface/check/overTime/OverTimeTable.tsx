'use client';

import { useMemo } from 'react';
import { clock, figure } from '@/core/text/figures';
import type { DataColumn } from '../../ui/table/column';
import { DataTable } from '../../ui/table/DataTable';
import { useDataTable } from '../../ui/table/useDataTable';
import { momentsOf } from './chartFiles';
import type { ChartData, Moment } from './panels';

/** The same as the charts in figures, a row a second. */
export function OverTimeTable({ data }: { data: ChartData }) {
  const rows = useMemo(() => momentsOf(data, 1), [data]);
  const { channels } = data;
  const value = (id: string, heading: string, of: (row: Moment) => number | null): DataColumn<Moment> => ({
    ...{ id, heading, size: 84, grow: 1, right: true, order: of },
    cell: (row) => figure(of(row)),
  });
  const columns: readonly DataColumn<Moment>[] = [
    {
      ...{ id: 'time', heading: 'Time', size: 70, fixed: true, order: ({ seconds }) => seconds },
      cell: ({ seconds }) => clock(seconds, 0),
    },
    value('momentary', 'Momentary LUFS', ({ momentaryLufs }) => momentaryLufs),
    value('shortTerm', 'Short-term LUFS', ({ shortTermLufs }) => shortTermLufs),
    value('running', 'So far LUFS', ({ runningLufs }) => runningLufs),
    ...channels.map((label, c) =>
      value(`peak ${c}`, `${label} dBTP`, ({ truePeakDbtp }) => truePeakDbtp[c] ?? null),
    ),
    value('reduction', 'Reduction dB', ({ reductionDb }) => (reductionDb > 0 ? reductionDb : null)),
    value('distance', 'Speech over LU', ({ speechOverRestLu }) => speechOverRestLu),
  ];
  const model = useDataTable({ name: 'over time', columns, rows, keyOf: ({ seconds }) => String(seconds) });
  return (
    <DataTable
      label="Over time"
      model={model}
      rowHeight={24}
      rowProps={({ seconds }) => ({ 'data-second': String(seconds) })}
    />
  );
}
