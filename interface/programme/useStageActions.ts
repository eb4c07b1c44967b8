import { useEffect } from 'react';
import type { StageActions } from '../session/stageActions';
import { useSession } from '../session/SessionContext';
import { changeView, viewNow } from './viewSettings';

const nothing = (): void => undefined;

/** What every face of the programme lends, where it has nothing of its own. */
const COMMON = {
  zoom: nothing,
  showAll: nothing,
  showRange: nothing,
  reveal: nothing,
  changeHeight: (factor: number) =>
    changeView({ height: Math.max(0.3, Math.min(5, viewNow().height * factor)), big: false }),
  toggleView: (what: 'big' | 'mirrored' | 'loudness') => changeView({ [what]: !viewNow()[what] }),
};

/** What the stage lends whatever its face: the field for a gain, and what is opened under the programme. */
export type SheetActions = Pick<
  StageActions,
  | 'editGain'
  | 'levelClips'
  | 'levelProgramme'
  | 'plan'
  | 'findParts'
  | 'duck'
  | 'ride'
  | 'findClicks'
  | 'evenOut'
  | 'closeSheet'
>;

type Own = Omit<StageActions, keyof typeof COMMON> & Partial<StageActions>;

/** Lends commands what a face of the programme can do, while it is on screen. */
export function useStageActions(own: Own): void {
  const session = useSession();
  useEffect(() => session.lend({ ...COMMON, ...own }), [session, own]);
}
