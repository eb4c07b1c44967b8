import { curveSections } from '@/core/programme/curve';
import type { LedgerRow } from '@/core/proposals/ledger';
import { CLIP_STATES, type ClipState } from '@/core/proposals/ledger';
import { figure, signed } from '@/core/text/figures';
import type { DataColumn } from '../../ui/table/column';
import type { Clip } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { reasonWords } from '@/core/proposals/reasonWords';

export const STATE_NAMES: Readonly<Record<ClipState, string>> = {
  off: 'Off target',
  ceiling: 'Over ceiling',
  stale: 'Stale',
  byHand: 'By hand',
  right: 'On target',
  silent: 'Silent',
  short: 'Short',
  notMeasured: 'Measuring',
};

/** A clip's row with what the project says of it. */
export interface ToldRow extends LedgerRow {
  readonly trackName: string;
  /** What its track and its groups give it, dB. */
  readonly trackDb: number;
  readonly groupsDb: number;
  /** A place in the clip in words. @param seconds from its start */
  readonly place: (seconds: number) => string;
  /** Its share of the programme's loudness; `null` while that is not known. */
  readonly share: number | null;
}

/** A column whose cells are text. */
export type LedgerColumn = Omit<DataColumn<ToldRow>, 'cell' | 'cellProps'> & {
  readonly text: (row: ToldRow) => string;
  /** Of what lies on clips besides their own gain: how much, dB. */
  readonly besides?: (row: ToldRow) => number;
};

const clipOf = (row: ToldRow) => row.entry.clip;

/** Whether nothing at all lies on a clip. */
export const isAsRecorded = (
  { gain, trimDb, curve, channelDb, balance }: Clip,
  { trackDb, groupsDb }: { readonly trackDb: number; readonly groupsDb: number },
): boolean =>
  [gain.db, trimDb, trackDb, groupsDb, balance, curve.length, channelDb.length].every((x) => x === 0);

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

/** What lies on a clip besides its own gain: shown once it does on one of them. */
const besidesColumn = (
  id: string,
  heading: string,
  hint: string,
  of: (row: ToldRow) => number,
): LedgerColumn => ({
  ...{ id, heading, hint, size: 50, right: true },
  besides: of,
  text: (row) => (of(row) === 0 ? '' : signed(of(row), 1)),
  order: of,
});

/** The columns that have something to say of some rows. */
export const columnsFor = (rows: readonly ToldRow[]): readonly LedgerColumn[] =>
  COLUMNS.filter(({ id, besides }) =>
    id === 'share'
      ? rows.some(({ share }) => share !== null)
      : besides === undefined || rows.some((row) => besides(row) !== 0),
  );

export const COLUMNS: readonly LedgerColumn[] = [
  {
    id: 'name',
    fixed: true,
    heading: 'Clip',
    hint: 'Name of the clip',
    size: 108,
    grow: 1.6,
    text: (row) => clipOf(row).name,
    order: (row) => clipOf(row).name,
  },
  {
    id: 'track',
    heading: 'Track',
    hint: 'Track it lies on',
    size: 48,
    grow: 0.7,
    text: ({ trackName }) => trackName,
    order: ({ trackName }) => trackName,
  },
  {
    id: 'start',
    heading: 'At',
    hint: 'Where it begins',
    size: 54,
    right: true,
    text: ({ place }) => place(0),
    order: (row) => clipOf(row).start,
  },
  figureColumn(
    'recorded',
    'Recorded',
    'Integrated as it was recorded, with its fades and the gain of its parts, LUFS',
    58,
    (row) => row.recordedLufs,
  ),
  besidesColumn('trim', 'Trim', 'Trim of its source, dB', (row) => clipOf(row).trimDb),
  besidesColumn('groupGain', 'Group', 'Gain of the groups it is in, dB', (row) => row.groupsDb),
  besidesColumn('trackGain', 'Track dB', 'Gain of its track, dB', (row) => row.trackDb),
  {
    id: 'gain',
    heading: 'Gain',
    hint: 'Its own gain, dB; press to type',
    size: 54,
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
    heading: 'Deviation',
    hint: 'From the target, LU',
    size: 56,
    right: true,
    text: (row) => signed(row.level.relative),
    order: ({ level: { relative } }) => (relative === null ? null : Math.abs(relative)),
  },
  figureColumn('peak', 'Peak', 'True peak with its gain, dBTP', 44, (row) => row.level.truePeakDbtp),
  figureColumn('headroom', 'Headroom', 'Up to the ceiling, dB', 58, (row) => row.headroomDb),
  {
    id: 'plr',
    heading: 'PLR',
    hint: 'Peak-to-loudness ratio, LU: true peak over integrated loudness; and where the peak is',
    size: 90,
    right: true,
    text: ({ plrLu, peakAt, place }) => (plrLu === null ? '—' : `${figure(plrLu)} at ${place(peakAt!)}`),
    order: (row) => row.plrLu,
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
    hint: 'Its most important state',
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
      const { reason } = clipOf(row).gain;
      const bare = reason.kind === 'asRecorded' && !isAsRecorded(clipOf(row), row);
      return (bare ? 'no clip gain' : reasonWords(reason)) + also;
    },
    order: (row) => reasonWords(clipOf(row).gain.reason),
  },
];
