import WarningIcon from '@mui/icons-material/WarningAmber';
import MenuItem from '@mui/material/MenuItem';
import { saveBlob } from './saveBlob';
import { count } from '@/core/text/words';

/** A line of a menu: entries of a list that were kept but cannot be read; saved as a file when chosen. */
export function UnreadableItem({
  entries,
  what,
  file,
}: {
  entries: readonly unknown[];
  /** One of them: “plan”. */
  what: string;
  /** Name of the file. */
  file: string;
}) {
  return (
    <MenuItem
      dense
      onClick={() =>
        saveBlob(new Blob([JSON.stringify(entries, null, 2)], { type: 'application/json' }), file)
      }
    >
      <WarningIcon fontSize="small" sx={{ mr: 1 }} />
      {count(entries.length, what)} of yours cannot be read: save as a file
    </MenuItem>
  );
}
