'use client';

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { PlaceEntry } from '../programme/transport/PlaceEntry';
import { PlayButton } from '../programme/transport/PlayButton';
import { useSession } from '../session/SessionContext';
import { ProgressLine } from '../ui/ProgressLine';
import { useCheckState, workWords } from './useCheck';

/** How far the check is; else what it has come to. */
function Progress({ isOld, found }: { isOld: boolean; found: string }) {
  const session = useSession();
  const work = useCheckState(workWords);
  const done = useCheckState((state) => state.done);
  return work && !isOld ? (
    <ProgressLine label={work} done={done} onCancel={() => session.checking.cancel()} />
  ) : (
    <Box
      role="status"
      data-check-state={isOld ? 'old' : 'done'}
      sx={{ fontSize: 12, color: 'text.secondary' }}
    >
      {found}
    </Box>
  );
}

interface Props {
  /** There is nothing to check. */
  readonly empty: boolean;
  readonly isOld: boolean;
  /** What was found, in a few words. */
  readonly found: string;
  /** Of the face that is shown. */
  readonly faces: ReactNode;
  readonly children: ReactNode;
}

/** The row over the check: play, where one is, which face of it, and how far it is. */
export function CheckBar({ empty, isOld, found, faces, children }: Props) {
  return (
    <Box
      role="toolbar"
      aria-label="Check"
      sx={{
        ...{ display: 'flex', alignItems: 'center', gap: 1, px: 1.5, minHeight: 44, flex: 'none' },
        ...{ borderBottom: 1, borderColor: 'divider', whiteSpace: 'nowrap' },
      }}
    >
      <PlayButton empty={empty} />
      <PlaceEntry />
      {faces}
      <Progress isOld={isOld} found={found} />
      <Box sx={{ flex: 1 }} />
      {children}
    </Box>
  );
}
