import { clipLevel } from '@/core/check/clipLevel';
import { figure, signed } from '@/core/text/figures';
import type { Standing } from '../../ui/LevelMark';
import { fittedText, textWidth } from '../../ui/canvasText';
import { gainText } from '../clipLevel';
import { EDGE_WIDTH, FADE_TAB, fadeTabs, waterlineY } from './clipHits';
import type { Colours, LaneDrawing, Place } from './laneDrawing';
import { LANE_BOTTOM_LU, LANE_TOP_LU, NAME_STRIP } from './laneScale';
import type { DrawnClip } from './useVisible';

const FONT = '11px "Inter Variable", sans-serif';
/** Clips narrower than this show no gain in their strip, no figure at their waterline; nor do lanes lower than that. Pixels. */
const LEAST_FOR_GAIN = 110;
const LEAST_FOR_FIGURE = 150;
const LEAST_HEIGHT_FOR_FIGURE = 64;
const PADDING = 6;
const MARK = { small: 3, large: 4.5 };

/** How a clip is shown: it is selected, or the pointer is on it (and on which edge). */
export interface Shown {
  readonly selected: boolean;
  readonly hot: boolean;
  readonly hotEdge: 'start' | 'end' | null;
}

/** Pointing up, down, or a disc, as `markPath` draws it, without a path to be parsed: there may be a thousand. */
function drawMark(
  context: CanvasRenderingContext2D,
  standing: Standing,
  [x, y]: readonly [number, number],
  r: number,
): void {
  const up = standing === 'over' ? 1 : -1;
  context.beginPath();
  if (standing === 'within') context.arc(x, y, r, 0, 2 * Math.PI);
  else {
    context.moveTo(x, y - r * up);
    context.lineTo(x + r, y + r * 0.8 * up);
    context.lineTo(x - r, y + r * 0.8 * up);
  }
  context.fill();
}

/** A clip that is too narrow to be more than this: its name's strip, its sides, its waterline and where it stands. */
export function drawSmallFace(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, measurement }: DrawnClip,
  { left, right }: Place,
  { target, height }: LaneDrawing,
  { selected }: Shown,
): void {
  const width = Math.max(1.5, right - left - 0.5);
  context.fillStyle = colour(selected ? 'text-primary' : 'sheet-band');
  context.fillRect(left, 0, width, NAME_STRIP - 1);
  if (width > 3) {
    // Filled edges are quicker than a stroked frame.
    const line = selected ? 1.5 : 1;
    context.fillStyle = colour(selected ? 'text-primary' : 'divider');
    context.fillRect(left, 0, line, height - 1);
    context.fillRect(left + width - line, 0, line, height - 1);
  }
  const level = clipLevel(measurement, clip.gain.db, target);
  if (level.relative === null) return;
  const y = waterlineY(level.relative, height);
  context.fillStyle = colour(`level-${level.standing}`);
  context.fillRect(left, y - 1, width, 2);
  if (width >= 5) drawMark(context, level.standing, [left + width / 2, y], MARK.small);
}

/** Its name, and its gain where it has one; the name stays in sight while the clip's start is not. */
function drawStrip(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, groupName }: DrawnClip,
  place: Place,
  seen: Place,
  selected: boolean,
): void {
  context.fillStyle = colour(selected ? 'text-primary' : 'sheet-band');
  context.fillRect(place.left, 0, place.right - place.left, NAME_STRIP);
  context.fillStyle = colour(selected ? 'background-paper' : 'text-primary');
  let room = seen.right - seen.left - 2 * PADDING;
  if (clip.gain.db !== 0 && room + 2 * PADDING > LEAST_FOR_GAIN) {
    const gain = gainText(clip.gain.db);
    const width = textWidth(context, gain);
    context.fillText(gain, seen.right - PADDING - width, 12.5);
    room -= width + 8;
  }
  const name = groupName === null ? clip.name : `[${groupName}] ${clip.name}`;
  context.fillText(fittedText(context, name, room), seen.left + PADDING, 12.5);
}

/** The clip's own loudness on the lane's scale: the line that one drags; or why there is none. */
function drawWaterline(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, measurement, missing }: DrawnClip,
  place: Place,
  seen: Place,
  { target, height }: LaneDrawing,
): void {
  const { relative, standing, lufs } = clipLevel(measurement, clip.gain.db, target);
  const width = seen.right - seen.left;
  if (relative === null) {
    const note = missing ? 'sound missing' : measurement ? 'no loudness' : 'measuring …';
    context.fillStyle = colour('text-secondary');
    context.fillText(fittedText(context, note, width - 2 * PADDING), seen.left + PADDING, height - 8);
    return;
  }
  const y = waterlineY(relative, height);
  context.fillStyle = colour(`level-${standing}`);
  context.fillRect(place.left, y - 1, place.right - place.left, 2);
  const x = seen.left + Math.min(12, width / 2);
  context.fillStyle = colour('background-paper');
  context.beginPath();
  context.arc(x, y, 6.5, 0, 2 * Math.PI);
  context.fill();
  context.fillStyle = colour(`level-${standing}`);
  drawMark(context, standing, [x, y], MARK.large);
  if (width <= LEAST_FOR_FIGURE || height < LEAST_HEIGHT_FOR_FIGURE) return;
  const beyond = relative > LANE_TOP_LU ? ', far over' : relative < LANE_BOTTOM_LU ? ', far under' : '';
  const text = `${figure(lufs)} LUFS (${signed(relative)} LU${beyond})`;
  const top = y + (y > height - 20 ? -19 : 3);
  context.globalAlpha = 0.94;
  context.fillStyle = colour('background-paper');
  context.beginPath();
  context.roundRect(seen.left + 26, top, textWidth(context, text) + 8, 14, 2);
  context.fill();
  context.globalAlpha = 1;
  context.fillStyle = colour('text-primary');
  context.fillText(text, seen.left + 30, top + 11);
}

/** Its outline, stronger where it is selected. */
function drawFrame(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { left, right }: Place,
  height: number,
  selected: boolean,
): void {
  const line = selected ? 2 : 1;
  context.strokeStyle = colour(selected ? 'text-primary' : 'divider');
  context.lineWidth = line;
  context.strokeRect(left + line / 2, line / 2, right - left - line, height - 1 - line);
}

/** What can be dragged of a clip that is selected or pointed at: the ends of its fades, and the edge under the pointer. */
function drawHandles(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip }: DrawnClip,
  { left, right }: Place,
  height: number,
  edge: Shown['hotEdge'],
): void {
  if (edge) {
    context.globalAlpha = 0.5;
    context.fillStyle = colour('text-secondary');
    context.fillRect(edge === 'start' ? left : right - EDGE_WIDTH, 0, EDGE_WIDTH, height);
    context.globalAlpha = 1;
  }
  context.lineWidth = 1.5;
  context.fillStyle = colour('background-paper');
  context.strokeStyle = colour('text-primary');
  for (const [, at] of fadeTabs(clip, right - left)) {
    const x = left + at - FADE_TAB.width / 2;
    context.beginPath();
    context.roundRect(x, FADE_TAB.top, FADE_TAB.width, FADE_TAB.height, [0, 0, 4, 4]);
    context.fill();
    context.stroke();
  }
}

/** What a clip says of itself, over its waveform: an element for each would cost many times as much while zooming. */
export function drawFace(
  context: CanvasRenderingContext2D,
  colour: Colours,
  drawn: DrawnClip,
  place: Place,
  lane: LaneDrawing,
  { selected, hot, hotEdge }: Shown,
): void {
  const seen = { left: Math.max(0, place.left), right: Math.min(lane.width, place.right) };
  context.font = FONT;
  context.textAlign = 'left';
  drawStrip(context, colour, drawn, place, seen, selected);
  drawWaterline(context, colour, drawn, place, seen, lane);
  drawFrame(context, colour, place, lane.height, selected);
  if (selected || hot) drawHandles(context, colour, drawn, place, lane.height, hotEdge);
}
