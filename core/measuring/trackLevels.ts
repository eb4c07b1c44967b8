import { bisector } from 'd3-array';
import { dbToAmplitude, dbToPower } from '@/core/loudness/decibels';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { clipEnd, type Clip } from '@/core/programme/model';

/** Length of a momentary window, seconds (EBU Tech 3341). */
const MOMENTARY_SECONDS = 0.4;

/** What is stored of the sound up to a time. */
export interface LevelsAt {
  /** Weighted mean square over the 400 ms that end there, on a grid of 100 ms; 0 where there is nothing. */
  readonly momentary: number;
  /** True peak of that 100 ms, linear. */
  readonly truePeak: number;
}

/**
 * The stored window that ends last before a time.
 * @param windows mean squares, one every 100 ms
 * @param length of a window, seconds
 * @param seconds from the start of the sound
 */
export function windowAt(windows: Float64Array, length: number, seconds: number): number {
  return windows[Math.floor((seconds - length) * PEAK_BLOCKS_PER_SECOND + 1e-6)] ?? 0;
}

/** The stored true peak of a time, linear. */
export function peakAt(truePeaks: Float32Array, seconds: number): number {
  return truePeaks[Math.floor(seconds * PEAK_BLOCKS_PER_SECOND + 1e-6)] ?? 0;
}

interface Sounding {
  readonly start: number;
  readonly end: number;
  readonly measurement: ClipMeasurement;
  readonly gainDb: number;
}

/** How many have begun by a frame. */
const beganBy = bisector(({ start }: Sounding) => start).right;

/**
 * What the clips of one track bring at any time, from what is stored of each. Where clips lie over each other their powers
 * are added, and their peaks: no true peak is higher.
 */
export class TrackLevels {
  /** In order of their start. */
  private readonly clips: readonly Sounding[];
  /** The latest end of all clips up to each. */
  private readonly latestEnd: readonly number[];

  /**
   * @param clips of the track
   * @param measurementOf before the clip's own gain, with all else that lies on it
   */
  constructor(
    clips: readonly Clip[],
    measurementOf: (clip: Clip) => ClipMeasurement | null,
    private readonly sampleRate: number,
  ) {
    this.clips = clips
      .flatMap((clip): Sounding[] => {
        const measurement = measurementOf(clip);
        if (!measurement) return [];
        return [{ start: clip.start, end: clipEnd(clip), measurement, gainDb: clip.gain.db }];
      })
      .sort((a, b) => a.start - b.start);
    let latest = 0;
    this.latestEnd = this.clips.map(({ end }) => (latest = Math.max(latest, end)));
  }

  /** @param frame programme frames */
  at(frame: number): LevelsAt {
    const begun = beganBy(this.clips, frame);
    let momentary = 0;
    let truePeak = 0;
    for (let i = begun - 1; i >= 0 && this.latestEnd[i]! > frame; i--) {
      const { start, end, measurement, gainDb } = this.clips[i]!;
      if (end <= frame) continue;
      const seconds = (frame - start) / this.sampleRate;
      momentary += windowAt(measurement.blocks, MOMENTARY_SECONDS, seconds) * dbToPower(gainDb);
      truePeak += peakAt(measurement.truePeaks, seconds) * dbToAmplitude(gainDb);
    }
    return { momentary, truePeak };
  }
}
