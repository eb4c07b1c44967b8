'use client';

import { checkedFile, checkTable, type CheckedFile } from '@/core/deliver/checkReport';
import { SaveReport } from '../ui/SaveReport';
import type { Audit } from './audit';
import type { AuditRow } from './auditFile';

/** Everything that was found of some files, as the command line tells it. */
async function reportOf(audit: Audit, rows: readonly AuditRow[]): Promise<CheckedFile[]> {
  const all: CheckedFile[] = [];
  const never = new AbortController().signal;
  for (const { id, file } of rows) {
    const name = file.folder === '' ? file.file.name : `${file.folder}/${file.file.name}`;
    if (!file.checked) {
      const { failure } = file;
      const { code, message, hint } = failure ?? {
        ...{ code: 'notMeasured', message: 'It was not measured.', hint: 'Measure it first.' },
      };
      all.push({ file: name, error: { code, message, hint } });
      continue;
    }
    const outcome = await audit.details(id, never);
    if ('failure' in outcome) all.push({ file: name, error: outcome.failure });
    if ('ok' in outcome) all.push(checkedFile(name, outcome.ok.check, outcome.ok.levels, []));
  }
  return all;
}

/** Saves what was found of all files shown. */
export function ReportMenu({ audit, rows }: { audit: Audit; rows: readonly AuditRow[] }) {
  return (
    <SaveReport
      name="audit"
      disabled={rows.length === 0}
      table="Table (CSV), a row a file and target"
      data="Everything (JSON), findings included"
      make={async () => {
        const files = await reportOf(audit, rows);
        return {
          table: checkTable(files),
          data: files.map((one) => ('error' in one ? one : one.report)),
        };
      }}
    />
  );
}
