/**
 * Height of a waveform's column. It grows with the square root of the amplitude, so that quiet speech is still seen
 * beside loud; full scale reaches the top.
 */
export function waveHeight(amplitude: number, height: number): number {
  return Math.max(1, Math.sqrt(Math.min(1, amplitude)) * height);
}
