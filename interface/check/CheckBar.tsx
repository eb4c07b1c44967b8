'use client';

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { PlaceEntry } from '../programme/transport/PlaceEntry';
import { PlayButton } from '../programme/transport/PlayButton';
import { useSession } from '../session/SessionContext';
import { ProgressLine } from '../ui/ProgressLine';
import { useCheckState, useIsOld, workWords, type ShownCheck } from './useCheck';

/** How far the check is; else what it has come to. */
function Progress({ check, found }: Pick<Props, 'check' | 'found'>) {
  const session = useSession();
  const isOld = useIsOld(check);
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
      {isOld && found !== '' ? 'Of the state before; the newest is being measured …' : found}
    </Box>
  );
}

interface Props {
  /** There is nothing to check. */
  readonly empty: boolean;
  readonly check: ShownCheck;
  /** What was found, in a few words. */
  readonly found: string;
  /** Of the face that is shown. */
  readonly faces: ReactNode;
  readonly children: ReactNode;
}

/** The row over the check: play, where one is, which face of it, and how far it is. */
export function CheckBar({ empty, check, found, faces, children }: Props) {
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
      <Progress check={check} found={found} />
      <Box sx={{ flex: 1 }} />
      {children}
    </Box>
  );
}
