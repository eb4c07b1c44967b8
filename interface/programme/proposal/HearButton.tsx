'use client';

import HearIcon from '@mui/icons-material/HearingOutlined';
import StopIcon from '@mui/icons-material/Stop';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { Id, Project } from '@/core/programme/model';
import { useStore } from 'zustand';
import { useSession } from '../../session/SessionContext';

interface Props {
  readonly clipId: Id;
  /** What the button is for, besides the clip: one clip may have several. */
  readonly of?: string;
  readonly name: string;
  /** The programme as it would be. */
  readonly proposed: () => Project;
  /** Programme frames; all of the clip when left out. */
  readonly range?: { readonly from: number; readonly to: number };
}

/** Plays one clip, or a part of it, by itself as a proposal would have it; pressed again, stops. */
export function HearButton({ clipId, of = '', name, proposed, range }: Props) {
  const session = useSession();
  const own = `${clipId} ${of}`;
  const hearing = useStore(session.listening.audition.store, ({ heardId }) => heardId === own);
  const toggle = (): void =>
    session.listening.audition.toggleClip(session.playable(proposed()), clipId, own, range?.from, range?.to);
  return (
    <Tooltip title={hearing ? 'Stop' : 'Hear it alone, as proposed'}>
      <IconButton
        size="small"
        aria-label={`Hear ${name}`}
        aria-pressed={hearing}
        onClick={toggle}
        sx={{ p: 0.25 }}
      >
        {hearing ? <StopIcon sx={{ fontSize: 17 }} /> : <HearIcon sx={{ fontSize: 17 }} />}
      </IconButton>
    </Tooltip>
  );
}
