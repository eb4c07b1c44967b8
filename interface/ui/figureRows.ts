/** The figures of a sound as tables list them: key, name, unit. */
export const FIGURE_ROWS = [
  ['integratedLufs', 'Integrated', 'LUFS'],
  ['maxShortTermLufs', 'Max short-term', 'LUFS'],
  ['maxMomentaryLufs', 'Max momentary', 'LUFS'],
  ['loudnessRangeLu', 'Loudness range', 'LU'],
  ['truePeakDbtp', 'True peak', 'dBTP'],
  ['samplePeakDbfs', 'Sample peak', 'dBFS'],
] as const;
