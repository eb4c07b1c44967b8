import { isPeak, UNIT } from '@/core/measuring/clipReading';
import type { LevelMeasure } from '@/core/programme/model';
import { readNumber } from '@/core/text/typedNumber';

export const MEASURE_NAMES: Readonly<Record<LevelMeasure, string>> = {
  integrated: 'Integrated',
  maxShortTerm: 'Max short-term',
  maxMomentary: 'Max momentary',
  truePeak: 'True peak',
  samplePeak: 'Sample peak',
};

/** Checks a figure someone typed; gives the number, or what is accepted. */
export function readFigure(text: string, label: string, measure: LevelMeasure): number | { error: string } {
  const max = isPeak(measure) ? 3 : 0;
  const message = `${label}: a number from −70 to ${max} ${UNIT[measure]}`;
  return readNumber(text, message, [-70, max, UNIT[measure]]);
}
