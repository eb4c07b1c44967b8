import { useDrag } from '@use-gesture/react';
import { useEffect, useRef, type DOMAttributes, type PointerEvent as ReactPointerEvent } from 'react';

/** What a drag does: told of every movement, then finished or cancelled. */
export interface Gesture {
  move(event: PointerEvent): void;
  finish(): void;
  cancel(): void;
}

/**
 * Drags that begin on an element; one at a time, followed over the whole window. Escape cancels it, and so does leaving the page.
 * @param begin what a press begins, or `null` for nothing
 * @param onChange told the pointer's place after every movement, and `null` at the end
 * @returns what the element takes as its handlers
 */
export function useGesture(
  begin: (event: ReactPointerEvent<HTMLElement>) => Gesture | null,
  onChange?: (at: { x: number; y: number } | null) => void,
): () => DOMAttributes<HTMLElement> {
  const stop = useRef<((how: 'finish' | 'cancel') => void) | null>(null);
  useEffect(() => () => stop.current?.('cancel'), []);
  const gesture = useRef<Gesture | null>(null);
  return useDrag(
    ({ first, last, event, cancel }) => {
      if (first) {
        stop.current?.('cancel');
        const begun = begin(event as unknown as ReactPointerEvent<HTMLElement>);
        if (!begun) return cancel();
        const onKey = (key: KeyboardEvent): void => {
          if (key.key !== 'Escape') return;
          key.preventDefault();
          key.stopPropagation();
          stop.current?.('cancel');
        };
        gesture.current = begun;
        stop.current = (how) => {
          stop.current = null;
          gesture.current = null;
          window.removeEventListener('keydown', onKey, true);
          begun[how]();
          onChange?.(null);
          cancel();
        };
        // Before any other key: what is under the drag stays as it is.
        window.addEventListener('keydown', onKey, true);
      } else if (last) stop.current?.(event.type === 'pointercancel' ? 'cancel' : 'finish');
      else if (gesture.current) {
        const moved = event as PointerEvent;
        gesture.current.move(moved);
        onChange?.({ x: moved.clientX, y: moved.clientY });
      }
    },
    // Elements come and go under a drag, so the window is listened to.
    { pointer: { capture: false, keys: false } },
  ) as () => DOMAttributes<HTMLElement>;
}
