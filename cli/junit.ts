import { create } from 'xmlbuilder2';
import type { CheckedFile } from '@/core/deliver/checkReport';
import type { Trouble } from './files';

/** What XML 1.0 cannot hold. */

const UNWRITABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff\ud800-\udfff]/gu;
const plain = (text: string): string => text.replace(UNWRITABLE, '\ufffd');

interface Case {
  readonly file: string;
  readonly target: string;
  /** What misses; `null` where it meets, or could not be read. */
  readonly miss: string | null;
  readonly error: Trouble | null;
}

/** A test case a file and target, as build servers read it. */
export function junit(files: readonly CheckedFile[]): string {
  const cases = files.flatMap((checked): Case[] =>
    'error' in checked
      ? [{ file: checked.file, target: 'read', miss: null, error: checked.error }]
      : checked.lines.map(({ target, meets, words }) => ({
          ...{ file: checked.file, target, error: null },
          miss: meets ? null : words,
        })),
  );
  const failures = cases.filter(({ miss }) => miss !== null).length;
  const errors = cases.filter(({ error }) => error !== null).length;
  const totals = { tests: cases.length, failures, errors };
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('testsuites', {
    name: 'dengung',
    ...totals,
  });
  const suite = root.ele('testsuite', { name: 'dengung check', ...totals, skipped: 0, time: 0 });
  for (const { file, target, miss, error } of cases) {
    const one = suite.ele('testcase', { classname: plain(file), name: target, time: 0 });
    if (miss !== null) one.ele('failure', { message: plain(miss), type: 'misses' });
    if (error !== null)
      one.ele('error', { message: plain(`${error.message} ${error.hint}`), type: error.code });
  }
  return `${root.end({ prettyPrint: true })}\n`;
}
