import { checkedFile } from '@/core/deliver/checkReport';
import { fileReport } from '@/core/deliver/report/fileReport';
import type { ProgrammeReport } from '@/core/deliver/report/report';
import { timeText } from '@/core/text/dates';
import { got } from '@/engine/failure';
import { PackEngine } from '@/engine/packEngine';
import type { Audit } from './audit';

/** The report on one file of the audit, as the command line makes it; `null` where the file has left the list. */
export async function reportOnFile(audit: Audit, id: string): Promise<ProgrammeReport | null> {
  const never = new AbortController().signal;
  const entry = audit.file(id);
  const measured = await audit.measuredOf(id);
  if (!entry || !measured) return null;
  const { file } = entry;
  const { check, levels } = got(await audit.details(id, never));
  const engine = new PackEngine();
  const sha256 = got(await engine.hash(file, never, () => undefined).finally(() => engine.close()));
  const { findings } = checkedFile(file.name, check, levels, []).report;
  return fileReport({
    ...{ name: file.name, material: measured.material, check },
    facts: { container: measured.format.container, codec: measured.format.codec, bytes: file.size, sha256 },
    fixes: findings.map(({ fix }) => fix?.sentence ?? null),
    ...{ version: process.env['DENGUNG_VERSION'] ?? '', made: timeText(new Date()) },
  });
}
