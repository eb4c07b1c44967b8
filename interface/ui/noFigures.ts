import type { LoudnessFigures } from '@/core/loudness/figures';

/** What stands before anything is measured. */
export const NO_FIGURES: LoudnessFigures = {
  integratedLufs: null,
  relativeGateLufs: null,
  maxMomentaryLufs: null,
  maxShortTermLufs: null,
  loudnessRangeLu: null,
  truePeakDbtp: null,
  samplePeakDbfs: null,
  channelPeaks: [],
};
