import { create } from 'xmlbuilder2';
import { OUTCOME_WORDS } from '@/core/check/verdict';
import type { CheckedFile } from '@/core/deliver/checkReport';
import type { Trouble } from './files';

/** What XML 1.0 cannot hold. */

const UNWRITABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff\ud800-\udfff]/gu;
const plain = (text: string): string => text.replace(UNWRITABLE, '\ufffd');

interface Case {
  readonly file: string;
  readonly target: string;
  /** What misses; `null` where it meets, or nothing can be said. */
  readonly miss: string | null;
  /** Why nothing can be said. */
  readonly error: { readonly code: string; readonly text: string } | null;
}

const errorOf = ({ code, message, hint }: Trouble) => ({ code, text: `${message} ${hint}` });

/** A test case a file and target, as build servers read it. */
export function junit(files: readonly CheckedFile[]): string {
  const cases = files.flatMap((checked): Case[] =>
    'error' in checked
      ? [{ file: checked.file, target: 'read', miss: null, error: errorOf(checked.error) }]
      : checked.lines.map(({ target, outcome, words }) => ({
          ...{ file: checked.file, target },
          miss: outcome === 'misses' ? words : null,
          error:
            outcome === 'notWhole' || outcome === 'notJudged'
              ? { code: outcome, text: `${OUTCOME_WORDS[outcome]}: ${words}` }
              : null,
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
    if (error !== null) one.ele('error', { message: plain(error.text), type: error.code });
  }
  return `${root.end({ prettyPrint: true })}\n`;
}
