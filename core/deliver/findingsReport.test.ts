import { describe, expect, it } from 'vitest';
import { finding } from '@/core/check/findings/finding';
import { acceptFinding } from '@/core/programme/edits/check';
import { fixProposal } from '@/core/proposals/fixes/fixProposal';
import { testProject } from '@/core/testing/projects';
import { findingsReport, findingsTable } from './findingsReport';

const jump = finding({
  ...{ kind: 'jump', from: 4, to: 4, value: 9, limit: 8, unit: 'LU', weight: 'look' },
  sentence: '+9.0 LU at 0:04.0.',
});
const hole = finding({
  ...{ kind: 'dropout', from: 7, to: 7.1, value: 0.1, limit: null, unit: 's', weight: 'look' },
  sentence: 'A hole.',
});

describe('what was found, as data', () => {
  const project = acceptFinding(testProject(), jump, 'client wants it');
  const mends = new Map([[hole.id, { remedy: 'Cut round it.' }]]);
  const found = findingsReport(fixProposal(project, [jump, hole], mends).rows);

  it('says what would mend it, and what may stay and why', () => {
    expect(found[0]).toMatchObject({ kind: 'jump', accepted: true, note: 'client wants it', fix: null });
    expect(found[1]).toMatchObject({ from: 7, to: 7.1, accepted: false, note: '', fix: 'Cut round it.' });
  });

  it('says the same as a table', () => {
    const [head, first, second] = findingsTable(found);
    const cell = (row: typeof head, name: string) => row![head!.indexOf(name)];
    expect([cell(first, 'finding'), cell(first, 'note')]).toEqual(['Level jump', 'client wants it']);
    expect([cell(second, 'fix'), cell(second, 'value')]).toEqual(['Cut round it.', 0.1]);
    expect(first).toHaveLength(head!.length);
  });
});
