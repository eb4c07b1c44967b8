'use client';

import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import type { WriteFormat } from '@/core/audio/pcm';

const FORMAT_NAMES = { s24: 'WAV, PCM 24-bit', f32: 'WAV, float 32-bit' } as const;
const FORMATS = Object.keys(FORMAT_NAMES) as (keyof typeof FORMAT_NAMES)[];

/** The sample format of a file to be written. */
export function FormatChoice({
  value,
  onChange,
  disabled,
}: {
  value: WriteFormat;
  onChange: (format: WriteFormat) => void;
  disabled: boolean;
}) {
  return (
    <RadioGroup
      row
      aria-label="File format"
      value={value}
      onChange={(event) => onChange(event.target.value as WriteFormat)}
    >
      {FORMATS.map((format) => (
        <FormControlLabel
          key={format}
          value={format}
          disabled={disabled}
          control={<Radio size="small" />}
          label={FORMAT_NAMES[format]}
        />
      ))}
    </RadioGroup>
  );
}
