import { curveSections } from '@/core/programme/curve';
import type { LedgerRow } from '@/core/proposals/ledger';
import { CLIP_STATES, type ClipState } from '@/core/proposals/ledger';
import type { Id } from '@/core/programme/model';
import { figure, signed } from '@/core/text/figures';
import { count, reasonWords } from '../../parts/words';

export const STATE_NAMES: Readonly<Record<ClipState, string>> = {
  off: 'Off',
  ceiling: 'Over ceiling',
  stale: 'Stale',
  byHand: 'By hand',
  right: 'Right',
  silent: 'Silent',
  short: 'Short',
  notMeasured: 'Measuring',
};

/** What a row needs to be written out. */
export interface RowContext {
  readonly trackName: (id: Id) => string;
  readonly place: (row: LedgerRow, seconds: number) => string;
  readonly share: (id: Id) => number | undefined;
}

export interface Column {
  readonly id: string;
  readonly title: string;
  readonly hint: string;
  /** Of the grid; the last takes what is left. */
  readonly width: string;
  readonly left?: true;
  readonly text: (row: LedgerRow, context: RowContext) => string;
  /** By what rows are sorted; what has no value comes last. */
  readonly order: (row: LedgerRow, context: RowContext) => number | string | null;
}

const clipOf = (row: LedgerRow) => row.entry.clip;

/** A column of one of the row's figures. */
const figureColumn = (
  id: string,
  title: string,
  hint: string,
  width: string,
  of: (row: LedgerRow) => number | null,
  decimals = 1,
): Column => ({
  ...{ id, title, hint, width },
  text: (row) => figure(of(row), decimals),
  order: of,
});

export const COLUMNS: readonly Column[] = [
  {
    id: 'name',
    title: 'Clip',
    hint: 'Name of the clip',
    width: 'minmax(96px, 1.4fr)',
    left: true,
    text: (row) => clipOf(row).name,
    order: (row) => clipOf(row).name,
  },
  {
    id: 'track',
    title: 'Track',
    hint: 'Track it lies on',
    width: 'minmax(54px, 0.7fr)',
    left: true,
    text: (row, { trackName }) => trackName(clipOf(row).trackId),
    order: (row, { trackName }) => trackName(clipOf(row).trackId),
  },
  {
    id: 'start',
    title: 'At',
    hint: 'Where it begins',
    width: '62px',
    text: (row, { place }) => place(row, 0),
    order: (row) => clipOf(row).start,
  },
  figureColumn(
    'recorded',
    'Recorded',
    'Integrated before its gain, with its fades and the gain of its parts, LUFS',
    '58px',
    (row) => row.recordedLufs,
  ),
  {
    id: 'gain',
    title: 'Gain',
    hint: 'Its gain in all, dB; press to type',
    width: '62px',
    text: (row) => signed(clipOf(row).gain.db, 2),
    order: (row) => clipOf(row).gain.db,
  },
  figureColumn(
    'after',
    'After',
    'Integrated with its gain, LUFS; press to type where it is to be',
    '58px',
    (row) => row.level.lufs,
    2,
  ),
  {
    id: 'off',
    title: 'Off',
    hint: 'From the target, LU',
    width: '46px',
    text: (row) => signed(row.level.relative),
    order: ({ level: { relative } }) => (relative === null ? null : Math.abs(relative)),
  },
  figureColumn('peak', 'Peak', 'True peak with its gain, dBTP', '44px', (row) => row.level.truePeakDbtp),
  figureColumn('headroom', 'Room', 'Headroom up to the ceiling, dB', '44px', (row) => row.headroomDb),
  {
    id: 'spread',
    title: 'Spread',
    hint: 'True peak over loudness, LU, and where the peak is',
    width: '96px',
    text: (row, { place }) =>
      row.spreadLu === null ? '—' : `${figure(row.spreadLu)} at ${place(row, row.peakAt!)}`,
    order: (row) => row.spreadLu,
  },
  figureColumn('floor', 'Floor', 'Noise floor with its gain, LUFS', '46px', (row) => row.noiseFloorLufs),
  {
    id: 'share',
    title: 'Share',
    hint: 'Share of the programme’s loudness, once worked out',
    width: '48px',
    text: (row, { share }) => {
      const part = share(clipOf(row).id);
      return part === undefined ? '—' : `${figure(part * 100)} %`;
    },
    order: (row, { share }) => share(clipOf(row).id) ?? null,
  },
  {
    id: 'state',
    title: 'State',
    hint: 'What is to be said of it first',
    width: '88px',
    left: true,
    text: (row) => STATE_NAMES[row.state],
    order: (row) => CLIP_STATES.indexOf(row.state),
  },
  {
    id: 'reason',
    title: 'Reason',
    hint: 'How its gain came about',
    width: 'minmax(60px, 1.2fr)',
    left: true,
    text: (row) => {
      const parts = curveSections(clipOf(row)).length;
      const also =
        parts === 0 ? '' : `; ${count(parts, 'part')} by a gain of ${parts === 1 ? 'its' : 'their'} own`;
      return reasonWords(clipOf(row).gain.reason) + also;
    },
    order: (row) => reasonWords(clipOf(row).gain.reason),
  },
];

/** The grid of a row. */
export const gridOf = (columns: readonly Column[]): string => columns.map(({ width }) => width).join(' ');

export interface Sorting {
  readonly column: string;
  readonly down: boolean;
}

/** Rows by a column; those without a value last either way. */
export function sorted(
  rows: readonly LedgerRow[],
  { column, down }: Sorting,
  context: RowContext,
): LedgerRow[] {
  const found = COLUMNS.find(({ id }) => id === column);
  if (!found) return [...rows];
  const keyed = rows.map((row) => ({ row, key: found.order(row, context) }));
  keyed.sort((a, b) => {
    if (a.key === null || b.key === null) return Number(a.key === null) - Number(b.key === null);
    const order =
      typeof a.key === 'string' || typeof b.key === 'string'
        ? String(a.key).localeCompare(String(b.key), 'en', { numeric: true })
        : a.key - b.key;
    return down ? -order : order;
  });
  return keyed.map(({ row }) => row);
}
