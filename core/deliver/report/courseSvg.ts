import { clock, figure } from '@/core/text/figures';
import type { ProgrammeReport } from './report';

const WIDTH = 960;
const HEIGHT = 200;
const LEFT = 42;
const BOTTOM = 22;
/** LU over and under the target that are shown at least. */
const AROUND = 12;

const tickSeconds = (seconds: number): number =>
  [5, 10, 15, 30, 60, 120, 300, 600, 900, 1_800, 3_600, 7_200].find((step) => seconds / step <= 10) ?? 14_400;

/** Short-term loudness over time around its target, as a picture in vectors with its scales. */
export function courseSvg({ course, programme, targets }: ProgrammeReport): string {
  const [target] = targets;
  const loudness = target?.figures.find(({ figure: name }) => name === 'integrated' || name === 'dialogue');
  const limit = target?.figures.find(({ figure: name }) => name === 'maxShortTerm')?.goal ?? null;
  const goal = loudness?.goal ?? -23;
  const values = course.shortTermLufs.filter((value) => value !== null);
  const top = Math.max(goal + AROUND, ...values.map((value) => Math.min(5, value)));
  const bottom = goal - 2 * AROUND;
  const x = (seconds: number): number => LEFT + ((WIDTH - LEFT) * seconds) / Math.max(0.1, programme.seconds);
  const y = (lufs: number): number =>
    ((top - Math.max(bottom, Math.min(top, lufs))) / (top - bottom)) * (HEIGHT - BOTTOM);
  const n = (value: number): string => value.toFixed(1);
  let pen = false;
  const path = course.shortTermLufs
    .map((value, i) => {
      if (value === null || value < bottom) {
        pen = false;
        return '';
      }
      const step = `${pen ? 'L' : 'M'}${n(x(3 + i * course.stepSeconds))} ${n(y(value))}`;
      pen = true;
      return step;
    })
    .join('');
  const levels = [-2, -1, 0, 1].map((k) => goal + k * AROUND).filter((lufs) => lufs <= top && lufs >= bottom);
  const every = tickSeconds(programme.seconds);
  const times = Array.from({ length: Math.floor(programme.seconds / every) + 1 }, (_, i) => i * every);
  const tolerance = loudness?.tolerance ?? 0;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="100%" role="img" aria-label="Short-term loudness over time, LUFS">`,
    `<rect x="${LEFT}" y="${n(y(goal + tolerance))}" width="${WIDTH - LEFT}" height="${n(Math.max(1, y(goal - tolerance) - y(goal + tolerance)))}" fill="#cfd9d8"/>`,
    ...levels.map(
      (lufs) =>
        `<line x1="${LEFT}" x2="${WIDTH}" y1="${n(y(lufs))}" y2="${n(y(lufs))}" stroke="#999" stroke-dasharray="${lufs === goal ? '6 3' : '1 5'}"/><text x="${LEFT - 6}" y="${n(y(lufs) + 4)}" text-anchor="end" font-size="11">${figure(lufs, 0)}</text>`,
    ),
    ...(limit === null
      ? []
      : [
          `<line x1="${LEFT}" x2="${WIDTH}" y1="${n(y(limit))}" y2="${n(y(limit))}" stroke="#8a1c5c" stroke-width="1.2"/>`,
        ]),
    ...times.map(
      (at) =>
        `<line x1="${n(x(at))}" x2="${n(x(at))}" y1="${HEIGHT - BOTTOM}" y2="${HEIGHT - BOTTOM + 4}" stroke="#666"/><text x="${n(Math.min(WIDTH - 14, x(at)))}" y="${HEIGHT - 5}" text-anchor="middle" font-size="11">${clock(at, 0)}</text>`,
    ),
    `<path d="${path}" fill="none" stroke="#24595c" stroke-width="1.4"/>`,
    '</svg>',
  ].join('');
}
