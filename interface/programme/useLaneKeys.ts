import { useCallback, type KeyboardEvent } from 'react';
import { moveClips, removeClips } from '@/core/programme/edits/clips';
import { changeGain, resetGain } from '@/core/programme/edits/gain';
import type { Id, Project } from '@/core/programme/model';
import { signed } from '@/core/text/figures';
import { cutActions } from './cutActions';
import { count } from '../parts/words';
import type { Session } from '../session/session';

/** Clips in the order they are met from left to right, then from top to bottom. */
export function inTimeOrder(project: Project): Id[] {
  const lanes = new Map(project.tracks.map((track, index) => [track.id, index]));
  return [...project.clips]
    .sort((a, b) => a.start - b.start || (lanes.get(a.trackId) ?? 0) - (lanes.get(b.trackId) ?? 0))
    .map((clip) => clip.id);
}

/** Small steps, as they come, large ones: dB. */
function gainStep(event: KeyboardEvent): number {
  return event.altKey ? 0.1 : event.shiftKey ? 3 : 0.5;
}

/** Key presses closer together than this on the same clips are one step of the history. */
const BURST_MS = 1200;
let burst = { key: '', at: 0, n: 0 };
function burstKey(what: string): string {
  const now = Date.now();
  const n = burst.key === what && now - burst.at < BURST_MS ? burst.n : burst.n + 1;
  burst = { key: what, at: now, n };
  return `${what} ${n}`;
}

/** The system's own keys for copying. */
function commandKey(session: Session, key: string, ids: ReadonlySet<Id>): boolean {
  if (key === 'c') cutActions.copy(session, ids);
  else if (key === 'x') cutActions.cut(session, ids);
  else if (key === 'v') cutActions.paste(session);
  else if (key === 'd') cutActions.duplicate(session, ids);
  else return false;
  return true;
}

interface Hands {
  /** Moves the keyboard's place to a clip and brings it into view. */
  readonly focus: (clipId: Id) => void;
  readonly editGain: () => void;
  readonly openLevel: () => void;
}

/** The keys of the lanes, for the clip that has the focus and all that are chosen. */
export function useLaneKeys(session: Session, hands: Hands): (event: KeyboardEvent) => void {
  return useCallback(
    (event: KeyboardEvent) => {
      const id = (event.target as HTMLElement).closest<HTMLElement>('[data-clip]')?.dataset['clip'];
      if (!id) return;
      const { selection } = session.state;
      const ids: ReadonlySet<Id> = selection.has(id) ? selection : new Set([id]);
      const command = event.ctrlKey || event.metaKey;
      const what = count(ids.size, 'clip');

      const act = (): boolean => {
        if (command && event.key.toLowerCase() === 'a')
          return (session.select(session.project.clips.map((clip) => clip.id)), true);
        if (command) return commandKey(session, event.key.toLowerCase(), ids);
        switch (event.key) {
          case 'ArrowUp':
          case 'ArrowDown': {
            const db = event.key === 'ArrowUp' ? gainStep(event) : -gainStep(event);
            session.do(
              `Change gain of ${what} by ${signed(db)} dB`,
              (project) => changeGain(project, ids, { kind: 'change', db }),
              burstKey(`gain ${db} ${[...ids].join()}`),
            );
            return true;
          }
          case 'ArrowLeft':
          case 'ArrowRight': {
            const direction = event.key === 'ArrowRight' ? 1 : -1;
            if (event.altKey) {
              const by = direction * 0.1 * session.project.sampleRate;
              session.do(
                `Move ${what}`,
                (project) => moveClips(project, ids, by),
                burstKey(`move ${[...ids].join()}`),
              );
              return true;
            }
            const order = inTimeOrder(session.project);
            const next = order[order.indexOf(id) + direction];
            if (!next) return true;
            session.select(event.shiftKey ? [...ids, next] : [next]);
            hands.focus(next);
            return true;
          }
          case 'Enter':
            session.select(ids);
            hands.editGain();
            return true;
          case '/':
            cutActions.split(session, ids);
            return true;
          case '(':
            cutActions.trim(session, ids, 'start');
            return true;
          case ')':
            cutActions.trim(session, ids, 'end');
            return true;
          case 'Delete':
          case 'Backspace':
            if (event.shiftKey) cutActions.removeAndClose(session, ids);
            else session.do(`Remove ${what}`, (project) => removeClips(project, ids));
            return true;
          case 'Escape':
            session.select([]);
            return true;
          case '0':
            session.do(`Reset gain of ${what}`, (project) => resetGain(project, ids));
            return true;
          case 'l':
            session.select(ids);
            hands.openLevel();
            return true;
          default:
            return false;
        }
      };
      if (act()) {
        event.preventDefault();
        event.stopPropagation();
      }
    },
    [session, hands],
  );
}
