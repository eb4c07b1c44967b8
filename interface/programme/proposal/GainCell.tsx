'use client';

import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import type { ProposedRow } from '@/core/proposals/protocol';
import { parseGainEntry } from '@/core/programme/gainField';
import { signed } from '@/core/text/figures';
import { TypedCell } from '../../editing/TypedCell';
import type { PickedRows } from './useRows';

/** The gain proposed for a row: a press types another one, empty takes back the one that was worked out. */
export function GainCell<R extends ProposedRow>({
  row,
  of,
  name,
}: {
  row: R;
  of: PickedRows<R>;
  name: string;
}) {
  const [typing, setTyping] = useState(false);
  const { id, gainBeforeDb, gainAfterDb } = row;
  const { range } = of.proposal!;
  if (row.skipped !== null) return '—';
  if (typing)
    return (
      <TypedCell
        label={`Gain proposed for ${name} in dB`}
        shown={signed(gainAfterDb, 2)}
        take={(text) => {
          if (text.trim() === '') {
            of.type(id, null);
            return null;
          }
          const entry = parseGainEntry(text, range);
          if ('error' in entry) return entry.error;
          const db = entry.kind === 'set' ? entry.db : gainBeforeDb + entry.db;
          if (db < range.min || db > range.max)
            return `${range.name} goes from ${signed(range.min)} to ${signed(range.max)} dB`;
          of.type(id, db);
          return null;
        }}
        onDone={() => setTyping(false)}
      />
    );
  const typed = of.isTyped(id);
  return (
    <Tooltip
      title="Type another gain; empty takes the one proposed again"
      placement="left"
      disableInteractive
    >
      <ButtonBase
        aria-label={`Gain of ${name}: ${signed(gainAfterDb, 2)} dB${typed ? ', typed' : ''}. Change`}
        onClick={() => setTyping(true)}
        sx={{
          font: 'inherit',
          borderBottom: '1px dotted',
          borderColor: 'text.secondary',
          fontStyle: typed ? 'italic' : undefined,
        }}
      >
        {signed(gainAfterDb, 2)}
      </ButtonBase>
    </Tooltip>
  );
}
