import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Failure } from '@/engine/protocol';

/** Something the editor has to know that no screen shows by itself. */
export interface Note {
  /** What it is about: what is said of it next takes its place. */
  readonly about: string;
  readonly kind: 'told' | 'failure';
  /** Full sentences. */
  readonly message: string;
  readonly hint: string | null;
}

/** What was told and what went wrong, each subject by itself: one hides no other. */
export class Notes {
  readonly store: StoreApi<readonly Note[]> = createStore<readonly Note[]>(() => []);

  private put(note: Note): void {
    this.store.setState((notes) => [...notes.filter(({ about }) => about !== note.about), note], true);
  }

  /** Says something of what was just done. */
  tell(message: string, about = 'done'): void {
    this.put({ about, kind: 'told', message, hint: null });
  }

  /** Says what went wrong; it stays until it is right, or closed. @param who begins the message */
  fail(about: string, { message, hint }: Pick<Failure, 'message' | 'hint'>, who: string | null = null): void {
    this.put({ about, kind: 'failure', message: who === null ? message : `${who}: ${message}`, hint });
  }

  /** Takes back what was said of something. */
  clear(about: string): void {
    if (this.store.getState().some((note) => note.about === about))
      this.store.setState((notes) => notes.filter((note) => note.about !== about), true);
  }
}
