'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { tinykeys } from 'tinykeys';
import { canRun, type CommandPlace } from '../commands/command';
import { CommandPalette } from '../commands/CommandPalette';
import { COMMANDS } from '../commands/commands';
import { bindingsOf, commandsByKey } from '../commands/keys';
import { KeyMap } from '../commands/KeyMap';
import { useSession } from '../session/SessionContext';
import type { Session } from '../session/session';
import { goToStage, stagePath } from './StageLink';

const byKey = commandsByKey(COMMANDS);
const PALETTE = 'Ctrl+k';
const MAP = '?';

const BUTTON = 'button, a, [role=button], [role=checkbox], [role=tab]';

/** What was pressed last. */
interface Pressed {
  /** The button that has the focus because it was clicked. */
  readonly button: Element | null;
  readonly byPointer: boolean;
}

/** Whether the keys typed belong to a field, a button or a menu rather than to the project. */
function belongsElsewhere(target: HTMLElement, key: string, pressed: Pressed): boolean {
  const typing = 'input, textarea, select, [contenteditable], [role=menu], [role=combobox], [role=dialog]';
  if (target.closest(`${typing}, [role=listbox]:not([data-lanes])`)) return true;
  // What presses a button, and what would take clips out while the eye is on it: only where the keyboard has gone to it. A button
  // that was clicked is done with, and so is one whose menu was clicked.
  const button = target.closest(BUTTON);
  const done = button === pressed.button || (pressed.byPointer && button?.hasAttribute('aria-haspopup'));
  return /^(Space|Enter|(Shift\+)?(Delete|Backspace))$/.test(key) && button !== null && !done;
}

/** What a command would be done to, with the focus where it is. */
function placeOf(session: Session, target: Element | null, go: CommandPlace['go']): CommandPlace {
  const held = target?.closest<HTMLElement>('[data-clip], [data-clip-focus]')?.dataset;
  const focused = held?.['clip'] ?? held?.['clipFocus'] ?? null;
  const { selection } = session.state;
  // What is selected is meant, wherever the focus is; only with nothing selected what has the focus.
  const ids = focused === null || selection.size > 0 ? selection : session.grouped(new Set([focused]));
  return { session, stage: session.stage, ids, focused, go };
}

/** Keys that work on every stage, the map of them, and the palette. */
export function ProjectKeys() {
  const session = useSession();
  const [open, setOpen] = useState<'palette' | 'map' | null>(null);
  const [place, setPlace] = useState<CommandPlace | null>(null);
  const router = useRouter();
  useEffect(() => {
    const go: CommandPlace['go'] = (to) =>
      to === 'projects' ? router.push('/projects') : goToStage(stagePath(session.project.id, to));
    const show = (what: 'palette' | 'map'): void => {
      setPlace(placeOf(session, document.activeElement, go));
      setOpen(what);
    };
    const takeBack = session.offerCommands(show);
    let pressed: Pressed = { button: null, byPointer: false };
    const onKey = (key: string, event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (event.defaultPrevented) return;
      if (key === PALETTE) show('palette');
      else if (belongsElsewhere(target, key, pressed)) return;
      else if (key === MAP) show('map');
      else {
        const at = placeOf(session, target, go);
        const command = byKey.get(key)?.find((candidate) => canRun(candidate, at));
        // The browser would leave the page.
        if (!command && !(at.stage && /^Alt\+Arrow(Left|Right)$/.test(key))) return;
        command?.run(at);
      }
      event.preventDefault();
    };
    const onPress = (event: PointerEvent): void => {
      pressed = { button: (event.target as Element).closest(BUTTON), byPointer: true };
    };
    const onTab = (event: globalThis.KeyboardEvent): void => {
      if (event.key === 'Tab') pressed = { button: null, byPointer: false };
    };
    window.addEventListener('pointerdown', onPress, true);
    window.addEventListener('keydown', onTab, true);
    const unbind = tinykeys(window, bindingsOf([PALETTE, MAP, ...byKey.keys()], onKey));
    return () => {
      takeBack();
      unbind();
      window.removeEventListener('pointerdown', onPress, true);
      window.removeEventListener('keydown', onTab, true);
    };
  }, [session, router]);
  const close = (): void => setOpen(null);
  return (
    <>
      {open === 'palette' && place && <CommandPalette place={place} onClose={close} />}
      {open === 'map' && <KeyMap onClose={close} />}
    </>
  );
}
