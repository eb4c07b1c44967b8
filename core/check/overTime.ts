import type { TimeRange } from '@/core/loudness/levelTrack';
import { runningIntegrated } from '@/core/loudness/runningIntegrated';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import type { CheckMaterial } from './findings/material';
import { speechDistances } from './findings/speech';

/** What a check tells over time, beside loudness and peaks over all channels. */
export interface OverTime {
  /** Integrated loudness of what came before, LUFS, after each second; NaN where there is none yet. */
  readonly running: Float64Array;
  /** True peak of every 100 ms by channel, linear. */
  readonly truePeak: readonly Float32Array[];
  /** How far the rest lies under speech around every 100 ms, LU; NaN where nobody speaks; empty where they are not apart. */
  readonly distances: Float32Array;
  /** When somebody speaks, seconds, in order; empty where nothing says so. */
  readonly speech: readonly TimeRange[];
}

/** Works it out. @param truePeak of every 100 ms by channel, linear */
export function overTime(material: CheckMaterial, truePeak: readonly Float32Array[]): OverTime {
  const { energy, sampleRate, apart, speech } = material;
  const distances = apart && speech ? speechDistances(apart, speech) : [];
  return {
    running: runningIntegrated(gatingBlocks(energy, sampleRate), PEAK_BLOCKS_PER_SECOND),
    truePeak: truePeak.map((channel) => channel.slice()),
    distances: Float32Array.from(distances, (distance) => distance ?? NaN),
    speech: speech ?? [],
  };
}
