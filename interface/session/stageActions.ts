import type { Id } from '@/core/programme/model';

/** What the programme's stage lends to commands while it is on screen. */
export interface StageActions {
  /** Moves the keyboard's place to a clip and brings it into view. */
  readonly focusClip: (clipId: Id) => void;
  readonly editGain: () => void;
  readonly levelClips: () => void;
  readonly levelProgramme: () => void;
  readonly plan: () => void;
  readonly findParts: () => void;
  readonly duck: () => void;
  readonly ride: () => void;
  readonly evenOut: () => void;
  readonly findClicks: () => void;
  /** Closes the sheet under the stage; `null` while there is none. */
  readonly closeSheet: (() => void) | null;
  readonly zoom: (factor: number) => void;
  readonly showAll: () => void;
  /** Shows a range of the programme as large as it fits, seconds. */
  readonly showRange: (from: number, to: number) => void;
  /** Brings a place into view if it is not, seconds. */
  readonly reveal: (seconds: number) => void;
  readonly changeHeight: (factor: number) => void;
  /** Clips in the order in which they are met; that of time where there is no other. */
  readonly order?: () => readonly Id[];
  readonly toggleView: (what: 'big' | 'mirrored' | 'loudness') => void;
}
