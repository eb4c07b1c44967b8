import type { LedgerRow } from '@/core/proposals/ledger';
import type { Id } from '@/core/programme/model';
import { standingOf } from '@/core/check/judge';
import type { Target } from '@/core/check/target';
import { levelTicks, type LevelScale } from '../../ui/levelScale';
import { drawOverMark } from '../../ui/overMarks';
import {
  LADDER_BOTTOM_LU,
  LADDER_TOP_LU,
  ladderLevels,
  SCALE_LEFT,
  SCALE_RIGHT,
  type LadderLayout,
} from './layout';
import { figure, signed } from '@/core/text/figures';

export interface LadderDrawing {
  readonly layout: LadderLayout;
  readonly target: Target;
  readonly scrollLeft: number;
  readonly width: number;
  readonly height: number;
  readonly selection: ReadonlySet<Id>;
  /** Where a proposal would put clips, clip gain in dB. */
  readonly ghosts: ReadonlyMap<Id, number>;
}

type Colours = (name: string) => string;

/** About how many lines the scale has. */
const LINES = 6;

function drawScale(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { target, width, height }: LadderDrawing,
): void {
  const levels = ladderLevels(height);
  const y = (lu: number): number => Math.round(levels(lu)) + 0.5;
  const line = (lu: number, dash: number[]): void => {
    context.setLineDash(dash);
    context.beginPath();
    context.moveTo(0, y(lu));
    context.lineTo(width, y(lu));
    context.stroke();
    context.setLineDash([]);
  };
  context.fillStyle = colour('sheet-band');
  const band = levels(target.toleranceLu);
  context.fillRect(0, band, width, Math.max(2, levels(-target.toleranceLu) - band));
  context.lineWidth = 1;
  context.strokeStyle = colour('divider');
  for (const lu of levelTicks(levels, LINES)) if (lu !== 0) line(lu, [1, 5]);
  context.strokeStyle = colour('sheet-horizon');
  line(0, [4, 3]);
  context.strokeStyle = colour('level-over');
  line(target.maxTruePeakDbtp - target.integratedLufs, [2, 4]);
}

/** The figures of the scale: LU from the target on the left; on the right LUFS, which for the caps is dBTP. */
function drawFigures(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { target, width, height }: LadderDrawing,
): void {
  const levels = ladderLevels(height);
  context.fillStyle = colour('sheet-lane');
  context.globalAlpha = 0.9;
  context.fillRect(0, 0, SCALE_LEFT, height);
  context.fillRect(width - SCALE_RIGHT, 0, SCALE_RIGHT, height);
  context.globalAlpha = 1;
  const write = (text: string, x: number, y: number, align: CanvasTextAlign): void => {
    context.textAlign = align;
    context.fillText(text, x, y);
  };
  context.fillStyle = colour('text-secondary');
  for (const lu of levelTicks(levels, LINES)) {
    const y = levels(lu) + 3.5;
    if (y < 24 || y > height - 4) continue;
    write(lu === 0 ? '0' : signed(lu, 0), SCALE_LEFT - 5, y, 'right');
    write(figure(target.integratedLufs + lu, 0), width - 5, y, 'right');
  }
  write('LU', SCALE_LEFT - 5, 11, 'right');
  write('LUFS', width - 5, 11, 'right');
  write('dBTP', width - 5, 21, 'right');
  context.textAlign = 'left';
}

/** A mark at the edge for what lies beyond it. */
function drawBeyond(
  context: CanvasRenderingContext2D,
  colour: Colours,
  { level: { relative, truePeakDbtp } }: LedgerRow,
  middle: number,
  { target, height }: LadderDrawing,
): void {
  context.fillStyle = colour('text-secondary');
  if (relative !== null && relative < LADDER_BOTTOM_LU) context.fillText('▾', middle - 3, height - 4);
  if (truePeakDbtp !== null && truePeakDbtp - target.integratedLufs > LADDER_TOP_LU)
    context.fillText('▴', middle - 3, 9);
}

function drawRow(
  context: CanvasRenderingContext2D,
  colour: Colours,
  row: LedgerRow,
  left: number,
  levels: LevelScale,
  drawing: LadderDrawing,
): void {
  const { target, ghosts } = drawing;
  const { slot } = drawing.layout;
  const { clip, measurement } = row.entry;
  const { level } = row;
  if (!measurement || level.lufs === null) return;
  const middle = left + slot / 2;
  const y = (lufs: number): number => levels(lufs - target.integratedLufs);
  const bar = Math.max(2, slot * 0.56);
  const { db } = clip.gain;
  const { range } = measurement;
  context.fillStyle = colour('sheet-wave');
  if (range) {
    const [top, bottom] = [y(range.highLufs + db), y(range.lowLufs + db)];
    context.fillRect(middle - bar / 2, top, bar, Math.max(2, bottom - top));
  }
  const peak = level.truePeakDbtp;
  const at = y(level.lufs);
  if (peak !== null) {
    const over = level.overCeiling;
    const cap = y(peak);
    context.fillStyle = colour(over ? 'level-over' : 'text-secondary');
    context.fillRect(middle - 0.5, cap, 1, Math.max(0, (range ? y(range.highLufs + db) : at) - cap));
    context.fillRect(middle - bar / 2, cap - 1, bar, 2);
    if (over) {
      context.strokeStyle = colour('level-over');
      drawOverMark(context, middle - 0.5, Math.max(1, cap - 9));
    }
  }
  const ghost = ghosts.get(clip.id);
  if (ghost !== undefined && Math.abs(ghost - db) > 0.005) {
    context.strokeStyle = colour('text-primary');
    context.setLineDash([2, 2]);
    context.strokeRect(middle - slot * 0.45, y(level.lufs + ghost - db) - 2, slot * 0.9, 4);
    context.setLineDash([]);
  }
  context.fillStyle = colour(`level-${level.standing}`);
  context.fillRect(middle - slot * 0.45, at - 1.5, slot * 0.9, 3);
  drawBeyond(context, colour, row, middle, drawing);
}

/** Each clip around the horizon: its span, its loudness, its peak, and where a proposal would put it. */
export function drawLadder(context: CanvasRenderingContext2D, colour: Colours, drawing: LadderDrawing): void {
  const { layout, scrollLeft, width, height, selection } = drawing;
  const { slot } = layout;
  const levels = ladderLevels(height);
  drawScale(context, colour, drawing);
  for (const { rows, left } of layout.groups) {
    const first = Math.max(0, Math.floor((scrollLeft - left) / slot));
    const last = Math.min(rows.length, Math.ceil((scrollLeft + width - left) / slot));
    for (let i = first; i < last; i++) {
      const row = rows[i]!;
      const x = left + i * slot - scrollLeft;
      if (selection.has(row.entry.clip.id)) {
        context.fillStyle = colour('sheet-band');
        context.globalAlpha = 0.8;
        context.fillRect(x, 0, slot, height);
        context.globalAlpha = 1;
        context.fillStyle = colour('text-primary');
        context.fillRect(x, height - 2, slot, 2);
      }
      drawRow(context, colour, row, x, levels, drawing);
    }
  }
  drawFigures(context, colour, drawing);
}

/** How many clips of each group stand at each LU: for more of them than can be told apart. */
export function drawDistribution(
  context: CanvasRenderingContext2D,
  colour: Colours,
  drawing: LadderDrawing,
): void {
  const { layout, target, width, height } = drawing;
  drawScale(context, colour, drawing);
  const levels = ladderLevels(height);
  const column = (width - SCALE_LEFT - SCALE_RIGHT) / Math.max(1, layout.groups.length);
  layout.groups.forEach(({ rows }, index) => {
    const bins = new Map<number, number>();
    for (const { level } of rows)
      if (level.relative !== null) {
        const bin = Math.max(LADDER_BOTTOM_LU, Math.round(level.relative));
        bins.set(bin, (bins.get(bin) ?? 0) + 1);
      }
    const most = Math.max(1, ...bins.values());
    const step = levels(0) - levels(1);
    for (const [lu, n] of bins) {
      context.fillStyle = colour(`level-${standingOf(lu, target.toleranceLu)}`);
      context.fillRect(
        SCALE_LEFT + index * column + 8,
        levels(lu) - step / 2,
        Math.max(2, (n / most) * (column - 44)),
        Math.max(2, step - 1),
      );
      context.fillStyle = colour('text-secondary');
      context.fillText(
        String(n),
        SCALE_LEFT + index * column + 12 + (n / most) * (column - 44),
        levels(lu) + 3,
      );
    }
  });
  drawFigures(context, colour, drawing);
}
