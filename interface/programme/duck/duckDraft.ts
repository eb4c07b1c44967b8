import { DUCK_NAMES, DUCK_RANGES, DUCK_TIMING, type DuckTiming } from '@/core/programme/ducking';
import type { DuckRequest } from '@/core/proposals/duck/duckProposal';
import { readDraftNumber as read } from '../../editing/DraftField';
import type { NumberRange } from '../../editing/NumberField';

/** What is asked for, as it stands in the fields. */
export interface DuckDraft {
  readonly way: DuckRequest['way'];
  readonly amount: string;
  readonly distance: string;
  /** Empty: as it is. */
  readonly alone: string;
  readonly timing: Readonly<Record<keyof DuckTiming, string>>;
}

export const TIMING_KEYS = Object.keys(DUCK_TIMING) as readonly (keyof DuckTiming)[];

export const PLAIN_DUCK: DuckDraft = {
  way: 'distance',
  amount: '12',
  distance: '18',
  alone: '',
  timing: Object.fromEntries(
    TIMING_KEYS.map((key) => [key, String(DUCK_TIMING[key])]),
  ) as DuckDraft['timing'],
};

const AMOUNT: NumberRange = { name: 'Down by', min: 0, max: 60, unit: 'dB' };
const DISTANCE: NumberRange = { name: 'Under the speech', min: 0, max: 60, unit: 'LU' };
const ALONE: NumberRange = { name: 'Alone', min: -60, max: 20, unit: 'LU' };
const timeRange = (key: keyof DuckTiming): NumberRange => ({
  ...{ name: DUCK_NAMES[key], unit: 'ms' },
  ...DUCK_RANGES[key],
});

type Read = number | { readonly error: string };

/** What was typed, field by field, and the request where all of it can be read. */
export function readDuck(draft: DuckDraft) {
  const amount = draft.way === 'amount' ? read(draft.amount, AMOUNT) : 0;
  const distance = draft.way === 'distance' ? read(draft.distance, DISTANCE) : 0;
  const aloneLu: Read | null =
    draft.way === 'amount' || draft.alone.trim() === '' ? null : read(draft.alone, ALONE);
  const timing = Object.fromEntries(
    TIMING_KEYS.map((key) => [key, read(draft.timing[key], timeRange(key))]),
  ) as Record<keyof DuckTiming, Read>;
  const fine =
    typeof amount === 'number' &&
    typeof distance === 'number' &&
    (aloneLu === null || typeof aloneLu === 'number') &&
    TIMING_KEYS.every((key) => typeof timing[key] === 'number');
  const request: DuckRequest | null = fine
    ? {
        ...{ way: draft.way, amountDb: amount, distanceLu: distance, aloneLu },
        timing: timing as Record<keyof DuckTiming, number>,
      }
    : null;
  return { amount, distance, aloneLu, timing, request };
}
