'use client';

import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import Tooltip from '@mui/material/Tooltip';
import { linkedTracks, moveTrackGain, trackRoom } from '@/core/programme/edits/levels';
import type { GainRoom } from '@/core/programme/clipGain';
import { heldTrack } from '@/core/programme/heldChange';
import { TRACK_GAIN } from '@/core/programme/gainField';
import type { Id, Track } from '@/core/programme/model';
import { doHeld } from '../../session/doHeld';
import { useSession } from '../../session/SessionContext';
import type { Session } from '../../session/session';
import { gainText } from '../clipLevel';
import { useGainEntry } from '../../editing/useGainEntry';
import { useGesture, type Gesture } from '../../editing/useGesture';

/** dB that one pixel stands for; a tenth of it with Shift. */
const DB_PER_PIXEL = 0.1;

/** The clips of a track and of those linked to it. */
function clipsOf(session: Session, trackId: Id): ReadonlySet<Id> {
  const tracks = linkedTracks(session.project, trackId);
  return new Set(session.project.clips.filter((clip) => tracks.has(clip.trackId)).map(({ id }) => id));
}

/** Drags a track's gain up or down, and with it that of the tracks linked to it. */
class TrackGainGesture implements Gesture {
  private readonly ids: ReadonlySet<Id>;
  private readonly room: GainRoom;
  private moved = 0;
  private change = 0;

  constructor(
    private readonly session: Session,
    private readonly track: Track,
    private lastY: number,
  ) {
    this.ids = clipsOf(session, track.id);
    this.room = trackRoom(session.project, track.id);
  }

  move(event: PointerEvent): void {
    this.moved += (this.lastY - event.clientY) * DB_PER_PIXEL * (event.shiftKey ? 0.1 : 1);
    this.lastY = event.clientY;
    const step = event.shiftKey ? 100 : 10;
    const { gainDb, id } = this.track;
    const wanted = Math.round((gainDb + this.moved) * step) / step - gainDb;
    this.change = Math.min(this.room.maxDb, Math.max(this.room.minDb, wanted));
    const preview = moveTrackGain(this.session.project, id, this.change);
    this.session.previewLevel(this.ids, this.change, preview);
  }

  finish(): void {
    if (this.change === 0) return this.cancel();
    const { name, gainDb, id } = this.track;
    this.session.do(`Gain of track ${name} to ${gainText(gainDb + this.change)}`, (project) =>
      moveTrackGain(project, id, this.change),
    );
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}

/** The track's gain: by number, by Up and Down in steps of half a dB, or by dragging its unit up and down. */
export function TrackGain({ track }: { track: Track }) {
  const session = useSession();
  const bind = useGesture((event) => {
    event.preventDefault();
    const now = session.project.tracks.find(({ id }) => id === track.id);
    return now ? new TrackGainGesture(session, now, event.clientY) : null;
  });
  const set = (db: number, merge: string | null = null): void =>
    doHeld(
      session,
      heldTrack(session.project, track.id, db - track.gainDb),
      (_, by) => `Gain of track ${track.name} to ${gainText(track.gainDb + by)}`,
      (project, by) => moveTrackGain(project, track.id, by),
      merge,
    );
  const { error, handlers } = useGainEntry(track.gainDb, TRACK_GAIN, (entry) =>
    set(entry.kind === 'set' ? entry.db : track.gainDb + entry.db),
  );
  return (
    <Tooltip title={error ?? ''} open={error !== null} placement="right">
      <InputBase
        {...handlers}
        error={error !== null}
        endAdornment={
          <Box
            data-track-gain={track.name}
            title="Drag up or down; Shift for fine steps"
            onPointerEnter={() => session.prepare(clipsOf(session, track.id))}
            {...bind()}
            sx={{
              color: 'text.secondary',
              fontSize: 11,
              pl: 0.5,
              cursor: 'ns-resize',
              touchAction: 'none',
              whiteSpace: 'nowrap',
            }}
          >
            dB ↕
          </Box>
        }
        inputProps={{ 'aria-label': `Gain of track ${track.name} in dB`, 'aria-invalid': error !== null }}
        onKeyDown={(event) => {
          const step = { ArrowUp: 0.5, ArrowDown: -0.5 }[event.key];
          if (step === undefined) return handlers.onKeyDown(event);
          event.preventDefault();
          set(track.gainDb + step, `track gain ${track.id}`);
        }}
        sx={{
          width: 82,
          px: 0.25,
          fontSize: 12,
          border: 1,
          borderColor: error ? 'error.main' : 'divider',
          borderRadius: 0.5,
          '& input': { p: 0, textAlign: 'right' },
        }}
      />
    </Tooltip>
  );
}
