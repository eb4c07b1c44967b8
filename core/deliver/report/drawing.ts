import { clock, figure } from '@/core/text/figures';
import type { ProgrammeReport } from './report';

/** What a picture in vectors is made of; places in points from its upper left corner. */
export type Shape =
  | {
      readonly kind: 'box';
      readonly x: number;
      readonly y: number;
      readonly width: number;
      readonly height: number;
      readonly ink: Ink;
    }
  | {
      readonly kind: 'line';
      readonly from: Point;
      readonly to: Point;
      readonly ink: Ink;
      readonly dash: readonly number[] | null;
    }
  | { readonly kind: 'path'; readonly runs: readonly (readonly Point[])[]; readonly ink: Ink }
  | { readonly kind: 'words'; readonly at: Point; readonly text: string; readonly anchor: 'middle' | 'end' };

type Point = readonly [x: number, y: number];

/** What a colour stands for. */
export type Ink = 'wave' | 'within' | 'scale' | 'limit';

/** On white, each told from the others by how it is drawn as well. */
export const INKS: Readonly<Record<Ink, string>> = {
  wave: '#24595c',
  within: '#cfd9d8',
  scale: '#808080',
  limit: '#8a1c5c',
};

export interface Drawing {
  /** For those who do not see it. */
  readonly label: string;
  readonly width: number;
  readonly height: number;
  readonly shapes: readonly Shape[];
}

const WIDTH = 960;
const HEIGHT = 200;
const LEFT = 42;
const BOTTOM = 22;
/** LU over and under the target that are shown at least. */
const AROUND = 12;

const tickSeconds = (seconds: number): number =>
  [5, 10, 15, 30, 60, 120, 300, 600, 900, 1_800, 3_600, 7_200].find((step) => seconds / step <= 10) ?? 14_400;

/** The loudness that is asked for first, LUFS. */
const goalOf = ({ targets }: ProgrammeReport) =>
  targets[0]?.figures.find(({ figure: name }) => name === 'integrated' || name === 'dialogue');

/** Short-term loudness over time around its target, with its scales. */
export function courseDrawing(report: ProgrammeReport): Drawing {
  const { course, programme, targets } = report;
  const loudness = goalOf(report);
  const limit = targets[0]?.figures.find(({ figure: name }) => name === 'maxShortTerm')?.goal ?? null;
  const goal = loudness?.goal ?? -23;
  const values = course.shortTermLufs.filter((value) => value !== null);
  const top = values.reduce((most, value) => Math.max(most, Math.min(5, value) + 1), goal + AROUND);
  const bottom = goal - 2 * AROUND;
  const x = (seconds: number): number => LEFT + ((WIDTH - LEFT) * seconds) / Math.max(0.1, programme.seconds);
  const y = (lufs: number): number =>
    ((top - Math.max(bottom, Math.min(top, lufs))) / (top - bottom)) * (HEIGHT - BOTTOM);
  const runs: Point[][] = [];
  let run: Point[] | null = null;
  course.shortTermLufs.forEach((value, i) => {
    if (value === null || value < bottom) run = null;
    else {
      if (!run) runs.push((run = []));
      run.push([x(3 + i * course.stepSeconds), y(value)]);
    }
  });
  const levels = [-2, -1, 0, 1].map((k) => goal + k * AROUND).filter((lufs) => lufs <= top && lufs >= bottom);
  const every = tickSeconds(programme.seconds);
  const times = Array.from({ length: Math.floor(programme.seconds / every) + 1 }, (_, i) => i * every);
  const tolerance = loudness?.tolerance ?? 0;
  const [upper, lower] = [y(goal + tolerance), y(goal - tolerance)];
  const across = (lufs: number, dash: readonly number[] | null, ink: Ink): Shape => ({
    ...{ kind: 'line', from: [LEFT, y(lufs)], to: [WIDTH, y(lufs)], ink, dash },
  });
  return {
    ...{ label: 'Short-term loudness over time, LUFS', width: WIDTH, height: HEIGHT },
    shapes: [
      ...[
        {
          kind: 'box',
          x: LEFT,
          y: upper,
          width: WIDTH - LEFT,
          height: Math.max(1, lower - upper),
          ink: 'within',
        } as const,
      ],
      ...levels.flatMap((lufs): Shape[] => [
        across(lufs, lufs === goal ? [6, 3] : [1, 5], 'scale'),
        { kind: 'words', at: [LEFT - 6, Math.max(9, y(lufs) + 4)], text: figure(lufs, 0), anchor: 'end' },
      ]),
      ...(limit === null ? [] : [across(limit, null, 'limit')]),
      ...times.flatMap((at): Shape[] => [
        {
          ...{ kind: 'line', from: [x(at), HEIGHT - BOTTOM], to: [x(at), HEIGHT - BOTTOM + 4] },
          ...{ ink: 'scale', dash: null },
        },
        {
          ...{ kind: 'words', at: [Math.min(WIDTH - 14, x(at)), HEIGHT - 5] },
          ...{ text: clock(at, 0), anchor: 'middle' },
        },
      ]),
      { kind: 'path', runs, ink: 'wave' },
    ],
  };
}

const BARS_HEIGHT = 130;

/** How long the programme spends at each short-term loudness, a bar a LU. */
export function distributionDrawing(report: ProgrammeReport): Drawing {
  const { lowestLufs, seconds } = report.distribution;
  const first = seconds.findIndex((time) => time > 0);
  const last = seconds.findLastIndex((time) => time > 0);
  const goal = goalOf(report)?.goal ?? null;
  const bars = first < 0 ? [] : seconds.slice(first, last + 1);
  const most = bars.reduce((a, b) => Math.max(a, b), 0);
  // As many as there are, yet no bar wider than it is of use.
  const wide = Math.min(40, (WIDTH - LEFT) / Math.max(1, bars.length));
  const ground = BARS_HEIGHT - BOTTOM;
  const x = (lufs: number): number => LEFT + (lufs - lowestLufs - first) * wide;
  const inside = goal !== null && first >= 0 && goal >= lowestLufs + first && goal <= lowestLufs + last + 1;
  return {
    ...{ width: WIDTH, height: BARS_HEIGHT },
    label:
      first < 0
        ? 'Nothing is over −70 LUFS'
        : `Time at each short-term loudness, from ${figure(lowestLufs + first, 0)} to ${figure(lowestLufs + last + 1, 0)} LUFS`,
    shapes: [
      ...bars.map((time, i): Shape => {
        const height = (time / most) * (ground - 14);
        return {
          ...{
            kind: 'box',
            x: LEFT + i * wide + 1,
            y: ground - height,
            width: Math.max(1, wide - 2),
            height,
          },
          ink: 'wave',
        };
      }),
      { kind: 'line', from: [LEFT, ground], to: [WIDTH, ground], ink: 'scale', dash: null },
      ...bars.flatMap((time, i): Shape[] => {
        const lufs = lowestLufs + first + i;
        const words: Shape[] =
          lufs % 5 === 0 || bars.length < 8
            ? [
                {
                  kind: 'words',
                  at: [LEFT + i * wide, BARS_HEIGHT - 5],
                  text: figure(lufs, 0),
                  anchor: 'middle',
                },
              ]
            : [];
        return time === most
          ? [
              ...words,
              { kind: 'words', at: [LEFT + (i + 0.5) * wide, 10], text: clock(time, 0), anchor: 'middle' },
            ]
          : words;
      }),
      ...(inside
        ? [
            {
              ...({ kind: 'line', from: [x(goal), 0], to: [x(goal), ground] } as const),
              ...({ ink: 'limit', dash: [6, 3] } as const),
            },
          ]
        : []),
    ],
  };
}
