import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { clock } from '@/core/text/figures';
import type { Looked } from '../check/looked';
import { FilePlayer } from './filePlayer';

/** Plays a file that is looked at, until another is. */
export function useFilePlayer(file: File, name: string) {
  const [player, setPlayer] = useState(() => new FilePlayer(file));
  const [of, setOf] = useState(file);
  if (of !== file) {
    setOf(file);
    setPlayer(new FilePlayer(file));
  }
  useEffect(() => () => player.close(), [player]);
  const state = useStore(player.store);
  const looked = useMemo(
    (): Looked => ({
      ...{ name, now: state.now, playing: state.playing },
      place: (seconds) => clock(seconds, 1),
      go: (seconds) => player.go(seconds),
      play: (seconds) => void player.play(seconds),
      position: () => player.position(),
    }),
    [player, name, state.now, state.playing],
  );
  return { player, state, looked };
}
