import { curveSections } from '@/core/programme/curve';
import type { LedgerRow } from '@/core/proposals/ledger';
import { CLIP_STATES, type ClipState } from '@/core/proposals/ledger';
import { figure, signed } from '@/core/text/figures';
import type { DataColumn } from '../../parts/table/column';
import { count } from '@/core/text/words';
import { reasonWords } from '../../parts/words';

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

/** A clip's row with what the project says of it. */
export interface ToldRow extends LedgerRow {
  readonly trackName: string;
  /** A place in the clip in words. @param seconds from its start */
  readonly place: (seconds: number) => string;
  /** Its share of the programme's loudness; `null` while that is not known. */
  readonly share: number | null;
}

/** A column whose cells are text. */
export type LedgerColumn = Omit<DataColumn<ToldRow>, 'cell' | 'cellProps'> & {
  readonly text: (row: ToldRow) => string;
};

const clipOf = (row: ToldRow) => row.entry.clip;

/** A column of one of the row's figures. */
const figureColumn = (
  id: string,
  heading: string,
  hint: string,
  size: number,
  of: (row: ToldRow) => number | null,
  decimals = 1,
): LedgerColumn => ({
  ...{ id, heading, hint, size, right: true },
  text: (row) => figure(of(row), decimals),
  order: of,
});

export const COLUMNS: readonly LedgerColumn[] = [
  {
    id: 'name',
    fixed: true,
    heading: 'Clip',
    hint: 'Name of the clip',
    size: 120,
    grow: 1.6,
    text: (row) => clipOf(row).name,
    order: (row) => clipOf(row).name,
  },
  {
    id: 'track',
    heading: 'Track',
    hint: 'Track it lies on',
    size: 54,
    grow: 0.7,
    text: ({ trackName }) => trackName,
    order: ({ trackName }) => trackName,
  },
  {
    id: 'start',
    heading: 'At',
    hint: 'Where it begins',
    size: 62,
    right: true,
    text: ({ place }) => place(0),
    order: (row) => clipOf(row).start,
  },
  figureColumn(
    'recorded',
    'Recorded',
    'Integrated before its gain, with its fades and the gain of its parts, LUFS',
    58,
    (row) => row.recordedLufs,
  ),
  {
    id: 'gain',
    heading: 'Gain',
    hint: 'Its gain in all, dB; press to type',
    size: 62,
    right: true,
    text: (row) => signed(clipOf(row).gain.db, 2),
    order: (row) => clipOf(row).gain.db,
  },
  figureColumn(
    'after',
    'After',
    'Integrated with its gain, LUFS; press to type where it is to be',
    58,
    (row) => row.level.lufs,
    2,
  ),
  {
    id: 'off',
    heading: 'Off',
    hint: 'From the target, LU',
    size: 46,
    right: true,
    text: (row) => signed(row.level.relative),
    order: ({ level: { relative } }) => (relative === null ? null : Math.abs(relative)),
  },
  figureColumn('peak', 'Peak', 'True peak with its gain, dBTP', 44, (row) => row.level.truePeakDbtp),
  figureColumn('headroom', 'Room', 'Headroom up to the ceiling, dB', 44, (row) => row.headroomDb),
  {
    id: 'spread',
    heading: 'Spread',
    hint: 'True peak over loudness, LU, and where the peak is',
    size: 96,
    right: true,
    text: ({ spreadLu, peakAt, place }) =>
      spreadLu === null ? '—' : `${figure(spreadLu)} at ${place(peakAt!)}`,
    order: (row) => row.spreadLu,
  },
  figureColumn('floor', 'Floor', 'Noise floor with its gain, LUFS', 46, (row) => row.noiseFloorLufs),
  {
    id: 'share',
    heading: 'Share',
    hint: 'Share of the programme’s loudness, once worked out',
    size: 48,
    right: true,
    text: ({ share }) => (share === null ? '—' : `${figure(share * 100)} %`),
    order: ({ share }) => share,
  },
  {
    id: 'state',
    heading: 'State',
    hint: 'What is to be said of it first',
    size: 88,
    text: (row) => STATE_NAMES[row.state],
    order: (row) => CLIP_STATES.indexOf(row.state),
  },
  {
    id: 'reason',
    heading: 'Reason',
    hint: 'How its gain came about',
    size: 60,
    grow: 1.2,
    text: (row) => {
      const parts = curveSections(clipOf(row)).length;
      const also =
        parts === 0 ? '' : `; ${count(parts, 'part')} by a gain of ${parts === 1 ? 'its' : 'their'} own`;
      return reasonWords(clipOf(row).gain.reason) + also;
    },
    order: (row) => reasonWords(clipOf(row).gain.reason),
  },
];
