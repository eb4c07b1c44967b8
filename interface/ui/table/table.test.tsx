// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { act, cleanup, fireEvent, render, renderHook, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { ClipTable } from '../specimens/ClipTable';
import { ROWS } from '../specimens/made';
import type { DataColumn } from './column';
import { useDataTable } from './useDataTable';

const saved = vi.hoisted(() => new Map<string, unknown>());
vi.mock('@/storage/preferences', () => ({
  getPreference: (name: string) => Promise.resolve(saved.get(name) ?? null),
  putPreference: (name: string, value: unknown) => Promise.resolve(void saved.set(name, value)),
}));

afterEach(cleanup);

interface Row {
  readonly id: string;
  readonly value: number | null;
}
const COLUMNS: readonly DataColumn<Row>[] = [
  { id: 'id', heading: 'Id', size: 60, fixed: true, cell: ({ id }) => id },
  {
    id: 'value',
    heading: 'Value',
    size: 60,
    grow: 2,
    order: ({ value }) => value,
    cell: ({ value }) => value,
  },
];
const tableOf = (name: string, rows: readonly Row[], columns = COLUMNS) =>
  renderHook(() => useDataTable({ name, columns, rows, keyOf: ({ id }) => id })).result;

describe('a table', () => {
  it('is sorted up and down, what has no value last either way, ties as they came', () => {
    let n = 0;
    fc.assert(
      fc.property(fc.array(fc.option(fc.integer({ min: -9, max: 9 }))), (values) => {
        const rows = values.map((value, i) => ({ id: `${i}`, value }));
        const result = tableOf(`sorted ${n++}`, rows);
        for (const way of [1, -1]) {
          act(() => result.current.sort('value'));
          const valued = rows.filter(({ value }) => value !== null);
          expect(result.current.rows.map(({ id }) => id)).toEqual(
            [
              ...[...valued].sort((a, b) => way * (a.value! - b.value!)),
              ...rows.filter(({ value }) => value === null),
            ].map(({ id }) => id),
          );
        }
      }),
      { numRuns: 20 },
    );
  });

  it('shows other values after a change, in their new order', () => {
    const { result, rerender } = renderHook(
      ({ rows }: { rows: readonly Row[] }) =>
        useDataTable({ name: 'changing', columns: COLUMNS, rows, keyOf: ({ id }) => id, sortedBy: 'value' }),
      {
        initialProps: {
          rows: [
            { id: 'a', value: 1 },
            { id: 'b', value: 2 },
          ] as readonly Row[],
        },
      },
    );
    expect(result.current.rows.map(({ id }) => id)).toEqual(['a', 'b']);
    rerender({
      rows: [
        { id: 'a', value: 3 },
        { id: 'b', value: 2 },
      ],
    });
    expect(result.current.rows.map(({ id }) => id)).toEqual(['b', 'a']);
  });

  it('remembers widths, hidden columns and order, within bounds', async () => {
    const result = tableOf('remembered', []);
    expect(result.current.grid).toBe('60px minmax(60px, 2fr)');
    act(() => result.current.resize('value', 5_000));
    expect(result.current.grid).toBe('60px 900px');
    act(() => result.current.resize('value', 1));
    expect(result.current.grid).toBe('60px 28px');
    act(() => result.current.sort('value'));
    act(() => result.current.show('value', false));
    expect(result.current.columns.map(({ id }) => id)).toEqual(['id']);
    await vi.waitFor(() =>
      expect(saved.get('table-remembered')).toEqual({
        sorting: [{ id: 'value', desc: false }],
        columnVisibility: { value: false },
        columnSizing: { value: 28 },
      }),
    );
    act(() => result.current.reset());
    expect([result.current.grid, result.current.changed]).toEqual(['60px minmax(60px, 2fr)', false]);
  });

  it('takes up what was saved, and nothing that no longer fits', async () => {
    saved.set('table-old', { sorting: [], columnVisibility: { value: false }, columnSizing: { id: 90 } });
    saved.set('table-odd', { sorting: 'up', columnVisibility: {}, columnSizing: { id: -4 } });
    const [old, odd] = [tableOf('old', []), tableOf('odd', [])];
    await vi.waitFor(() => expect(old.current.grid).toBe('90px'));
    expect(odd.current.grid).toBe('60px minmax(60px, 2fr)');
  });
});

describe('on screen it', () => {
  it('says how many rows there are; headings sort, and say so', async () => {
    render(<ClipTable />);
    const table = screen.getByRole('table', { name: 'Clips' });
    expect(table.getAttribute('aria-rowcount')).toBe(String(ROWS.length + 1));
    const heading = within(table).getByRole('columnheader', { name: /Gain dB/ });
    expect(heading.getAttribute('aria-sort')).toBe('none');
    await userEvent.click(within(heading).getByRole('button'));
    expect(heading.getAttribute('aria-sort')).toBe('ascending');
    await userEvent.click(within(heading).getByRole('button'));
    expect(heading.getAttribute('aria-sort')).toBe('descending');
  });

  it('columns are hidden and shown by the menu, but not what names the row', async () => {
    render(<ClipTable />);
    await userEvent.click(screen.getByRole('button', { name: 'Columns' }));
    const items = screen.getAllByRole('menuitemcheckbox');
    expect(items.map((item) => item.textContent)).toEqual(['Gain dB', 'After LUFS']);
    await userEvent.click(items[0]!);
    expect(items[0]!.getAttribute('aria-checked')).toBe('false');
    expect(screen.queryByRole('columnheader', { name: /Gain dB/, hidden: true })).toBeNull();
    await userEvent.click(screen.getByRole('menuitem', { name: 'All columns, usual widths' }));
    expect(screen.getByRole('columnheader', { name: /Gain dB/, hidden: true })).toBeDefined();
  });

  it('a column is sized by its edge and by keys', () => {
    render(<ClipTable />);
    const edge = document.querySelector('[data-edge-of=gain]')!;
    const template = (): string => {
      const row = screen.getAllByRole('row')[0]!;
      return getComputedStyle(row).gridTemplateColumns;
    };
    fireEvent.pointerDown(edge, { buttons: 1, pointerId: 1, clientX: 100, clientY: 0 });
    fireEvent.pointerMove(window, { buttons: 1, pointerId: 1, clientX: 190, clientY: 0 });
    fireEvent.pointerUp(window, { pointerId: 1, clientX: 190, clientY: 0 });
    expect(template()).toMatch(/ 90px 80px$/);
    fireEvent.keyDown(screen.getByRole('button', { name: /Gain dB/ }), { key: 'ArrowRight', shiftKey: true });
    expect(template()).toMatch(/ 102px 80px$/);
    fireEvent.doubleClick(edge);
    expect(template()).toMatch(/ 70px 80px$/);
  });
});
