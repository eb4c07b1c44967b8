'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { findingsReport, findingsTable } from '@/core/deliver/findingsReport';
import type { FixRow } from '@/core/proposals/fixes/fixProposal';
import type { Proposal } from '@/core/proposals/protocol';
import { safeName } from '@/core/text/safeName';
import { count } from '@/core/text/words';
import { useSession } from '../session/SessionContext';
import { OneOf } from '../ui/OneOf';
import { SaveReport } from '../ui/SaveReport';
import { useIsOld, type ShownCheck } from './useCheck';
import type { PickedFixes } from './usePicked';

const SHOWN = ['all', 'breaks', 'look', 'accepted'] as const;
export type Shown = (typeof SHOWN)[number];

export const keeps: Readonly<Record<Shown, (row: FixRow) => boolean>> = {
  all: () => true,
  breaks: ({ finding, accepted }) => finding.weight === 'breaks' && !accepted,
  look: ({ finding, accepted }) => finding.weight === 'look' && !accepted,
  accepted: ({ accepted }) => accepted !== null,
};
const SHOWN_NAMES: Readonly<Record<Shown, string>> = {
  all: 'All',
  breaks: 'Break a limit',
  look: 'Worth a look',
  accepted: 'Accepted',
};

/** Which findings are shown, and what is done to those that are picked. */
export function FindingTools({
  of,
  proposal,
  shown,
  onShown,
  check,
  busy: isBusy,
}: {
  of: PickedFixes;
  proposal: Proposal<FixRow> | null;
  shown: Shown;
  onShown: (shown: Shown) => void;
  /** What all this is of. */
  check: ShownCheck;
  busy: boolean;
}) {
  const session = useSession();
  const isOld = useIsOld(check);
  const busy = isBusy || isOld;
  const { rows, applied, waiting } = of;
  const breaks = rows.filter(keeps.breaks).length;
  const apply = (): void => {
    if (!proposal || applied.length === 0) return;
    session.do(proposal.step(applied, 0), (current) => proposal.edit(current, applied));
  };
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', px: 1.5, py: 0.75, flexWrap: 'wrap' }}>
      <OneOf
        label="Findings shown"
        of={SHOWN}
        value={shown}
        words={(each) => `${SHOWN_NAMES[each]} ${rows.filter(keeps[each]).length}`}
        onSelect={onShown}
      />
      <Box sx={{ flex: 1 }} />
      {waiting > 0 && (
        <Box role="status" data-waiting={waiting} sx={{ fontSize: 12, color: 'text.secondary' }}>
          {count(waiting, 'more works', 'more work')} where another does: apply{' '}
          {waiting === 1 ? 'it' : 'them'} after.
        </Box>
      )}
      <SaveReport
        name={safeName(`${session.project.name} findings`)}
        disabled={rows.length === 0}
        table="Table (CSV), a row a finding"
        data="Data (JSON)"
        make={() => {
          const findings = findingsReport(rows);
          const { name, target } = session.project;
          const told = { programme: name, target: target.id, findings };
          return Promise.resolve({ table: findingsTable(findings), data: told });
        }}
      />
      <Button variant="outlined" disabled={applied.length === 0} onClick={apply}>
        {applied.length === 0 ? 'Apply picked fixes' : `Apply ${count(applied.length, 'fix', 'fixes')}`}
      </Button>
      <Button
        variant="contained"
        disabled={breaks === 0 || busy}
        onClick={() => void session.checking.mendAll()}
      >
        Mend all that breaks a limit…
      </Button>
    </Box>
  );
}
