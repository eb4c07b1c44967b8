import { peakLimit } from '@/core/check/judge';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';

/** Pixels between two hollow marks, so that each stays a mark. */
const SPACING = 9;

/** Which pixel columns hold a true peak over a limit. */
interface OverSpec {
  readonly truePeaks: Float32Array;
  /** What is over it is marked. */
  readonly limitDbtp: number;
  /** First peak block of column 0; may be fractional. */
  readonly first: number;
  readonly pixelsPerSecond: number;
  readonly columns: number;
}

/** Columns for a mark: every range that is over its limit has at least one, however far one has zoomed out. */
export function overColumns({ truePeaks, limitDbtp, first, pixelsPerSecond, columns }: OverSpec): number[] {
  const limit = peakLimit(limitDbtp);
  const perColumn = PEAK_BLOCKS_PER_SECOND / pixelsPerSecond;
  const marked: number[] = [];
  for (let x = 0; x < columns; x++) {
    // A block belongs to the column that holds its middle: to exactly one, whatever the zoom.
    const begin = Math.max(0, Math.ceil(first + x * perColumn - 0.5));
    const end = Math.min(truePeaks.length, Math.ceil(first + (x + 1) * perColumn - 0.5));
    for (let k = begin; k < end; k++) {
      if (truePeaks[k]! <= limit) continue;
      if (x - (marked.at(-1) ?? -SPACING) >= SPACING) marked.push(x);
      break;
    }
  }
  return marked;
}

/** A hollow triangle: a true peak over its limit. */
export function drawOverMark(context: CanvasRenderingContext2D, x: number, top: number): void {
  context.beginPath();
  context.moveTo(x - 2.5, top + 5);
  context.lineTo(x + 0.5, top);
  context.lineTo(x + 3.5, top + 5);
  context.closePath();
  context.stroke();
}
