import { describe, expect, it } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import { resetLevel } from '@/core/programme/edits/groups';
import type { Clip } from '@/core/programme/model';
import { ledgerRow } from '@/core/proposals/ledger';
import { measuredClip } from '@/core/proposals/proposal';
import { testClip, testProject } from '@/core/testing/projects';
import { COLUMNS, columnsFor, type ToldRow } from './columns';

const told = (clip: Clip, more: Partial<ToldRow> = {}): ToldRow => ({
  ...ledgerRow(measuredClip(clip, null), EBU_R128),
  ...{ trackName: 'Dialogue', trackDb: 0, groupsDb: 0, share: null },
  place: () => '0:00',
  ...more,
});
const text = (id: string, row: ToldRow): string => COLUMNS.find((column) => column.id === id)!.text(row);
const shown = (...rows: ToldRow[]): string[] => columnsFor(rows).map(({ id }) => id);

describe('the ledger’s columns', () => {
  const plain = testClip({ id: 'a' });

  it('trim, group and track gain have one each once they are there, and are told beside the gain', () => {
    for (const id of ['trim', 'groupGain', 'trackGain']) expect(shown(told(plain))).not.toContain(id);
    const row = told({ ...plain, trimDb: 2 }, { trackDb: -3 });
    expect(shown(told(plain), row)).toEqual(expect.arrayContaining(['trim', 'trackGain']));
    expect([text('trim', row), text('trackGain', row), text('groupGain', row)]).toEqual(['+2.0', '−3.0', '']);
  });

  it('call a clip as recorded only when nothing is on it', () => {
    expect(text('reason', told(plain))).toBe('as recorded');
    expect(text('reason', told(plain, { trackDb: 1 }))).toBe('no clip gain');
    expect(text('reason', told({ ...plain, trimDb: 1 }))).toBe('no clip gain');
    expect(text('reason', told({ ...plain, curve: [{ at: 0, db: -3 }] }))).toMatch(/^no clip gain; 1 part/);
  });
});

it('a gain that is taken off is the last change', () => {
  const gain = { db: -4, lastChangeDb: 1, reason: { kind: 'byHand' } } as const;
  const after = resetLevel(testProject([testClip({ id: 'a', gain })]), new Set(['a']));
  expect(after.clips[0]!.gain).toEqual({ db: 0, lastChangeDb: 4, reason: { kind: 'asRecorded' } });
});
