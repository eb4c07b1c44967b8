import Box from '@mui/material/Box';
import { figure } from '@/core/text/figures';
import type { ShareRow } from './shareRows';

/** Segments narrower than this are told together, as a part of the whole. */
const LEAST = 0.03;

/** All shares in a row: as wide as they are large. The table beneath says the same in figures. */
export function ShareBar({
  rows,
  selected,
  onSelect,
}: {
  rows: readonly ShareRow[];
  selected: string | null;
  onSelect: (row: ShareRow) => void;
}) {
  const shown = rows.filter(({ share, over }) => share >= LEAST && !over);
  const others = Math.max(0, 1 - shown.reduce((sum, { share }) => sum + share, 0));
  if (shown.length === 0) return null;
  return (
    <Box aria-hidden sx={{ px: 1.5, pb: 1, flex: 'none' }}>
      <Box sx={{ display: 'flex', gap: '2px', height: 34 }}>
        {shown.map((row) => (
          <Box
            key={row.key}
            title={`${row.name}: ${figure(row.share * 100)} %`}
            onClick={() => onSelect(row)}
            sx={{
              ...{ px: 0.75, py: 0.25, minWidth: 0, overflow: 'hidden', fontSize: 11, lineHeight: '14px' },
              bgcolor: row.key === selected ? 'action.selected' : 'sheet.band',
              ...{ borderBottom: 3, borderColor: 'primary.main', whiteSpace: 'nowrap', cursor: 'default' },
            }}
            style={{ flex: `${row.share} 1 0` }}
          >
            <b>{row.name}</b>
            <br />
            {figure(row.share * 100, 0)} %
          </Box>
        ))}
        {others > 0.001 && (
          <Box
            sx={{
              ...{ px: 0.5, minWidth: 0, overflow: 'hidden', fontSize: 11, lineHeight: '14px' },
              ...{ borderBottom: 3, borderColor: 'divider', whiteSpace: 'nowrap', color: 'text.secondary' },
            }}
            style={{ flex: `${others} 1 0` }}
          >
            others
          </Box>
        )}
      </Box>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 10.5, color: 'text.secondary' }}>
        <span>0 %</span>
        <span>share of the loudness</span>
        <span>100 %</span>
      </Box>
    </Box>
  );
}
