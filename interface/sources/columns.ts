import type { LoudnessFigures } from '@/core/loudness/figures';

/** The figures of a source, in the order they stand. */
export const FIGURE_COLUMNS: readonly (readonly [
  key: keyof Omit<LoudnessFigures, 'channelPeaks'>,
  title: string,
  unit: string,
])[] = [
  ['integratedLufs', 'Integrated', 'LUFS'],
  ['maxShortTermLufs', 'Max short', 'LUFS'],
  ['maxMomentaryLufs', 'Max mom.', 'LUFS'],
  ['loudnessRangeLu', 'Range', 'LU'],
  ['truePeakDbtp', 'True peak', 'dBTP'],
  ['samplePeakDbfs', 'Sample peak', 'dBFS'],
];

/** Widths of the table's columns: choose, name, waveform, length, format, the figures, clips, more. */
export const GRID = '36px minmax(150px, 1.4fr) minmax(110px, 1fr) 58px 128px repeat(6, 74px) 44px 36px';
