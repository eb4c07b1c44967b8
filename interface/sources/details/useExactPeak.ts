import { useEffect, useRef, useState } from 'react';
import type { ExactPeak } from '@/core/loudness/exactTruePeak';
import type { Failure } from '@/engine/protocol';
import { measurePool } from '@/engine/measurePool';

/** Found peaks by the measurement they belong to, so that a row that is closed and opened again still has them. */
const found = new WeakMap<Float32Array, ExactPeak>();

/** The exact true peak of a source, worked out when asked for. */
export function useExactPeak(blob: Blob | undefined, truePeaks: Float32Array) {
  const [worked, setWorked] = useState<{ readonly of: Float32Array; readonly peak: ExactPeak } | null>(null);
  const peak = worked?.of === truePeaks ? worked.peak : (found.get(truePeaks) ?? null);
  const [failure, setFailure] = useState<Failure | null>(null);
  /** 0 to 1; `null` while nothing runs. */
  const [done, setDone] = useState<number | null>(null);
  const controller = useRef<AbortController | null>(null);
  useEffect(() => () => controller.current?.abort(), []);
  const start = async (): Promise<void> => {
    if (!blob) return;
    const own = new AbortController();
    controller.current = own;
    setDone(0);
    setFailure(null);
    const outcome = await measurePool().exactPeak(blob, truePeaks, own.signal, setDone);
    if ('ok' in outcome) found.set(truePeaks, outcome.ok);
    if (controller.current !== own) return;
    setDone(null);
    if ('ok' in outcome) setWorked({ of: truePeaks, peak: outcome.ok });
    else if ('failure' in outcome) setFailure(outcome.failure);
  };
  return { peak, failure, done, start: () => void start(), cancel: () => controller.current?.abort() };
}
