import type { Target } from '@/core/check/target';
import type { ReductionTrack } from '@/core/measuring/reductions';
import type { Id } from '@/core/programme/model';
import type { SelectedPoints } from '../../session/state';

/** Where and how a lane is drawn. */
export interface LaneDrawing {
  readonly sampleRate: number;
  readonly target: Target;
  readonly pixelsPerSecond: number;
  readonly scrollLeft: number;
  readonly width: number;
  readonly height: number;
  readonly mirrored: boolean;
  readonly loudness: boolean;
  /** What limiters take off, by whose they are. */
  readonly reductions: ReadonlyMap<Id, ReductionTrack> | null;
  /** Points of the track's curve, or of one of its clips', that are selected. */
  readonly points: SelectedPoints | null;
}

/** Colours of the theme, by name. */
export type Colours = (name: string) => string;
/** The range of a lane that a clip takes, pixels from the canvas's left edge. */
export interface Place {
  readonly left: number;
  readonly right: number;
}
