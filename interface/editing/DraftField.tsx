import TextField from '@mui/material/TextField';
import { readNumber } from '@/core/text/typedNumber';
import { numberMessage, type NumberRange } from './NumberField';

/** What was typed into a field: a number, nothing, or what is accepted. */
export type DraftValue = number | null | { readonly error: string };

export const readDraftNumber = (text: string, range: NumberRange): number | { readonly error: string } =>
  readNumber(text, numberMessage(range), [range.min, range.max, range.unit]);

const errorOf = (value: DraftValue): string | null =>
  value !== null && typeof value !== 'number' ? value.error : null;

/** A number of something that is asked for: it is read as it is typed, and says what is accepted. */
export function DraftField({
  label,
  text,
  value,
  width = 132,
  placeholder,
  onText,
}: {
  label: string;
  text: string;
  value: DraftValue;
  width?: number;
  placeholder?: string;
  onText: (text: string) => void;
}) {
  const error = errorOf(value);
  return (
    <TextField
      label={label}
      value={text}
      error={error !== null}
      helperText={error}
      onChange={(event) => onText(event.target.value)}
      {...(placeholder !== undefined && { placeholder, slotProps: { inputLabel: { shrink: true } } })}
      sx={{ width: error === null ? width : Math.max(width, 230), flex: 'none' }}
    />
  );
}
