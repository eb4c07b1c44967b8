import { useEffect } from 'react';
import type { Desk } from '../session/desk';
import { useSession } from '../session/SessionContext';
import { changeLook, lookNow } from './look';

const nothing = (): void => undefined;

/** What every face of the programme lends, where it has nothing of its own. */
const COMMON = {
  zoom: nothing,
  showAll: nothing,
  showStretch: nothing,
  reveal: nothing,
  changeHeight: (factor: number) =>
    changeLook({ height: Math.max(0.3, Math.min(5, lookNow().height * factor)), big: false }),
  toggleLook: (what: 'big' | 'mirrored' | 'loudness') => changeLook({ [what]: !lookNow()[what] }),
};

/** What the stage lends whatever its face: the field for a gain, and what is opened under the programme. */
export type Hands = Pick<
  Desk,
  'editGain' | 'levelClips' | 'levelProgramme' | 'plan' | 'findParts' | 'closeSheet'
>;

type Own = Omit<Desk, keyof typeof COMMON> & Partial<Desk>;

/** Lends commands what a face of the programme can do, while it is on screen. */
export function useDesk(own: Own): void {
  const session = useSession();
  useEffect(() => session.lend({ ...COMMON, ...own }), [session, own]);
}
