import { useMemo } from 'react';
import { changeLevel } from '@/core/programme/edits/groups';
import { removeClips } from '@/core/programme/edits/clips';
import type { GainEntry } from '@/core/programme/gainField';
import type { Clip } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { heldLevel } from '@/core/programme/heldChange';
import { resetGains } from '../../session/resetGains';
import { doHeld } from '../../session/doHeld';
import { useSession } from '../../session/SessionContext';
import { gainText } from '../clipLevel';

/** What can be done to the gain of chosen clips, each as one named step. */
export function useGainActions(clips: readonly Clip[]) {
  const session = useSession();
  return useMemo(() => {
    const ids = new Set(clips.map((clip) => clip.id));
    const who = clips.length === 1 ? clips[0]!.name : count(clips.length, 'clip');
    return {
      enter: (entry: GainEntry): void => {
        if (entry.kind === 'set')
          return session.do(`Set gain of ${who} to ${gainText(entry.db)}`, (project) =>
            changeLevel(project, ids, entry),
          );
        doHeld(
          session,
          heldLevel(session.project, ids, entry.db),
          (db) => `Change gain of ${who} by ${gainText(db)}`,
          (project, db) => changeLevel(project, ids, { kind: 'change', db }),
        );
      },
      reset: (): void => resetGains(session, ids),
      remove: (): void => session.do(`Remove ${who}`, (project) => removeClips(project, ids)),
    };
  }, [session, clips]);
}
