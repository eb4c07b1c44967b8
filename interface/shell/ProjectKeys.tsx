'use client';

import { useEffect } from 'react';
import { useSession } from '../session/SessionContext';

/** Whether the keys typed belong to a field, a button or a menu rather than to the project. */
function belongsElsewhere(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  if (
    target.closest(
      'input, textarea, select, [contenteditable], [role=menu], [role=listbox]:not([data-lanes])',
    )
  )
    return true;
  return event.key === ' ' && target.closest('button, a, [role=button], [role=checkbox]') !== null;
}

/** Keys that work on every stage: undo, redo, play and stop. */
export function ProjectKeys() {
  const session = useSession();
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (belongsElsewhere(event)) return;
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (command && key === 'z') {
        if (event.shiftKey) session.redo();
        else session.undo();
      } else if (command && key === 'y') session.redo();
      else if (event.key === ' ' && !command) {
        if (session.state.playing) session.stop();
        else void session.play();
      } else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [session]);
  return null;
}
