import PlayIcon from '@mui/icons-material/PlayArrow';
import StopIcon from '@mui/icons-material/Stop';
import Button from '@mui/material/Button';
import { useStore } from 'zustand';
import { useSession, useSessionState } from '../../session/SessionContext';

/** Plays from the playhead; stops, a clip that is heard alone too. @param empty there is nothing to play */
export function PlayButton({ empty }: { empty: boolean }) {
  const session = useSession();
  const programmePlaying = useSessionState((state) => state.playing);
  const alone = useStore(session.listening.audition.store, ({ heardId }) => heardId !== null);
  const playing = programmePlaying || alone;
  return (
    <Button
      variant="contained"
      disabled={empty}
      startIcon={playing ? <StopIcon /> : <PlayIcon />}
      onClick={() => session.listening.playOrStop()}
      sx={{ minWidth: 92 }}
    >
      {playing ? 'Stop' : 'Play'}
    </Button>
  );
}
