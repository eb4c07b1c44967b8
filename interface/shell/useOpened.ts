import { useEffect, useState } from 'react';
import { ProjectFormatError } from '@/core/programme/migrations';
import { StorageError } from '@/storage/failure';
import { loadProject } from '@/storage/projects';
import { holdProject, takeProject, type ProjectLock } from '../session/projectLock';
import { Session } from '../session/session';

/** What has become of a project that was to be opened. */
export type Opened =
  | { readonly state: 'opening' }
  | { readonly state: 'open'; readonly session: Session }
  | { readonly state: 'trouble'; readonly trouble: string; readonly hint: string }
  /** Another tab works on it: from the beginning, or since it took it over. */
  | { readonly state: 'elsewhere'; readonly takenOver: boolean; readonly take: () => void };

function tell(error: unknown): Opened {
  const state = 'trouble';
  if (error instanceof ProjectFormatError)
    return { state, trouble: error.message, hint: 'Nothing was changed in it.' };
  if (error instanceof StorageError) return { state, trouble: error.message, hint: error.hint };
  return {
    state,
    trouble: 'The project could not be opened.',
    hint: 'Reload the page; if it stays, report it.',
  };
}

const GONE: Opened = {
  state: 'trouble',
  trouble: 'There is no such project in this browser.',
  hint: 'It may have been deleted, or made in another browser.',
};

/** Opens a project from the browser's storage and keeps it open while its stages change; one tab at a time. */
export function useOpened(id: string): Opened {
  const [opened, setOpened] = useState<Opened>({ state: 'opening' });
  /** Raised to take the project from another tab. */
  const [taking, setTaking] = useState(0);
  useEffect(() => {
    let session: Session | null = null;
    let lock: ProjectLock | null = null;
    let gone = false;
    const take = (): void => {
      setOpened({ state: 'opening' });
      setTaking((n) => n + 1);
    };
    const holder = {
      onAsked: async (): Promise<void> => {
        await session?.keeping.settled();
        session?.close();
        session = null;
      },
      onTaken: (): void => {
        session?.close();
        session = null;
        if (!gone) setOpened({ state: 'elsewhere', takenOver: true, take });
      },
    };
    const open = async (): Promise<void> => {
      lock = taking > 0 ? await takeProject(id, holder) : await holdProject(id, holder);
      if (gone) return lock?.release();
      if (!lock) return setOpened({ state: 'elsewhere', takenOver: false, take });
      const history = await loadProject(id);
      if (gone) return;
      if (!history) return setOpened(GONE);
      session = new Session(history);
      setOpened({ state: 'open', session });
      void session.open();
    };
    open().catch((error: unknown) => {
      if (!gone) setOpened(tell(error));
    });
    return () => {
      gone = true;
      session?.close();
      lock?.release();
      setOpened({ state: 'opening' });
    };
  }, [id, taking]);
  return opened;
}
