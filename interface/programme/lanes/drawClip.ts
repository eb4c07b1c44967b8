import { levelFor } from '@/core/audio/overview';
import { dbToAmplitude, meanSquareToLufs } from '@/core/loudness/decibels';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { clipEnd, type Clip, type CurvePoint, type FadeShape } from '@/core/programme/model';
import { curveDbAt, curveSections, isFaded, pointAfter, segmentOf, SILENT_DB } from '@/core/programme/curve';
import { linesOf } from '@/core/programme/segments';
import { curveAmplitude } from '@/core/signal/gainCurve';
import { fadeAt } from '@/core/programme/fadeLaw';
import { signed } from '@/core/text/figures';
import { columnPeaks } from '../../ui/columnPeaks';
import { drawReduction } from '../../ui/reductionBars';
import { drawOverMark, overColumns } from '../../ui/overMarks';
import { FULL_SCALE } from '../../ui/WaveCanvas';
import { waveHeight } from '../../ui/waveHeight';
import { clipLevel } from '@/core/check/clipLevel';
import type { Colours, LaneDrawing, Place } from './laneDrawing';
import { drawFace, drawSmallFace, type Shown } from './drawFace';
import { bodyHeight, curveY, NAME_STRIP, yOf } from './laneScale';
import { pointsOf } from '../../session/state';
import { isSmall, type DrawnClip } from './useVisible';

/** The fades as they rise from and fall to silence, from the foot of the lane to under the clip's name. */
function drawFades(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { fadeIn, fadeOut, fadeInShape, fadeOutShape }: Clip,
  { left, right }: Place,
  pixelsPerFrame: number,
  height: number,
): void {
  const draw = (from: number, frames: number, shape: FadeShape, direction: 1 | -1): void => {
    const length = frames * pixelsPerFrame;
    if (length < 2) return;
    context.beginPath();
    for (let part = 0; part <= 1; part += 1 / 16) {
      const y = height - fadeAt(part, shape) * (height - NAME_STRIP);
      if (part === 0) context.moveTo(from, y);
      else context.lineTo(from + direction * part * length, y);
    }
    context.stroke();
  };
  context.strokeStyle = colour('text-secondary');
  context.lineWidth = 1;
  draw(left, fadeIn, fadeInShape, 1);
  draw(right, fadeOut, fadeOutShape, -1);
}

/** A section narrower than this has no room for its figure, pixels. */
const FIGURE_WIDTH = 44;

/** Where a curve bends between two places: its points, and within eased segments some more. */
export function placesOf(curve: readonly CurvePoint[], from: number, to: number): number[] {
  const places: number[] = [];
  for (let i = Math.max(0, pointAfter(curve, from) - 1); i < curve.length && curve[i]!.at < to; i++) {
    const [point, next] = [curve[i]!, curve[i + 1]];
    places.push(point.at, ...(next ? linesOf(segmentOf(point, next)) : []));
  }
  return places.filter((at) => at > from && at < to);
}

/** Points nearer to each other than this are not all drawn, pixels. */
const POINT_PIXELS = 3;

/** The points of a selected clip's curve: what one drags. */
function drawPoints(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, measurement }: DrawnClip,
  { left, right }: Place,
  { target, sampleRate, pixelsPerSecond, width, height, points }: LaneDrawing,
): void {
  const { relative } = clipLevel(measurement, clip.gain.db, target);
  const places = pointsOf(points, { kind: 'clip', id: clip.id });
  let last = -Infinity;
  context.lineWidth = 1.5;
  context.strokeStyle = colour('text-primary');
  for (const { at, db } of clip.curve) {
    const x = left + ((at - clip.sourceStart) * pixelsPerSecond) / sampleRate;
    if (x < Math.max(-4, left - 1) || x > Math.min(width + 4, right + 1) || x - last < POINT_PIXELS) continue;
    last = x;
    const selected = places?.has(at) ?? false;
    context.fillStyle = colour(selected ? 'text-primary' : 'background-paper');
    context.beginPath();
    context.arc(x, curveY(relative, db, height), selected ? 5 : 4, 0, 2 * Math.PI);
    context.fill();
    context.stroke();
  }
}

/** Where the gain over time takes the loudness: the waterline, bent over each section, with how far. */
function drawCurve(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, measurement }: DrawnClip,
  { left }: Place,
  { target, sampleRate, pixelsPerSecond, width, height }: LaneDrawing,
): void {
  if (clip.curve.length === 0) return;
  const { relative, standing } = clipLevel(measurement, clip.gain.db, target);
  const y = (db: number): number => curveY(relative, db, height);
  const x = (at: number): number => left + ((at - clip.sourceStart) * pixelsPerSecond) / sampleRate;
  context.strokeStyle = colour(`level-${standing}`);
  context.lineWidth = 2;
  context.font = '600 11px Inter Variable, sans-serif';
  context.textAlign = 'center';
  for (const section of curveSections(clip)) {
    const { from, to, db } = section;
    if (x(to) < 0 || x(from) > width) continue;
    context.fillStyle = colour('text-primary');
    context.globalAlpha = 0.06;
    context.fillRect(x(from), NAME_STRIP, x(to) - x(from), height - NAME_STRIP);
    context.globalAlpha = 1;
    context.beginPath();
    context.moveTo(x(from), y(curveDbAt(clip.curve, from)));
    for (const at of placesOf(clip.curve, from, to)) context.lineTo(x(at), y(curveDbAt(clip.curve, at)));
    context.lineTo(x(to), y(curveDbAt(clip.curve, to)));
    context.stroke();
    if (x(to) - x(from) < FIGURE_WIDTH) continue;
    const at = y(db);
    context.fillText(
      isFaded(clip.curve, section) ? 'faded' : db <= SILENT_DB ? 'silent' : signed(db),
      (x(from) + x(to)) / 2,
      at > height - 18 ? at - 5 : at + 13,
    );
  }
}

/** Momentary loudness on the lane's own scale, each window drawn at its middle. */
function drawLoudness(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, measurement }: DrawnClip,
  { left, right }: Place,
  { target, pixelsPerSecond, width, height }: LaneDrawing,
): void {
  if (!measurement) return;
  const { blocks } = measurement;
  const step = pixelsPerSecond / PEAK_BLOCKS_PER_SECOND;
  const perPixel = Math.max(1, Math.floor(1 / step));
  const x = (k: number): number => left + k * step + 0.2 * pixelsPerSecond;
  const first = Math.max(0, Math.floor((-left / pixelsPerSecond - 0.4) * PEAK_BLOCKS_PER_SECOND));
  const last = Math.min(blocks.length, Math.ceil((width - left) / step));
  context.beginPath();
  let drawing = false;
  for (let k = first; k < last && x(k) < right; k += perPixel) {
    let loudest = 0;
    for (let j = k; j < Math.min(last, k + perPixel); j++) loudest = Math.max(loudest, blocks[j]!);
    const lufs = meanSquareToLufs(loudest);
    if (lufs === null) {
      drawing = false;
      continue;
    }
    const y = NAME_STRIP + yOf(lufs + clip.gain.db - target.integratedLufs, bodyHeight(height));
    if (drawing) context.lineTo(x(k), y);
    else context.moveTo(x(k), y);
    drawing = true;
  }
  context.strokeStyle = colour('text-primary');
  context.globalAlpha = 0.7;
  context.lineWidth = 1;
  context.stroke();
  context.globalAlpha = 1;
}

function drawWave(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, source, overview, totalDb, measurement }: DrawnClip,
  { left }: Place,
  columns: { readonly from: number; readonly to: number },
  { sampleRate, pixelsPerSecond, height, target, mirrored }: LaneDrawing,
): void {
  if (!source || !overview) return;
  const { from, to } = columns;
  const whole = dbToAmplitude(totalDb);
  const framesPerPixel = source.sampleRate / pixelsPerSecond;
  const offset = (clip.sourceStart / sampleRate) * source.sampleRate + (from - left) * framesPerPixel;
  const level = levelFor(overview.overview, framesPerPixel);
  const peaks = columnPeaks(level, offset, framesPerPixel, to - from, source.frames);
  const { curve } = clip;
  const first = clip.sourceStart + ((from - left) * sampleRate) / pixelsPerSecond;
  const perPixel = sampleRate / pixelsPerSecond;
  const sounding =
    curve.length === 0
      ? peaks.map((peak) => peak * whole)
      : peaks.map((peak, i) => peak * whole * curveAmplitude(curveDbAt(curve, first + (i + 0.5) * perPixel)));
  const room = bodyHeight(height) - 8;
  context.fillStyle = colour('sheet-wave');
  for (let i = 0; i < peaks.length; i++) {
    const h = waveHeight(sounding[i]!, room);
    context.fillRect(from + i, mirrored ? height - (room + h) / 2 : height - h, 1, h);
  }
  context.fillStyle = colour('level-over');
  for (let i = 0; i < peaks.length; i++) {
    // Recorded at full scale already, or brought past it by the gain: samples are lost or would be.
    if (peaks[i]! >= FULL_SCALE || sounding[i]! > 1) context.fillRect(from + i - 0.5, NAME_STRIP + 1, 2, 6);
  }
  if (!measurement) return;
  context.strokeStyle = colour('level-over');
  context.lineWidth = 1;
  const spec = {
    truePeaks: measurement.truePeaks,
    limitDbtp: target.maxTruePeakDbtp - clip.gain.db,
    first: ((from - left) / pixelsPerSecond) * PEAK_BLOCKS_PER_SECOND,
    pixelsPerSecond,
    columns: to - from,
  };
  for (const column of overColumns(spec)) drawOverMark(context, from + column, NAME_STRIP + 8.5);
}

/** The strip that says when somebody speaks: its height, and how far it lies over the foot of the clip, pixels. */
export const SPEECH_STRIP = 3;
export const SPEECH_FOOT = 4;

/** When somebody speaks, along the foot of the clip, where it is known. */
function drawSpeech(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip, source }: DrawnClip,
  { left, right }: Place,
  { sampleRate, pixelsPerSecond, width, height }: LaneDrawing,
  selected: boolean,
): void {
  if (!source?.speech) return;
  context.fillStyle = colour('text-primary');
  const zero = left - (clip.sourceStart / sampleRate) * pixelsPerSecond;
  const edge = (x: number): number => Math.max(0, left, Math.min(width, right, x));
  for (const { from, to } of source.speech.ranges) {
    const [a, b] = [edge(zero + from * pixelsPerSecond), edge(zero + to * pixelsPerSecond)];
    if (b <= a) continue;
    const top = height - SPEECH_STRIP - SPEECH_FOOT;
    context.fillRect(a, top, Math.max(1, b - a), SPEECH_STRIP);
    // Edges that can be dragged.
    if (selected) for (const x of [a, b - 2]) context.fillRect(x, top - 3, 2, SPEECH_STRIP + 6);
  }
}

/** What the limiter of a clip takes off, under its name. */
function drawClipReduction(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { clip }: DrawnClip,
  { sampleRate, pixelsPerSecond, scrollLeft, width, reductions }: LaneDrawing,
): void {
  const track = reductions?.get(clip.id);
  if (!track) return;
  const seen = [scrollLeft / pixelsPerSecond, (scrollLeft + width) / pixelsPerSecond] as const;
  const own = [clip.start / sampleRate, clipEnd(clip) / sampleRate] as const;
  const range = [Math.max(seen[0], own[0]), Math.min(seen[1], own[1])] as const;
  drawReduction(context, colour, track, (at) => at * pixelsPerSecond - scrollLeft, range, NAME_STRIP);
}

/** Draws one clip's part of a lane: waveform, overs, fades, its name and waterline, and if asked its loudness. */
export function drawClip(
  context: CanvasRenderingContext2D,
  colour: Colours,
  drawn: DrawnClip,
  lane: LaneDrawing,
  shown: Shown,
): void {
  const { clip } = drawn;
  const { selected } = shown;
  const pixelsPerFrame = lane.pixelsPerSecond / lane.sampleRate;
  const left = clip.start * pixelsPerFrame - lane.scrollLeft;
  const place = { left, right: left + clip.length * pixelsPerFrame };
  const columns = {
    from: Math.max(0, Math.floor(left)),
    to: Math.min(Math.ceil(lane.width), Math.ceil(place.right)),
  };
  if (columns.to <= columns.from) return;
  drawWave(context, colour, drawn, place, columns, lane);
  if (isSmall(clip, pixelsPerFrame)) return drawSmallFace(context, colour, drawn, place, lane, shown);
  if (lane.loudness) drawLoudness(context, colour, drawn, place, lane);
  drawCurve(context, colour, drawn, place, lane);
  drawFades(context, colour, clip, place, pixelsPerFrame, lane.height);
  drawFace(context, colour, drawn, place, lane, shown);
  if (selected && clip.curve.length > 0) drawPoints(context, colour, drawn, place, lane);
  drawSpeech(context, colour, drawn, place, lane, selected);
  drawClipReduction(context, colour, drawn, lane);
}
