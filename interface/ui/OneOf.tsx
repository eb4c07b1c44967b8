import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import type { ReactNode } from 'react';

/** One of a few, side by side in words. */
export function OneOf<T extends string>({
  label,
  of,
  value,
  disabled = false,
  words,
  onSelect,
}: {
  label: string;
  of: readonly T[];
  value: T;
  disabled?: boolean;
  words: (one: T) => ReactNode;
  onSelect: (one: T) => void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      aria-label={label}
      value={value}
      disabled={disabled}
      onChange={(_, next: T | null) => next && onSelect(next)}
    >
      {of.map((each) => (
        <ToggleButton key={each} value={each} sx={{ textTransform: 'none', px: 1, py: 0.25 }}>
          {words(each)}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
