'use client';

import TextField from '@mui/material/TextField';
import { readNumber } from '@/core/text/typedNumber';
import { signed } from '@/core/text/figures';
import { useTyped } from './useTyped';

/** A number that can be typed: from where to where, and its unit. */
export interface NumberRange {
  readonly name: string;
  readonly min: number;
  readonly max: number;
  readonly unit: string;
}

const plain = (value: number): string =>
  value < 0 ? signed(value, 0) : value.toLocaleString('en', { maximumFractionDigits: 3 });

/** What is accepted, as a sentence without its full stop. */
export const numberMessage = ({ name, min, max, unit }: NumberRange): string =>
  `${name} is a number from ${plain(min)} to ${plain(max)} ${unit}`;

/** Up to three decimals, as it is typed. */
const shown = (value: number | null): string =>
  value === null ? '' : String(Number(value.toFixed(3))).replace('-', '−');

/** A number with its range. Enter applies, Escape takes back. @param value `null` where several differ, or there is none */
export function NumberField({
  label,
  value,
  range,
  disabled = false,
  width = 110,
  placeholder,
  onValue,
}: {
  label: string;
  value: number | null;
  range: NumberRange;
  disabled?: boolean;
  width?: number | string;
  placeholder?: string;
  onValue: (value: number) => void;
}) {
  const { error, handlers } = useTyped(shown(value), (text) => {
    const read = readNumber(text, numberMessage(range), [range.min, range.max, range.unit]);
    if (typeof read !== 'number') return read.error;
    onValue(read);
    return null;
  });
  return (
    <TextField
      label={label}
      disabled={disabled}
      error={error !== null}
      helperText={error}
      {...handlers}
      {...(placeholder !== undefined && {
        placeholder,
        slotProps: { inputLabel: { shrink: true } },
      })}
      sx={{ width: error === null ? width : 200, flex: 'none' }}
    />
  );
}
