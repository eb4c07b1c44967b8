import type { OverviewLevel } from '@/core/audio/overview';

/**
 * The largest magnitude under each pixel column.
 * @param start first frame of column 0; may lie before the sound
 * @param framesPerPixel width of a column in frames
 * @param frames length of the sound; columns outside it are 0
 */
export function columnPeaks(
  level: OverviewLevel,
  start: number,
  framesPerPixel: number,
  columns: number,
  frames: number,
): Float32Array {
  const peaks = new Float32Array(columns);
  const bins = level.high.length;
  for (let x = 0; x < columns; x++) {
    const from = start + x * framesPerPixel;
    const to = from + framesPerPixel;
    if (to <= 0 || from >= frames) continue;
    const first = Math.max(0, Math.floor(from / level.framesPerBin));
    const last = Math.min(bins - 1, Math.max(first, Math.ceil(to / level.framesPerBin) - 1));
    let peak = 0;
    for (let bin = first; bin <= last; bin++) peak = Math.max(peak, level.high[bin]!, -level.low[bin]!);
    peaks[x] = peak;
  }
  return peaks;
}
