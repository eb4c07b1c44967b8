import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Layout } from './layout';

/** What of a file is to be measured, and how. */
export interface SoundChoice {
  /** Which of its sounds, from 0. */
  readonly track: number;
  /** Id of a declared layout; `null` when the file's own holds. */
  readonly layoutId: string | null;
  /** The layout it is known to have, which its file may have no words for; left out where the file is to say. */
  readonly as?: Layout;
  /** Seconds; `null` for the whole. */
  readonly range: TimeRange | null;
}

export const WHOLE_FIRST_SOUND: SoundChoice = { track: 0, layoutId: null, range: null };
