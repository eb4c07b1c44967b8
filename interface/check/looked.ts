import { useCallback, useMemo } from 'react';
import { placeText } from '@/core/programme/timeText';
import { useSession, useSessionState } from '../session/SessionContext';

/** What a check is looked at by: what is judged, how its places are told, and how one goes to them and hears them. */
export interface Looked {
  readonly name: string;
  /** How a place is told. @param seconds */
  readonly place: (seconds: number) => string;
  /** Where listening begins, seconds. */
  readonly now: number;
  readonly playing: boolean;
  readonly go: (seconds: number) => void;
  readonly play: (seconds: number) => void;
  /** Where it is while it plays, seconds. */
  readonly position: () => number;
}

/** The programme of the open project. */
export function useLookedProgramme(): Looked {
  const session = useSession();
  const playhead = useSessionState((state) => state.playhead);
  const playing = useSessionState((state) => state.playing);
  const name = useSessionState((state) => state.history.project.name);
  const rate = useSessionState((state) => state.history.project.sampleRate);
  const time = useSessionState((state) => state.history.project.time);
  const place = useCallback(
    (seconds: number) => placeText({ time, sampleRate: rate }, Math.round(seconds * rate), 1),
    [time, rate],
  );
  return useMemo(
    () => ({
      ...{ name, place, playing, now: playhead / rate },
      go: (seconds) => session.listening.seek(seconds * rate),
      play: (seconds) => {
        session.listening.seek(seconds * rate);
        if (!session.state.playing) void session.listening.play();
      },
      position: () => session.listening.playback.position() / rate,
    }),
    [session, name, place, playing, playhead, rate],
  );
}
