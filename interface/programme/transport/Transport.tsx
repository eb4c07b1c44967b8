'use client';

import FitIcon from '@mui/icons-material/FitScreen';
import ZoomInIcon from '@mui/icons-material/ZoomIn';
import ZoomOutIcon from '@mui/icons-material/ZoomOut';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { FaceSwitch } from './FaceSwitch';
import { EverythingMenu } from './EverythingMenu';
import { HearMenu } from './HearMenu';
import { ViewMenu } from './ViewMenu';
import { PlaceEntry } from './PlaceEntry';
import { PlayButton } from './PlayButton';
import { RangeBox } from './RangeBox';
import type { SheetActions } from '../useStageActions';
import { useViewSettings } from '../viewSettings';

interface Props {
  readonly sheetActions: SheetActions;
}

/** Play and stop, zoom, and the two ways to level. */
export function Transport({ sheetActions }: Props) {
  const session = useSession();
  const chosen = useSessionState((state) => state.selection.size);
  const { face } = useViewSettings();
  const { clips } = useProject();
  const empty = clips.length === 0;
  const icon = (label: string, onClick: () => void, child: ReactNode) => (
    <Tooltip title={label}>
      <span>
        <IconButton size="small" aria-label={label} onClick={onClick} disabled={empty}>
          {child}
        </IconButton>
      </span>
    </Tooltip>
  );
  return (
    <Box
      role="toolbar"
      aria-label="Programme"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.75,
        px: 1.5,
        minHeight: 44,
        py: 0.25,
        flexWrap: 'wrap',
        whiteSpace: 'nowrap',
        flex: 'none',
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <PlayButton empty={empty} />
      <PlaceEntry />
      <RangeBox />
      <FaceSwitch />
      {face !== 'ledger' && (
        <>
          {icon('Zoom out', () => session.stage?.zoom(0.6), <ZoomOutIcon fontSize="small" />)}
          {icon('Zoom in', () => session.stage?.zoom(1 / 0.6), <ZoomInIcon fontSize="small" />)}
          {icon('Show the whole programme', () => session.stage?.showAll(), <FitIcon fontSize="small" />)}
        </>
      )}
      <ViewMenu />
      <Box sx={{ flex: 1 }} />
      <HearMenu disabled={empty} />
      <EverythingMenu disabled={empty} />
      <Button variant="outlined" disabled={empty} onClick={sheetActions.plan}>
        Plan…
      </Button>
      <Button variant="outlined" disabled={empty} onClick={sheetActions.levelClips}>
        {chosen > 0 ? `Level ${count(chosen, 'clip')}…` : 'Level all clips…'}
      </Button>
      <Button variant="outlined" disabled={empty} onClick={sheetActions.levelProgramme}>
        Programme to target…
      </Button>
    </Box>
  );
}
