import { dbToPower } from '@/core/loudness/decibels';
import { integrated } from '@/core/loudness/gating';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { BLOCK_SECONDS, HOPS_PER_SECOND } from '@/core/measuring/clipReading';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { Clip } from '@/core/programme/model';

/** A clip as it is heard: what is measured of it, and the gain on that. */
export interface HeardClip {
  readonly clip: Clip;
  readonly measurement: ClipMeasurement;
  readonly gainDb: number;
}

/** The gating blocks of some clips together, by the time at which each begins: one every 100 ms of the programme. */
export class Together {
  private readonly power: Float64Array;

  /** Their energies are summed: sounds of several clips are taken not to be alike. @param seconds length of the programme */
  constructor(clips: readonly HeardClip[], sampleRate: number, seconds: number) {
    this.power = new Float64Array(Math.ceil(seconds * HOPS_PER_SECOND) + 1);
    for (const { clip, measurement, gainDb } of clips) {
      const gain = dbToPower(gainDb);
      const first = Math.round((clip.start / sampleRate) * HOPS_PER_SECOND);
      measurement.blocks.forEach((z, k) => {
        if (first + k < this.power.length) this.power[first + k]! += z * gain;
      });
    }
  }

  /** Loudness of what lies within ranges, gated, LUFS; `null` where there is none. A shorter range counts by the block around it. */
  within(ranges: readonly TimeRange[]): number | null {
    return integrated(
      Float64Array.from(ranges.flatMap((range) => blocksIn(range).map((k) => this.power[k] ?? 0))),
    ).integratedLufs;
  }
}

/** Which blocks, counted from the start of the time that a range is in, lie within it. */
export function blocksIn({ from, to }: TimeRange): number[] {
  const first = Math.max(0, Math.ceil(from * HOPS_PER_SECOND - 1e-6));
  const last = Math.floor((to - BLOCK_SECONDS) * HOPS_PER_SECOND + 1e-6);
  if (last < first) return [Math.max(0, Math.round(((from + to - BLOCK_SECONDS) / 2) * HOPS_PER_SECOND))];
  return Array.from({ length: last - first + 1 }, (_, i) => first + i);
}
