import { bisectLeft } from 'd3-array';
import type { OverTime } from '@/core/check/overTime';
import type { Target } from '@/core/check/target';
import { amplitudeToDb, meanSquareToLufs } from '@/core/loudness/decibels';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { ReductionTrack } from '@/core/measuring/reductions';
import { figure, signed } from '@/core/text/figures';
import type { DrawnLevels } from '@/engine/protocol';
import { levelScale, levelTicks } from '../../ui/levelScale';
import { across, AXIS, columns, lineOf, text, type PanelSpec } from './plot';
import type { Shape } from './shapes';

const HOP_SECONDS = 0.1;
const PER_SECOND = 10;

/** All that is drawn over time. */
export interface ChartData {
  readonly programme: DrawnLevels;
  readonly overTime: OverTime;
  readonly target: Target;
  readonly channels: readonly string[];
  /** What limiters take off, added up over all of them. */
  readonly reductions: readonly ReductionTrack[];
}

function loudness({ programme, overTime, target }: ChartData, view: TimeRange, width: number): Shape[] {
  const height = LOUDNESS_HEIGHT;
  const { figures, blocks, shortTerm } = programme;
  const goal = target.integratedLufs;
  const top = Math.max(8, (figures.maxMomentaryLufs ?? goal) - goal + 2);
  const scale = levelScale(top, -32, height);
  const y = (lufs: number): number => scale(Math.max(-32, lufs - goal));
  const lufs = (value: number): number | null => meanSquareToLufs(value);
  const momentary = columns(blocks, 0.2, HOP_SECONDS, view, width, lufs);
  const long = columns(shortTerm, 1.5, HOP_SECONDS, view, width, lufs);
  const running = columns(overTime.running, 1, 1, view, width, (value) => value);
  const shapes: Shape[] = [
    {
      ...{ kind: 'rect', x: 0, width, colour: 'sheet-band', y: y(goal + target.toleranceLu) },
      height: Math.max(2, y(goal - target.toleranceLu) - y(goal + target.toleranceLu)),
    },
    ...Array.from(momentary, (value, x): Shape | null =>
      Number.isNaN(value) || value <= goal - 32
        ? null
        : { kind: 'rect', x, y: y(value), width: 1, height: height - y(value), colour: 'sheet-wave' },
    ).filter((shape) => shape !== null),
  ];
  for (const lu of levelTicks(scale, 5))
    shapes.push(
      across(scale(lu), width, 'divider'),
      text(width - 26, scale(lu) - 3, figure(goal + lu, 0), 'text-secondary'),
    );
  shapes.push(
    across(y(goal), width, 'sheet-horizon', [4, 3]),
    text(4, y(goal) - 3, `target ${figure(goal)} LUFS`),
  );
  const limits = [
    ['max short-term', target.maxShortTermLufs],
    ['max momentary', target.maxMomentaryLufs],
  ] as const;
  for (const [words, limit] of limits)
    if (limit !== null)
      shapes.push(
        across(y(limit), width, 'level-over'),
        text(4, y(limit) - 3, `${words} ${figure(limit)} LUFS`),
      );
  const gate = figures.relativeGateLufs;
  if (gate !== null && gate > goal - 32)
    shapes.push(
      across(y(gate), width, 'text-secondary', [1, 4]),
      text(124, y(gate) - 3, `gate ${figure(gate)} LUFS`),
    );
  shapes.push(lineOf(long, y, 'text-primary', 1.5), lineOf(running, y, 'primary-main', 2));
  return shapes;
}

function truePeak({ overTime, target, channels }: ChartData, view: TimeRange, width: number): Shape[] {
  const height = PEAK_HEIGHT;
  const limit = target.maxTruePeakDbtp;
  const top = Math.max(3, limit + 2);
  const y = (db: number): number => ((top - Math.max(-24, db)) / (top + 24)) * height;
  const shapes: Shape[] = [];
  for (const db of [0, -6, -12, -18])
    shapes.push(
      across(y(db), width, 'divider'),
      text(width - 26, y(db) - 3, figure(db, 0), 'text-secondary'),
    );
  overTime.truePeak.forEach((values, c) => {
    const [colour, dash] = channelLook(c);
    const line = lineOf(columns(values, 0.05, HOP_SECONDS, view, width, amplitudeToDb), y, colour, 1);
    shapes.push({ ...line, ...(dash && { dash }) } as Shape);
  });
  shapes.push(across(y(limit), width, 'level-over'), text(4, y(limit) - 3, `at most ${figure(limit)} dBTP`));
  channels.slice(0, 12).forEach((label, c) => {
    const [colour, dash] = channelLook(c);
    const x = 4 + 52 * c;
    const points = [
      [x, height - 8.5],
      [x + 18, height - 8.5],
    ] as const;
    shapes.push({ kind: 'line', colour, width: 2, points, ...(dash && { dash }) });
    shapes.push(text(x + 22, height - 5, label, 'text-secondary'));
  });
  return shapes;
}

const DASHES: readonly (readonly number[] | undefined)[] = [undefined, [4, 2], [1, 2], [7, 2]];

/** How the line of a channel looks: told apart by its dashes as well as by its colour. */
const channelLook = (c: number): readonly [colour: string, dash: readonly number[] | undefined] => [
  c % 2 === 0 ? 'text-primary' : 'primary-main',
  DASHES[c % DASHES.length],
];

/** The most that limiters take off in each 100 ms, dB. */
function reductionSeries(tracks: readonly ReductionTrack[], blocks: number): Float32Array {
  const most = new Float32Array(blocks);
  for (const { blocks: places, db } of tracks)
    places.forEach((at, i) => {
      if (at < blocks && db[i]! > most[at]!) most[at] = db[i]!;
    });
  return most;
}

function reduction({ programme, reductions }: ChartData, view: TimeRange, width: number): Shape[] {
  const height = SMALL_HEIGHT;
  const series = reductionSeries(reductions, programme.truePeaks.length);
  const most = Math.max(6, ...reductions.flatMap(({ db }) => [db.reduce((a, b) => Math.max(a, b), 0)]));
  const y = (db: number): number => (db / most) * (height - 4);
  const found = columns(series, 0.05, HOP_SECONDS, view, width, (value) => value);
  return [
    ...[most / 2, most].flatMap((db) => [
      across(y(db), width, 'divider'),
      text(width - 30, y(db) - 3, figure(-db, 0), 'text-secondary'),
    ]),
    ...Array.from(found, (db, x): Shape | null =>
      db > 0 ? { kind: 'rect', x, y: 0, width: 1, height: y(db), colour: 'level-over' } : null,
    ).filter((shape) => shape !== null),
    text(4, height - 5, 'Gain reduction, dB', 'text-secondary'),
  ];
}

function dialogue({ overTime: { distances } }: ChartData, view: TimeRange, width: number): Shape[] {
  const height = SMALL_HEIGHT;
  const y = (lu: number): number => height / 2 - (Math.max(-20, Math.min(20, lu)) / 20) * (height / 2 - 4);
  // The lowest distance under a pixel is what matters.
  const lowest = columns(
    distances.map((lu) => -lu),
    0.05,
    HOP_SECONDS,
    view,
    width,
    (value) => -value,
  );
  return [
    ...Array.from(lowest, (lu, x): Shape | null =>
      Number.isNaN(lu)
        ? null
        : {
            ...{ kind: 'rect', x, width: 1, colour: lu < 0 ? 'level-over' : 'sheet-wave' },
            ...{ y: Math.min(y(lu), y(0)), height: Math.max(1, Math.abs(y(lu) - y(0))) },
          },
    ).filter((shape) => shape !== null),
    ...[10, 0, -10].map((lu) =>
      across(y(lu), width, lu === 0 ? 'sheet-horizon' : 'divider', lu === 0 ? [4, 3] : undefined),
    ),
    ...[10, -10].map((lu) => text(width - 30, y(lu) - 3, signed(lu, 0), 'text-secondary')),
    text(4, height - 5, 'While somebody speaks: speech over the rest, LU', 'text-secondary'),
  ];
}

/** When somebody speaks. */
function spoken({ overTime }: ChartData, view: TimeRange, width: number): Shape[] {
  const perSecond = width / (view.to - view.from);
  return [
    ...overTime.speech
      .filter(({ from, to }) => to > view.from && from < view.to)
      .map(({ from, to }): Shape => {
        const x = Math.max(0, (from - view.from) * perSecond);
        const end = Math.min(width, (to - view.from) * perSecond);
        return { kind: 'rect', x, y: 12, width: Math.max(1, end - x), height: 8, colour: 'text-secondary' };
      }),
    text(4, 9, 'Somebody speaks', 'text-secondary'),
  ];
}

const LOUDNESS_HEIGHT = 190;
const STRIP_HEIGHT = 22;
const PEAK_HEIGHT = 96;
const SMALL_HEIGHT = 64;

const LOUDNESS: PanelSpec<ChartData> = {
  id: 'loudness',
  name: 'Loudness',
  height: LOUDNESS_HEIGHT,
  shapes: loudness,
};
const PEAK: PanelSpec<ChartData> = { id: 'peak', name: 'True peak', height: PEAK_HEIGHT, shapes: truePeak };
const REDUCTION: PanelSpec<ChartData> = {
  id: 'reduction',
  name: 'Gain reduction',
  height: SMALL_HEIGHT,
  shapes: reduction,
};
const DIALOGUE: PanelSpec<ChartData> = {
  id: 'dialogue',
  name: 'Speech over the rest',
  height: SMALL_HEIGHT,
  shapes: dialogue,
};

const SPEECH: PanelSpec<ChartData> = {
  ...{ id: 'speech', name: 'When somebody speaks', height: STRIP_HEIGHT, shapes: spoken },
};

/** The charts that have something to show. */
export const panelsOf = ({ reductions, overTime }: ChartData): readonly PanelSpec<ChartData>[] => [
  LOUDNESS,
  PEAK,
  ...(reductions.length > 0 ? [REDUCTION] : []),
  ...(overTime.distances.length > 0 ? [DIALOGUE] : overTime.speech.length > 0 ? [SPEECH] : []),
  AXIS,
];

/** What is told of one moment. */
export interface Moment {
  readonly seconds: number;
  readonly momentaryLufs: number | null;
  readonly shortTermLufs: number | null;
  readonly runningLufs: number | null;
  readonly truePeakDbtp: readonly (number | null)[];
  readonly reductionDb: number;
  readonly speechOverRestLu: number | null;
}

const real = (value: number | undefined): number | null =>
  value === undefined || Number.isNaN(value) ? null : value;

/** What is told of a time; windows are those that have it in their middle. */
export function momentAt({ programme, overTime, reductions }: ChartData, seconds: number): Moment {
  const block = Math.max(0, Math.floor(seconds * PER_SECOND + 1e-6));
  const window = (values: Float64Array, length: number): number | null =>
    meanSquareToLufs(values[Math.round((seconds - length / 2) * PER_SECOND)] ?? 0);
  return {
    seconds,
    momentaryLufs: window(programme.blocks, 0.4),
    shortTermLufs: window(programme.shortTerm, 3),
    runningLufs: real(overTime.running[Math.floor(seconds) - 1]),
    truePeakDbtp: overTime.truePeak.map((channel) => amplitudeToDb(channel[block] ?? 0)),
    reductionDb: reductions.reduce((most, { blocks, db }) => {
      const at = bisectLeft(blocks, block);
      return blocks[at] === block ? Math.max(most, db[at]!) : most;
    }, 0),
    speechOverRestLu: real(overTime.distances[block]),
  };
}
