import WarningIcon from '@mui/icons-material/WarningAmber';
import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import type { Source } from '@/core/programme/model';
import { gainText } from '../programme/clipLevel';
import { RelinkButton, type AbsentState } from './AbsentTools';

/** A source's name with what has to be known about it: partial, trimmed, missing, damaged. */
export function NameCell({ source, absent }: { source: Source; absent: AbsentState | null }) {
  return (
    <Box sx={{ minWidth: 0, display: 'flex', alignItems: 'center', gap: 0.5 }}>
      <Tooltip title={source.name}>
        <Box sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', fontWeight: 550 }}>
          {source.name}
        </Box>
      </Tooltip>
      {source.partial && (
        <Box
          component="span"
          sx={{
            border: 1,
            borderColor: 'warning.main',
            color: 'warning.main',
            borderRadius: 1,
            px: 0.5,
            fontSize: 10.5,
          }}
        >
          partial
        </Box>
      )}
      {source.trimDb !== 0 && (
        <Box component="span" sx={{ fontSize: 11, color: 'text.secondary', whiteSpace: 'nowrap' }}>
          trim {gainText(source.trimDb)}
        </Box>
      )}
      {absent !== null && <RelinkButton source={source} absent={absent} />}
      {absent === null && source.warnings.length > 0 && (
        <Tooltip title={source.warnings.join(' ')}>
          <WarningIcon color="warning" sx={{ fontSize: 16 }} titleAccess="Warning" />
        </Tooltip>
      )}
    </Box>
  );
}
