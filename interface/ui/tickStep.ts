const TICK_STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600];
const TICK_PIXELS = 72;

/** Seconds between two labels of the ruler. */
export function tickStep(pixelsPerSecond: number): number {
  return TICK_STEPS.find((step) => step * pixelsPerSecond >= TICK_PIXELS) ?? 7200;
}
