'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMemo, type RefObject } from 'react';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { useViewSettings } from '../viewSettings';
import { BusLimiters } from '../limiter/BusLimiters';
import { BusCurves } from '../points/BusCurves';
import { ClipSheet } from './ClipSheet';
import { ManySheet } from './ManySheet';
import { ShareList } from './ShareList';
import { SourceTray } from './SourceTray';

interface Props {
  readonly gainField: RefObject<HTMLInputElement | null>;
  readonly onOpenLevel: () => void;
  readonly onFindParts: () => void;
}

/** What is chosen, with its figures and what can be done; with nothing selected, what makes the programme loud, and on the lanes the sources to place. */
export function SideSheet(props: Props) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const chosen = useMemo(
    () => project.clips.filter((clip) => selection.has(clip.id)),
    [project.clips, selection],
  );
  const { face } = useViewSettings();
  const [first] = chosen;
  return (
    <Box
      component="aside"
      aria-label="Side sheet"
      sx={{
        flex: 1,
        minHeight: 0,
        bgcolor: 'background.paper',
        overflow: 'auto',
        p: 1.5,
      }}
    >
      {!first ? (
        <>
          {face === 'lanes' && <SourceTray />}
          <ShareList />
          <Button
            color="inherit"
            disabled={project.clips.length === 0}
            onClick={() => session.stage?.findClicks()}
          >
            Find clicks at joins…
          </Button>
          <BusCurves />
          <BusLimiters />
        </>
      ) : chosen.length === 1 ? (
        <ClipSheet key={first.id} clip={first} {...props} />
      ) : (
        <ManySheet clips={chosen} {...props} />
      )}
    </Box>
  );
}
