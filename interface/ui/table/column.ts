import { naturalOrder } from '@/core/text/order';
import type { ReactNode } from 'react';

/** What a cell's element takes besides its content. */
type CellProps = { readonly [data: `data-${string}`]: string | number } & {
  readonly title?: string;
  readonly sx?: object;
  readonly onClick?: (event: React.MouseEvent) => void;
  readonly onDoubleClick?: (event: React.MouseEvent) => void;
};

/** A column of a table: what it is called, how wide it is, by what it is sorted, and what it says of a row. */
export interface DataColumn<T> {
  readonly id: string;
  /** Empty where there is no room for one: then it is `spoken`. */
  readonly heading: string;
  readonly spoken?: string;
  /** Stands in the heading in place of words. */
  readonly head?: ReactNode;
  /** The whole of what the heading means. */
  readonly hint?: string;
  /** Width as it comes, CSS pixels; its least where it grows. */
  readonly size: number;
  /** Its part of what is left over. */
  readonly grow?: number;
  readonly right?: true;
  /** A sentence: set apart from the figures before it, over two lines where it needs them. */
  readonly sentence?: true;
  /** It is shown only when asked for. */
  readonly hidden?: true;
  /** It cannot be hidden. */
  readonly fixed?: true;
  /** By what rows are sorted; what has no value comes last. Without it they are not. */
  readonly order?: (row: T) => number | string | null;
  readonly cell: (row: T) => ReactNode;
  readonly cellProps?: (row: T) => CellProps;
}

const CUT_OFF = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;

const TWO_LINES = {
  fontSize: 12,
  lineHeight: '15px',
  overflow: 'hidden',
  display: '-webkit-box',
  WebkitLineClamp: 2,
  WebkitBoxOrient: 'vertical',
} as const;

/** How a cell of a column looks, its heading among them. */
export const sideOf = ({ right, sentence }: Pick<DataColumn<never>, 'right' | 'sentence'>): object => ({
  ...(right && { textAlign: 'right' }),
  ...(sentence && { pl: 1 }),
});

export const fitOf = ({ sentence }: Pick<DataColumn<never>, 'sentence'>): object =>
  sentence ? TWO_LINES : CUT_OFF;

/** Text as people count it, so that “Clip 10” comes after “Clip 9”; figures by size. */
export function compareValues(a: number | string, b: number | string): number {
  return typeof a === 'string' || typeof b === 'string' ? naturalOrder(String(a), String(b)) : a - b;
}
