import type { SegmentShape } from './model';

/** Over how many frames before its end a step goes from one level to the next: 5.3 ms at 48 kHz, so that it does not click. */
export const STEP_FRAMES = 256;

/** What a segment of a curve is, whatever goes along it. */
interface Segment {
  /** Frame of its first point and of its second. */
  readonly from: number;
  readonly to: number;
  /** Straight where left out. */
  readonly shape?: SegmentShape | undefined;
}

/**
 * How far along a segment is on its way from its first value to its second, t being the part of its time that has passed:
 * straight t; eased at its start t²; eased at its end 1 − (1 − t)²; eased at both 3t² − 2t³; a step stays at 0 until its
 * last {@link STEP_FRAMES}, then goes as eased at both.
 * @param at frame, within the segment
 * @returns 0 to 1
 */
export function shapedPart({ from, to, shape }: Segment, at: number): number {
  const t = (at - from) / (to - from);
  switch (shape) {
    case undefined:
      return t;
    case 'easeStart':
      return t * t;
    case 'easeEnd':
      return t * (2 - t);
    case 'ease':
      return t * t * (3 - 2 * t);
    case 'step': {
      const ramp = Math.min(STEP_FRAMES, to - from);
      const r = Math.max(0, (at - (to - ramp)) / ramp);
      return r * r * (3 - 2 * r);
    }
  }
}

/** In so many straight lines an eased segment is drawn and written where a format knows straight lines only. */
const LINES = 16;

/**
 * The frames between which straight lines stand for a segment: within 0.1 % of its height.
 * @returns frames between its ends, in order
 */
export function linesOf({ from, to, shape }: Segment): readonly number[] {
  if (shape === undefined) return [];
  const first = shape === 'step' ? to - Math.min(STEP_FRAMES, to - from) : from;
  const places = Array.from({ length: LINES - 1 }, (_, i) =>
    Math.round(first + ((i + 1) * (to - first)) / LINES),
  );
  return [...new Set([...(first > from ? [first] : []), ...places])].filter((at) => at > from && at < to);
}
