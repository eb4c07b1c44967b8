import { useCallback, useEffect, useRef } from 'react';
import type { Gesture } from './lanes/gestures';

/**
 * Runs one gesture at a time on the whole window: movements at most once a frame, Escape takes it back.
 * @param onChange told after every movement with the pointer's place, and with `null` at the end
 */
export function useGesture(
  onChange: (at: { x: number; y: number } | null) => void,
): (gesture: Gesture) => void {
  const stop = useRef<(() => void) | null>(null);
  const change = useRef(onChange);
  useEffect(() => {
    change.current = onChange;
  });
  useEffect(() => () => stop.current?.(), []);
  return useCallback((gesture: Gesture) => {
    stop.current?.();
    let pending: PointerEvent | null = null;
    let frame = 0;
    const flush = (): void => {
      frame = 0;
      if (!pending) return;
      gesture.move(pending);
      change.current({ x: pending.clientX, y: pending.clientY });
      pending = null;
    };
    const move = (event: PointerEvent): void => {
      pending = event;
      frame ||= requestAnimationFrame(flush);
    };
    const end = (how: 'finish' | 'cancel'): void => {
      cancelAnimationFrame(frame);
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('pointercancel', abort);
      window.removeEventListener('keydown', key, true);
      stop.current = null;
      if (how === 'finish') {
        if (pending) gesture.move(pending);
        gesture.finish();
      } else gesture.cancel();
      change.current(null);
    };
    const up = (): void => end('finish');
    const abort = (): void => end('cancel');
    const key = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape') return;
      event.preventDefault();
      event.stopPropagation();
      end('cancel');
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('pointercancel', abort);
    window.addEventListener('keydown', key, true);
    stop.current = abort;
  }, []);
}
