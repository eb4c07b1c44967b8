import { sha256Of } from '@/codecs/hash';
import { checkTable } from '@/core/deliver/checkReport';
import { OUTCOME_WORDS } from '@/core/check/verdict';
import { fileReport } from '@/core/deliver/report/fileReport';
import { reportHtml } from '@/core/deliver/report/html';
import type { ProgrammeReport } from '@/core/deliver/report/report';
import { timeText } from '@/core/text/dates';
import type { Paper } from '@/documents/pdf/sheet';
import { lookAt, settingOf, type FileLookedAt } from './check';
import { csvRow } from './csv';
import { failed } from './failed';
import { withFile } from './files';
import { checkOutput, replacedNotes, writeWhole } from './output';
import { REPORT_FORMS } from './reportForms';
import { openPool } from './pool';
import type { ReportForm } from './reportForms';
import { ProgressLine } from './progress';
import { complain, say } from './say';
import { UsageError } from './usage';

export interface ReportOptions {
  readonly file: string;
  readonly out: string;
  readonly form: ReportForm;
  readonly targets: readonly string[];
  readonly own: string | null;
  readonly full: boolean;
  readonly paper: Paper;
  readonly dialogue: string | null;
  readonly findSpeech: boolean;
  /** Id of the layout that is declared for it; `null`: as it says. */
  readonly layoutId: string | null;
  readonly keepExisting: boolean;
  readonly jobs: number;
  readonly version: string;
}

async function bytesOf(
  report: ProgrammeReport,
  { checked }: FileLookedAt,
  { form, full, paper }: ReportOptions,
): Promise<Uint8Array> {
  switch (form) {
    case 'pdf': {
      const [{ reportPdf }, { paperFonts }] = await Promise.all([
        import('@/documents/pdf/reportPdf'),
        import('./fonts'),
      ]);
      return reportPdf(report, full, paper, await paperFonts());
    }
    case 'html':
      return Buffer.from(reportHtml(report, full), 'utf8');
    case 'json':
      return Buffer.from(`${JSON.stringify(report, null, 2)}\n`, 'utf8');
    case 'csv':
      return Buffer.from(`${checkTable([checked]).map(csvRow).join('\n')}\n`, 'utf8');
  }
}

/** `dengung report`. @returns the exit code */
export async function reportCommand(options: ReportOptions): Promise<number> {
  const { file, own, dialogue } = options;
  const progress = new ProgressLine(1);
  const pool = openPool(options.jobs);
  const onProgress = (done: number): void => progress.at(file, done);
  try {
    const output = await checkOutput(options.out, {
      inputs: [file, own, dialogue].filter((one): one is string => one !== null),
      keepExisting: options.keepExisting,
      endings: REPORT_FORMS.map((form) => `.${form}`),
    });
    const setting = await settingOf(options, []);
    const looked = await lookAt(file, file, setting, pool, onProgress);
    const { format, material, checked } = looked;
    const facts = await withFile(file, async (source) => ({
      ...{ container: format.container, codec: format.codec, bytes: source.size },
      sha256: (await sha256Of(source, () => Promise.resolve(true)))!,
    }));
    const report = fileReport({
      ...{ name: file.split(/[/\\]/).at(-1)!, facts, material, check: checked.check },
      fixes: checked.report.findings.map(({ fix }) => fix?.sentence ?? null),
      ...{ version: options.version, made: timeText(new Date()) },
    });
    const bytes = await bytesOf(report, looked, options);
    progress.end();
    await writeWhole(
      output,
      (sink) => sink(bytes),
      () => Promise.resolve(),
    );
    for (const note of replacedNotes(output)) complain(note);
    for (const { name, outcome, words } of checked.lines)
      say(`${OUTCOME_WORDS[outcome].toLowerCase()}  ${name}: ${words}`);
    return checked.lines.every(({ outcome }) => outcome === 'meets') ? 0 : 1;
  } catch (error) {
    progress.end();
    if (error instanceof UsageError) throw error;
    return failed(error, false, { file });
  } finally {
    await pool.close();
  }
}
