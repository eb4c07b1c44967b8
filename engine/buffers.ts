import type { SliceMeasurement } from '@/core/loudness/measureReader';
import { signalArrays } from '@/core/loudness/signalBlocks';

/** What lies under arrays, each once: what is handed over to another thread rather than copied. */
export function buffersOf(arrays: readonly { readonly buffer: ArrayBufferLike }[]): ArrayBuffer[] {
  return [...new Set(arrays.map(({ buffer }) => buffer as ArrayBuffer))];
}

export function sliceBuffers({
  energy,
  samplePeak,
  truePeak,
  overview,
  scan,
}: SliceMeasurement): ArrayBuffer[] {
  return buffersOf([
    ...energy,
    ...samplePeak,
    ...truePeak,
    overview.low,
    overview.high,
    ...signalArrays(scan.blocks),
  ]);
}
