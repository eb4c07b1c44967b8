'use client';

import InputBase from '@mui/material/InputBase';
import Tooltip from '@mui/material/Tooltip';
import { useTyped } from './useTyped';

interface Props {
  readonly label: string;
  /** The value as it stands. */
  readonly shown: string;
  /** Does what was typed, or says what is accepted. */
  readonly take: (text: string) => string | null;
  /** For a cell that is a field only while it is typed into; left out, it always is one. */
  readonly onDone?: () => void;
}

/** A cell of a table that is typed into: Enter or leaving it applies, Escape gives up. */
export function TypedCell({ label, shown, take, onDone }: Props) {
  const { error, handlers } = useTyped(shown, take, onDone);
  return (
    <Tooltip open={error !== null} title={error ?? ''} placement="bottom">
      <InputBase
        autoFocus={onDone !== undefined}
        error={error !== null}
        inputProps={{ 'aria-label': label, 'aria-invalid': error !== null }}
        {...handlers}
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => {
          handlers.onKeyDown(event);
          // The table under it is not walked by the keys that move in the text.
          event.stopPropagation();
        }}
        sx={{
          font: 'inherit',
          width: '100%',
          bgcolor: 'background.paper',
          outline: '1px solid',
          outlineColor: error ? 'error.main' : onDone ? 'primary.main' : 'divider',
          '&:focus-within': { outlineColor: error ? 'error.main' : 'primary.main', outlineWidth: 2 },
          '& input': { p: 0, px: 0.25, textAlign: 'right' },
        }}
      />
    </Tooltip>
  );
}
