import { useEffect, useState } from 'react';
import { appendSources } from '@/core/programme/edits/clips';
import type { History } from '@/core/programme/history';
import { ProjectFormatError } from '@/core/programme/migrations';
import { StorageError } from '@/storage/failure';
import { loadProject } from '@/storage/projects';
import { newId } from '../session/newId';
import { takeAlong } from '../session/bringAlong';
import { holdProject, takeProject, type Holder, type ProjectLock } from '../session/projectLock';
import { Session } from '../session/session';
import { holdUnsaved, keepTrying, letGo, takeUnsaved } from '../session/unsaved';

/** What has become of a project that was to be opened. */
export type Opened =
  | { readonly state: 'opening' }
  | { readonly state: 'open'; readonly session: Session }
  | {
      readonly state: 'trouble';
      readonly trouble: string;
      readonly hint: string;
      /** There is a record that can be saved as a file, though it cannot be opened. */
      readonly damaged: boolean;
    }
  /** Another tab works on it: from the beginning, or since it took it over. */
  | {
      readonly state: 'elsewhere';
      readonly takenOver: boolean;
      readonly take: () => void;
      /** What could not be kept when it was taken over. */
      readonly unsaved: History | null;
    };

function tell(error: unknown): Opened {
  const state = 'trouble';
  if (error instanceof ProjectFormatError) {
    const hint = 'Nothing was changed in it. Save it as a file to have it looked at.';
    return { state, trouble: error.message, hint, damaged: true };
  }
  if (error instanceof StorageError)
    return { state, trouble: error.message, hint: error.hint, damaged: false };
  return {
    state,
    trouble: 'The project could not be opened.',
    hint: 'Reload the page; if it happens again, report it.',
    damaged: true,
  };
}

const GONE: Opened = {
  state: 'trouble',
  trouble: 'There is no such project in this browser.',
  hint: 'It may have been deleted, or made in another browser.',
  damaged: false,
};

/** Closes a session that is behind: waits for what is being kept, and holds on to it where it cannot be. */
async function leave(id: string, session: Session, lock: ProjectLock): Promise<void> {
  const { saving } = session;
  holdUnsaved(id, session.state.history, lock);
  await saving.settled();
  session.close();
  if (saving.isBehind) keepTrying(id, lock);
  else letGo(id, lock);
}

/** Brings in files that came along. */
async function bringIn(
  session: Session,
  { files, placed, against }: ReturnType<typeof takeAlong>,
): Promise<void> {
  const sources = await session.addFiles(files);
  const track = session.project.tracks[0];
  if (!placed || !track || sources.length === 0) return;
  const placements = sources.map(({ id }) => ({ clipId: newId(), sourceId: id }));
  session.do(`Place ${sources.length === 1 ? sources[0]!.name : `${sources.length} sources`}`, (project) =>
    appendSources(project, track.id, placements),
  );
  if (against) await session.comparing.withFile(against);
}

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
    /** What could not be kept, when another tab took the project over. */
    let unsaved: History | null = null;
    const holder: Holder = {
      onAsked: async () => {
        if (!session) return;
        const { saving } = session;
        if (saving.isBehind) saving.save();
        await saving.settled();
        unsaved = saving.isBehind ? session.state.history : null;
        session.close();
        session = null;
      },
      onTaken: () => {
        // Taken without being asked: what is on its way may not arrive.
        if (session?.saving.isBehind) unsaved = session.state.history;
        session?.close();
        session = null;
        if (!gone) setOpened({ state: 'elsewhere', takenOver: true, take, unsaved });
      },
    };
    const open = async (): Promise<void> => {
      const left = takeUnsaved(id);
      if (left) {
        lock = left.lock;
        lock.passTo(holder);
      } else lock = taking > 0 ? await takeProject(id, holder) : await holdProject(id, holder);
      if (gone) return lock?.release();
      if (!lock) return setOpened({ state: 'elsewhere', takenOver: false, take, unsaved: null });
      const loaded = left ? { history: left.history, lost: null } : await loadProject(id);
      if (gone) return;
      if (!loaded) return setOpened(GONE);
      session = new Session(loaded.history, loaded.lost);
      if (left) session.saving.save();
      setOpened({ state: 'open', session });
      void session.open();
      session.recall();
      const along = takeAlong(id);
      if (along.files.length > 0) void bringIn(session, along);
    };
    open().catch((error: unknown) => {
      if (!gone) setOpened(tell(error));
    });
    return () => {
      gone = true;
      // Left with something that is not kept: it is held on to, and so is the project.
      if (session?.saving.isBehind && lock) void leave(id, session, lock);
      else {
        session?.close();
        lock?.release();
      }
      setOpened({ state: 'opening' });
    };
  }, [id, taking]);
  return opened;
}
