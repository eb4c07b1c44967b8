import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import type { ReductionTrack } from '@/core/measuring/reductions';
import { figure } from '@/core/text/figures';

/** CSS pixels that a decibel of reduction hangs down, and how far it hangs at most. */
const PER_DB = 3;
const MOST = 26;
/** Less than this is not counted as work, dB. */
const AT_WORK_DB = 0.1;

/** The first of a limiter's blocks that begins at or after a place. */
function firstFrom({ blocks }: ReductionTrack, block: number): number {
  let [low, high] = [0, blocks.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (blocks[middle]! < block) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * What a limiter takes off, hanging down from a line: 3 pixels a decibel, with the most in sight as a figure.
 * @param x where a time lies, pixels, and from which to which time is drawn, seconds
 */
export function drawReduction(
  context: CanvasRenderingContext2D,
  colour: (name: string) => string,
  track: ReductionTrack,
  x: (seconds: number) => number,
  [from, to]: readonly [from: number, to: number],
  top: number,
): void {
  let most = 0;
  let at = 0;
  context.fillStyle = colour('primary-main');
  for (let i = firstFrom(track, Math.floor(from * PEAK_BLOCKS_PER_SECOND)); i < track.blocks.length; i++) {
    const seconds = track.blocks[i]! / PEAK_BLOCKS_PER_SECOND;
    if (seconds > to) break;
    const db = track.db[i]!;
    const left = x(seconds);
    const width = Math.max(1, x(seconds + 1 / PEAK_BLOCKS_PER_SECOND) - left);
    context.fillRect(left, top, width, Math.min(MOST, Math.max(1, db * PER_DB)));
    if (db <= most) continue;
    most = db;
    at = left;
  }
  if (most < AT_WORK_DB) return;
  const text = `limiter −${figure(most)} dB`;
  context.font = '600 10.5px Inter Variable, sans-serif';
  context.textAlign = 'left';
  const { width } = context.measureText(text);
  const room = context.canvas.clientWidth || Infinity;
  const left = at + 6 + width > room ? at - width - 6 : at + 6;
  context.fillStyle = colour('background-paper');
  context.globalAlpha = 0.85;
  context.fillRect(left - 2, top + 1, width + 4, 13);
  context.globalAlpha = 1;
  context.fillStyle = colour('text-primary');
  context.fillText(text, left, top + 11);
}

/** How hard a limiter works, in words. @param place how a time is told, seconds @param seconds how long the sound is that it works on */
export function reductionWords(
  track: ReductionTrack | undefined,
  place: (seconds: number) => string,
  seconds: number,
): string {
  let [most, at, working] = [0, 0, 0];
  track?.db.forEach((db, i) => {
    if (db >= AT_WORK_DB) working++;
    if (db <= most) return;
    most = db;
    at = track.blocks[i]! / PEAK_BLOCKS_PER_SECOND;
  });
  if (most < AT_WORK_DB) return 'It has nothing to do.';
  const part = Math.min(1, working / PEAK_BLOCKS_PER_SECOND / Math.max(seconds, 1 / PEAK_BLOCKS_PER_SECOND));
  const percent = part >= 0.095 ? Math.round(part * 100) : figure(part * 100);
  return `Up to −${figure(most)} dB at ${place(at)}; it works for ${percent} % of the time.`;
}
