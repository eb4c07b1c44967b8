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
import { paperMaker, type Paper } from '@/engine/papers';
import { toFailure } from '@/engine/failure';
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
  readonly content: (report: ProgrammeReport) => BlobPart | Promise<BlobPart>;
}

const pdf = (name: string, ending: string, full: boolean, paper: Paper): Form => ({
  ...{ name, ending, type: 'application/pdf' },
  content: (report) => paperMaker().report(report, full, paper),
});

const FORMS: readonly Form[] = [
  pdf('Page for a client (PDF, A4)', 'report.pdf', false, 'A4'),
  pdf('In full, with findings and clips (PDF, A4)', 'full report.pdf', true, 'A4'),
  pdf('Page for a client (PDF, Letter)', 'report letter.pdf', false, 'Letter'),
  pdf('In full, with findings and clips (PDF, Letter)', 'full report letter.pdf', true, 'Letter'),
  {
    ...{ name: 'Page for a client (HTML)', ending: 'report.html', type: 'text/html' },
    content: (report) => reportHtml(report, false),
  },
  {
    ...{ name: 'In full, with findings and clips (HTML)', ending: 'full report.html', type: 'text/html' },
    content: (report) => reportHtml(report, true),
  },
  {
    ...{ name: 'Table (CSV), a row a file', ending: 'handover.csv', type: 'text/csv' },
    content: ({ files }) => csvOf(handoverTable(files)),
  },
  {
    ...{ name: 'Data (JSON), all of it', ending: 'report.json', type: 'application/json' },
    content: (report) => `${JSON.stringify(report, null, 2)}\n`,
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
  const save = ({ ending, type, content }: Form): void => {
    setAnchor(null);
    setBusy(true);
    const write = async (): Promise<void> => {
      const report = await reportOf(session, files());
      if (!report) return;
      saveBlob(new Blob([await content(report)], { type }), `${safeName(session.project.name)} ${ending}`);
    };
    void write()
      .catch((error: unknown) => session.notes.fail('report', toFailure(error), 'The report was not written'))
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
