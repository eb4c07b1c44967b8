'use client';

import TextField from '@mui/material/TextField';
import type { RefObject } from 'react';
import { CLIP_GAIN, type GainEntry, type GainRange } from '@/core/programme/gainField';
import { useGainEntry } from './useGainEntry';

/** By one press of an arrow key. */
const STEP_DB = 0.5;

interface Props {
  readonly label: string;
  /** What stands now, dB; `null` when several differ. */
  readonly value: number | null;
  readonly range?: GainRange;
  /** What can be typed. */
  readonly hint?: string;
  readonly inputRef?: RefObject<HTMLInputElement | null>;
  readonly onEntry: (entry: GainEntry) => void;
}

/** A gain by number: `-6` is the value, `+=3` and `-=2` change what is there. Enter applies, Escape takes back, ↑ and ↓ step. */
export function GainField({
  label,
  value,
  range = CLIP_GAIN,
  hint = '−6 sets it; +=3 or −=2 changes it by that much',
  inputRef,
  onEntry,
}: Props) {
  const { error, isTyping, handlers } = useGainEntry(value, range, onEntry, true);
  return (
    <TextField
      label={label}
      placeholder={value === null ? 'various' : undefined}
      inputRef={inputRef}
      error={error !== null}
      helperText={error ?? hint}
      fullWidth
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { 'data-gain-field': true } }}
      {...handlers}
      onKeyDown={(event) => {
        const db = { ArrowUp: STEP_DB, ArrowDown: -STEP_DB }[event.key];
        if (db === undefined || isTyping) return handlers.onKeyDown(event);
        event.preventDefault();
        onEntry({ kind: 'change', db });
      }}
    />
  );
}
