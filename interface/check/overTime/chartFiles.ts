import papa from 'papaparse';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { saveBlob } from '../../ui/saveBlob';
import { momentAt, panelsOf, type ChartData, type Moment } from './panels';
import { svgFile } from './shapes';

/** Width of an exported picture, CSS pixels. */
const WIDTH = 1600;

/** The moments of a chart, one every so many seconds. */
export function momentsOf(data: ChartData, every: number): Moment[] {
  const seconds = data.programme.lengthSeconds;
  return Array.from({ length: Math.floor(seconds / every) + 1 }, (_, i) => momentAt(data, i * every));
}

/** All that is drawn as a table, a row every 100 ms. */
export function chartCsv(data: ChartData): string {
  const head = [
    ...['seconds', 'momentaryLufs', 'shortTermLufs', 'integratedSoFarLufs'],
    ...data.channels.map((label) => `truePeakDbtp ${label}`),
    ...['gainReductionDb', 'speechOverRestLu'],
  ];
  const rows = momentsOf(data, 0.1).map((moment) => [
    Math.round(moment.seconds * 10) / 10,
    ...[moment.momentaryLufs, moment.shortTermLufs, moment.runningLufs],
    ...moment.truePeakDbtp,
    ...[moment.reductionDb, moment.speechOverRestLu],
  ]);
  return `${papa.unparse([head, ...rows], { escapeFormulae: true })}\n`;
}

/** The charts as they stand, as the text of an SVG file. */
export const chartSvg = (data: ChartData, view: TimeRange, colour: (name: string) => string): string =>
  svgFile(
    panelsOf(data).map(({ shapes, height }) => ({ shapes: shapes(data, view, WIDTH), height })),
    WIDTH,
    colour,
  );

/** Saves panels that are on screen as one picture. */
export function savePng(canvases: readonly HTMLCanvasElement[], background: string, name: string): void {
  const whole = document.createElement('canvas');
  whole.width = Math.max(1, ...canvases.map(({ width }) => width));
  whole.height = canvases.reduce((sum, { height }) => sum + height, 0);
  const context = whole.getContext('2d');
  if (!context) return;
  context.fillStyle = background;
  context.fillRect(0, 0, whole.width, whole.height);
  let y = 0;
  for (const canvas of canvases) {
    context.drawImage(canvas, 0, y);
    y += canvas.height;
  }
  whole.toBlob((blob) => blob && saveBlob(blob, name), 'image/png');
}
