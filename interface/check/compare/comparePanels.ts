import type { LevelDifference } from '@/core/loudness/levelDifference';
import { figure, signed } from '@/core/text/figures';
import { levelScale, levelTicks } from '../../ui/levelScale';
import { across, AXIS, columns, lineOf, text, type PanelSpec } from '../overTime/plot';

/** Two sounds beside each other, as they are drawn. */
export interface CompareData {
  readonly difference: LevelDifference;
  /** What is added to the second, dB. */
  readonly shiftDb: number;
  /** What counts as a difference, LU. */
  readonly overLu: number;
  /** LUFS around which they are drawn. */
  readonly horizon: number;
}

const LEVEL_HEIGHT = 112;
const DIFFERENCE_HEIGHT = 88;
/** Under the horizon this is the lowest that is drawn, LU. */
const LOWEST = -30;

const LEVELS: PanelSpec<CompareData> = {
  ...{ id: 'levels', name: 'Short-term loudness of both', height: LEVEL_HEIGHT },
  shapes: ({ difference: { a, b, middle, perSecond }, shiftDb, horizon }, view, width) => {
    const top = Math.max(6, highestOf(a) - horizon, highestOf(b) + shiftDb - horizon) + 2;
    const scale = levelScale(top, LOWEST, LEVEL_HEIGHT);
    const y = (lufs: number): number => scale(Math.max(LOWEST, lufs - horizon));
    const own = columns(a, middle, 1 / perSecond, view, width, (value) => value);
    const other = columns(b, middle, 1 / perSecond, view, width, (value) => value + shiftDb);
    return [
      ...levelTicks(scale, 10).flatMap((lu) => [
        across(scale(lu), width, 'divider'),
        text(width - 26, scale(lu) - 3, figure(horizon + lu, 0), 'text-secondary'),
      ]),
      across(scale(0), width, 'sheet-horizon', [4, 3]),
      text(4, scale(0) - 3, `target ${figure(horizon)} LUFS`),
      lineOf(own, y, 'text-primary', 1.5),
      { ...lineOf(other, y, 'primary-main', 2), dash: [5, 3] },
    ];
  },
};

/** The least and the most that a difference is drawn to, LU. */
const [LEAST_SCALE, MOST_SCALE] = [6, 30];

/** The highest of some values that are there. */
function highestOf(values: Float32Array): number {
  let most = -Infinity;
  for (const value of values) if (value > most) most = value;
  return most;
}

const DIFFERENCE: PanelSpec<CompareData> = {
  ...{ id: 'difference', name: 'Difference of short-term loudness', height: DIFFERENCE_HEIGHT },
  shapes: ({ difference: { a, b, middle, perSecond }, shiftDb, overLu }, view, width) => {
    const values = a.map((own, k) => b[k]! + shiftDb - own);
    const largest = Math.max(highestOf(values), highestOf(values.map((value) => -value)));
    const most = Math.max(LEAST_SCALE, Math.min(MOST_SCALE, Math.ceil(largest + 1)));
    const y = (lu: number): number =>
      ((most - Math.max(-most, Math.min(most, lu))) / (2 * most)) * DIFFERENCE_HEIGHT;
    const tick = Math.round(most / 2);
    const highest = columns(values, middle, 1 / perSecond, view, width, (value) => value);
    const lowest = columns(
      values.map((value) => -value),
      ...([middle, 1 / perSecond, view, width] as const),
      (value) => -value,
    );
    const bars = Array.from(highest, (above, x) => {
      const least = lowest[x]!;
      const lu = Math.abs(least) > Math.abs(above) ? least : above;
      return { x, lu };
    }).filter(({ lu }) => !Number.isNaN(lu));
    return [
      ...bars.map(({ x, lu }) => ({
        ...{ kind: 'rect' as const, x, width: 1 },
        ...{ y: Math.min(y(lu), y(0)), height: Math.max(1, Math.abs(y(lu) - y(0))) },
        colour: Math.abs(lu) > overLu ? (lu > 0 ? 'level-over' : 'level-under') : 'sheet-wave',
      })),
      across(y(0), width, 'sheet-horizon'),
      ...[overLu, -overLu].map((lu) => across(y(lu), width, 'text-secondary', [1, 4])),
      ...[tick, -tick].map((lu) => text(width - 30, y(lu) + 3, signed(lu, 0), 'text-secondary')),
      text(4, 10, 'The other is louder, LU', 'text-secondary'),
      text(4, DIFFERENCE_HEIGHT - 4, 'The other is quieter', 'text-secondary'),
    ];
  },
};

export const COMPARE_PANELS: readonly PanelSpec<CompareData>[] = [LEVELS, DIFFERENCE, AXIS];
