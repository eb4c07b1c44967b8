import WarningIcon from '@mui/icons-material/WarningAmber';
import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { statedFigures } from '@/core/programme/fileSays';
import type { Source } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';
import { gainText } from '../programme/clipLevel';
import { RelinkButton, type AbsentState } from './AbsentTools';

/** A source's name with what has to be known about it: partial, trimmed, missing, damaged. */
export function NameCell(props: {
  readonly source: Source;
  readonly sound: SoundMeasurement | undefined;
  readonly absent: AbsentState | null;
}) {
  const { source, sound, absent } = props;
  const wrong =
    source.says && sound
      ? statedFigures(source.says, sound.figures)
          .filter(({ disagrees }) => disagrees)
          .map(
            ({ name, unit, stated, measured }) =>
              `The file states ${name.toLowerCase()} ${withUnit(stated, unit)}; measured ${withUnit(measured, unit)}.`,
          )
      : [];
  const told = [...source.warnings, ...wrong];
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
      {absent === null && told.length > 0 && (
        <Tooltip title={told.join(' ')}>
          <WarningIcon color="warning" sx={{ fontSize: 16 }} titleAccess="Warning" />
        </Tooltip>
      )}
    </Box>
  );
}
