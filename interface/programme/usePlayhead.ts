import { useEffect, type RefObject } from 'react';
import { useSession, useSessionState } from '../session/SessionContext';

/** Calls `place` with the playhead's frame: at once, and on every frame of the screen while it plays. */
export function usePlayhead(
  element: RefObject<HTMLElement | null>,
  place: (element: HTMLElement, frame: number) => void,
): void {
  const session = useSession();
  const playing = useSessionState((state) => state.playing);
  const playhead = useSessionState((state) => state.playhead);
  useEffect(() => {
    let request = 0;
    const draw = (): void => {
      if (element.current)
        place(
          element.current,
          playing && session.listening.playback.playing ? session.listening.playback.position() : playhead,
        );
      if (playing) request = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(request);
  }, [session, playing, playhead, element, place]);
}
