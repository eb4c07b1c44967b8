import { useEffect } from 'react';
import { exactPeakMatters } from '@/core/proposals/exactPeak';
import { fileGain } from '@/core/proposals/fileGain';
import type { Target } from '@/core/check/target';
import { useExactPeak } from '../sources/details/useExactPeak';
import type { Audited } from './useAudit';

const NONE = new Float32Array(0);

/** The exact true peak of a file, dBTP, where a gain would bring it so near to the ceiling that it may matter; else `null`. */
export function useExactWhereNear(audited: Audited | null, target: Target): number | null {
  const truePeaks = audited?.measurement.truePeaks ?? NONE;
  const { peak, done, failure, start } = useExactPeak(audited?.pcm, truePeaks);
  const gain = audited && fileGain(audited.measurement, target, 'integrated');
  const wanted = gain !== null && exactPeakMatters(gain.after.truePeakDbtp, target.maxTruePeakDbtp);
  useEffect(() => {
    if (wanted && peak === null && done === null && failure === null) start();
  });
  return wanted ? (peak?.truePeakDbtp ?? null) : null;
}
