'use client';

import type { HandedOver } from '@/core/deliver/handoverReport';
import { handoverTable } from '@/core/deliver/handoverReport';
import { programmeReport, type ProgrammeReport } from '@/core/deliver/report/report';
import { fixProposal } from '@/core/proposals/fixes/fixProposal';
import { toFailure } from '@/engine/failure';
import { timeText } from '@/core/text/dates';
import { useSession, useSessionState } from '../session/SessionContext';
import type { Session } from '../session/session';
import { csvOf } from '../ui/csv';
import { DATA_FORM, readForms, ReportForms, type ReportForm } from '../ui/ReportForms';

const FORMS: readonly ReportForm[] = [
  ...readForms('findings and clips'),
  {
    ...{ name: 'Table (CSV), a row a file', ending: 'handover.csv', type: 'text/csv' },
    content: ({ files }) => csvOf(handoverTable(files)),
  },
  DATA_FORM,
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
  const measuring = useSessionState((state) => state.measuring !== null);
  return (
    <ReportForms
      label="Report…"
      forms={FORMS}
      on={session.project.name}
      disabled={programme === null || measuring}
      make={() => reportOf(session, files())}
      onFailure={(error) => session.notes.fail('report', toFailure(error), 'The report was not written')}
    />
  );
}
