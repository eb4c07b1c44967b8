import { PLAIN_EVEN, type EvenRequest } from '@/core/proposals/evenOut';
import { readDraftNumber, type DraftValue } from '../../editing/DraftField';
import type { NumberRange } from '../../editing/NumberField';

export type EvenKey = 'goal' | 'maxShortTerm' | 'maxRange' | 'range' | 'speed' | 'pause' | 'floor';

/** What is typed of how clips are to be evened out. */
interface Field extends NumberRange {
  readonly label: string;
  readonly width: number;
  readonly placeholder?: string;
}

export const EVEN_FIELDS: Readonly<Record<EvenKey, Field>> = {
  goal: {
    ...{ label: 'Level (LUFS)', name: 'Level', min: -60, max: 0, unit: 'LUFS', width: 130 },
    placeholder: 'its own',
  },
  maxShortTerm: { label: 'At most (LUFS)', name: 'At most', min: -60, max: 0, unit: 'LUFS', width: 120 },
  maxRange: { label: 'At most (LU)', name: 'At most', min: 0, max: 40, unit: 'LU', width: 120 },
  range: { label: 'Up or down by (dB)', name: 'Up or down by', min: 0.5, max: 40, unit: 'dB', width: 140 },
  speed: { label: 'dB a second', name: 'dB a second', min: 0.1, max: 30, unit: 'dB', width: 110 },
  pause: { label: 'Pause: LU under it', name: 'Pause', min: 3, max: 60, unit: 'LU', width: 140 },
  floor: {
    label: 'Pauses at most (LUFS)',
    name: 'Pauses at most',
    min: -90,
    max: -10,
    unit: 'LUFS',
    width: 160,
  },
};

export type EvenDraft = Readonly<Record<EvenKey, string>> & { readonly way: EvenRequest['way'] };

const text = (value: number): string => String(value).replace('-', '−');

export const PLAIN_EVEN_DRAFT: EvenDraft = {
  way: PLAIN_EVEN.way,
  goal: '',
  maxShortTerm: text(PLAIN_EVEN.maxShortTermLufs),
  maxRange: text(PLAIN_EVEN.maxRangeLu),
  range: text(PLAIN_EVEN.rangeDb),
  speed: text(PLAIN_EVEN.dbPerSecond),
  pause: text(PLAIN_EVEN.pauseLu),
  floor: text(PLAIN_EVEN.floorLufs),
};

/** What was typed, field by field, and the request where all of what is asked can be read. */
export function readEven(draft: EvenDraft): {
  readonly values: Readonly<Record<EvenKey, DraftValue>>;
  readonly request: EvenRequest | null;
} {
  const read = (key: EvenKey): DraftValue =>
    key === 'goal' && draft.goal.trim() === '' ? null : readDraftNumber(draft[key], EVEN_FIELDS[key]);
  const values = Object.fromEntries(
    (Object.keys(EVEN_FIELDS) as EvenKey[]).map((key) => [key, read(key)]),
  ) as Record<EvenKey, DraftValue>;
  const number = (key: EvenKey): number => values[key] as number;
  if (Object.values(values).some((value) => value !== null && typeof value !== 'number'))
    return { values, request: null };
  return {
    values,
    request: {
      way: draft.way,
      goalLufs: values.goal as number | null,
      maxShortTermLufs: number('maxShortTerm'),
      maxRangeLu: number('maxRange'),
      rangeDb: number('range'),
      dbPerSecond: number('speed'),
      pauseLu: number('pause'),
      floorLufs: number('floor'),
    },
  };
}
