import { number } from 'yup';
import { isPeak, UNIT } from '@/core/measuring/clipReading';
import type { LevelMeasure } from '@/core/programme/model';

export const MEASURE_NAMES: Readonly<Record<LevelMeasure, string>> = {
  integrated: 'Integrated',
  maxShortTerm: 'Max short-term',
  maxMomentary: 'Max momentary',
  truePeak: 'True peak',
  samplePeak: 'Sample peak',
};

/** A number someone typed, with a true minus or a decimal comma if they like. @param message what is accepted */
export function readNumber(
  text: string,
  message: string,
  min: number,
  max: number,
): number | { error: string } {
  try {
    return number()
      .typeError(message)
      .required(message)
      .min(min, message)
      .max(max, message)
      .validateSync(text.trim().replace('−', '-').replace(',', '.'));
  } catch (error) {
    return { error: (error as Error).message };
  }
}

/** Checks a figure someone typed; gives the number, or what is accepted. */
export function readFigure(text: string, label: string, measure: LevelMeasure): number | { error: string } {
  const max = isPeak(measure) ? 3 : 0;
  const message = `${label}: a number from −70 to ${max} ${UNIT[measure]}`;
  return readNumber(text, message, -70, max);
}
