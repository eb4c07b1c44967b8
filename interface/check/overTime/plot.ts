import type { TimeRange } from '@/core/loudness/levelTrack';
import { clock } from '@/core/text/figures';
import { tickStep } from '../../ui/tickStep';
import type { Shape } from './shapes';

/** One chart among those that share the time. */
export interface PanelSpec<D> {
  readonly id: string;
  readonly name: string;
  readonly height: number;
  readonly shapes: (data: D, view: TimeRange, width: number) => Shape[];
}

/** The largest value under each pixel column; NaN where there is none. @param middle of the first value, seconds */
export function columns(
  values: ArrayLike<number>,
  middle: number,
  step: number,
  { from, to }: TimeRange,
  width: number,
  level: (value: number) => number | null,
): Float64Array {
  const perPixel = (to - from) / width;
  const at = (time: number): number => Math.round((time - middle) / step);
  return Float64Array.from({ length: width }, (_, x) => {
    const first = at(from + x * perPixel);
    const last = Math.max(first, at(from + (x + 1) * perPixel) - 1);
    let most = -Infinity;
    for (let j = Math.max(0, first); j <= Math.min(values.length - 1, last); j++)
      if (values[j]! > most) most = values[j]!;
    return most === -Infinity ? NaN : (level(most) ?? NaN);
  });
}

export const lineOf = (
  values: Float64Array,
  y: (value: number) => number,
  colour: string,
  width: number,
): Shape => ({
  ...{ kind: 'line', colour, width },
  points: Array.from(values, (value, x) => [x + 0.5, Number.isNaN(value) ? NaN : y(value)] as const),
});

export const across = (y: number, width: number, colour: string, dash?: readonly number[]): Shape => ({
  ...{ kind: 'line', colour, width: 1, ...(dash && { dash }) },
  points: [
    [0, Math.round(y) + 0.5],
    [width, Math.round(y) + 0.5],
  ],
});

export const text = (x: number, y: number, words: string, colour = 'text-primary'): Shape => ({
  ...{ kind: 'text', x, y, text: words, colour },
});

function axis(_: unknown, view: TimeRange, width: number): Shape[] {
  const perSecond = width / (view.to - view.from);
  const step = tickStep(perSecond);
  const shapes: Shape[] = [];
  for (let time = Math.ceil(view.from / step) * step; time < view.to; time += step) {
    const x = Math.round((time - view.from) * perSecond);
    shapes.push({ kind: 'rect', x, y: 0, width: 1, height: 4, colour: 'text-secondary' });
    if (x < width - 36) shapes.push(text(x + 4, 12, clock(time, step < 1 ? 1 : 0), 'text-secondary'));
  }
  return shapes;
}

/** The axis of time, under all of them. */
export const AXIS: PanelSpec<unknown> = { id: 'axis', name: 'Time', height: 16, shapes: axis };
