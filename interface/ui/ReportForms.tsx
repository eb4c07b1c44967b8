'use client';

import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { reportHtml } from '@/core/deliver/report/html';
import type { ProgrammeReport } from '@/core/deliver/report/report';
import { safeName } from '@/core/text/safeName';
import { paperMaker, type Paper } from '@/engine/papers';
import { saveBlob } from './saveBlob';

/** A form that a report can be saved in. */
export interface ReportForm {
  readonly name: string;
  /** Of the file's name, behind what the report is on. */
  readonly ending: string;
  readonly type: string;
  readonly content: (report: ProgrammeReport) => BlobPart | Promise<BlobPart>;
}

const pdf = (name: string, ending: string, full: boolean, paper: Paper): ReportForm => ({
  ...{ name, ending, type: 'application/pdf' },
  content: (report) => paperMaker().report(report, full, paper),
});

/** What a report can be read in. @param holds what the full one holds besides */
export const readForms = (holds: string): readonly ReportForm[] => [
  pdf('Page for a client (PDF, A4)', 'report.pdf', false, 'A4'),
  pdf(`In full, with ${holds} (PDF, A4)`, 'full report.pdf', true, 'A4'),
  pdf('Page for a client (PDF, Letter)', 'report letter.pdf', false, 'Letter'),
  pdf(`In full, with ${holds} (PDF, Letter)`, 'full report letter.pdf', true, 'Letter'),
  {
    ...{ name: 'Page for a client (HTML)', ending: 'report.html', type: 'text/html' },
    content: (report) => reportHtml(report, false),
  },
  {
    ...{ name: `In full, with ${holds} (HTML)`, ending: 'full report.html', type: 'text/html' },
    content: (report) => reportHtml(report, true),
  },
];

/** All of a report as data. */
export const DATA_FORM: ReportForm = {
  ...{ name: 'Data (JSON), all of it', ending: 'report.json', type: 'application/json' },
  content: (report) => `${JSON.stringify(report, null, 2)}\n`,
};

/** Saves a report in one of the forms it can have. */
export function ReportForms(props: {
  /** On the button. */
  readonly label: string;
  readonly forms: readonly ReportForm[];
  /** What the report is on: its files are named by it. */
  readonly on: string;
  readonly disabled: boolean;
  /** Puts it together; `null` where there is none. */
  readonly make: () => Promise<ProgrammeReport | null>;
  readonly onFailure: (error: unknown) => void;
}) {
  const { label, forms, on, disabled, make, onFailure } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [busy, setBusy] = useState(false);
  const save = ({ ending, type, content }: ReportForm): void => {
    setAnchor(null);
    setBusy(true);
    const write = async (): Promise<void> => {
      const report = await make();
      if (report) saveBlob(new Blob([await content(report)], { type }), `${safeName(on)} ${ending}`);
    };
    void write()
      .catch(onFailure)
      .finally(() => setBusy(false));
  };
  return (
    <>
      <Button
        variant="outlined"
        aria-haspopup="menu"
        disabled={busy || disabled}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {busy ? 'Writing the report …' : label}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {forms.map((form) => (
          <MenuItem dense key={form.ending} onClick={() => save(form)}>
            {form.name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
