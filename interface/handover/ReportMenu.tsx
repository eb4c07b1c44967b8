'use client';

import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { HandedOver } from '@/core/deliver/handoverReport';
import { handoverTable } from '@/core/deliver/handoverReport';
import { reportHtml } from '@/core/deliver/report/html';
import { programmeReport, type ProgrammeReport } from '@/core/deliver/report/report';
import { fixProposal } from '@/core/proposals/fixes/fixProposal';
import { timeText } from '@/core/text/dates';
import { safeName } from '@/core/text/safeName';
import { useSession, useSessionState } from '../session/SessionContext';
import type { Session } from '../session/session';
import { csvOf } from '../ui/csv';
import { saveBlob } from '../ui/saveBlob';

/** A form that a report can be saved in. */
interface Form {
  readonly name: string;
  readonly ending: string;
  readonly type: string;
  readonly text: (report: ProgrammeReport) => string;
}

const FORMS: readonly Form[] = [
  {
    ...{ name: 'Page for a client (HTML)', ending: 'report.html', type: 'text/html' },
    text: (report) => reportHtml(report, false),
  },
  {
    ...{
      name: 'Page in full, with findings and clips (HTML)',
      ending: 'full report.html',
      type: 'text/html',
    },
    text: (report) => reportHtml(report, true),
  },
  {
    ...{ name: 'Table (CSV), a row a file', ending: 'handover.csv', type: 'text/csv' },
    text: ({ files }) => csvOf(handoverTable(files)),
  },
  {
    ...{ name: 'Data (JSON), all of it', ending: 'report.json', type: 'application/json' },
    text: (report) => `${JSON.stringify(report, null, 2)}\n`,
  },
];

/** Everything that is told of the programme as it stands; it is looked through first where that was not done yet. */
async function reportOf(session: Session, files: readonly HandedOver[]): Promise<ProgrammeReport | null> {
  const { project, state } = session;
  const { programme } = state;
  if (!programme || state.measuring !== null) return null;
  const { checked, mends } = await session.checking.now();
  return programmeReport({
    ...{ project, figures: programme.figures, shortTerm: programme.shortTerm, files },
    checked: checked && {
      ...{ judged: checked.judged, details: checked.details },
      rows: fixProposal(project, checked.findings, mends).rows,
    },
    version: process.env['DENGUNG_VERSION'] ?? '',
    made: timeText(new Date()),
  });
}

/** Saves a report of the programme and of what was handed over. */
export function ReportMenu({ files }: { files: () => readonly HandedOver[] }) {
  const session = useSession();
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [busy, setBusy] = useState(false);
  const save = ({ ending, type, text }: Form): void => {
    setAnchor(null);
    setBusy(true);
    void reportOf(session, files())
      .then((report) => {
        if (!report) return;
        saveBlob(new Blob([text(report)], { type }), `${safeName(session.project.name)} ${ending}`);
      })
      .finally(() => setBusy(false));
  };
  return (
    <>
      <Button
        variant="outlined"
        aria-haspopup="menu"
        disabled={busy || programme === null || measuring !== null}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {busy ? 'Writing the report …' : 'Report…'}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {FORMS.map((form) => (
          <MenuItem dense key={form.ending} onClick={() => save(form)}>
            {form.name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
