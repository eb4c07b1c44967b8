import { readNumber } from '@/core/text/typedNumber';

/** The gain one clip can have, dB. */
export const MIN_CLIP_GAIN_DB = -72;
export const MAX_CLIP_GAIN_DB = 48;
/** The furthest a track's gain goes up or down, dB. */
const MAX_TRACK_GAIN_DB = 48;
/** The furthest a group's gain goes up or down, dB. */
export const MAX_GROUP_GAIN_DB = 48;
/** The furthest a source's trim goes up or down, dB. */
export const MAX_TRIM_DB = 36;

/** A gain within what a clip can have. */
export function clampGain(db: number): number {
  return Math.min(MAX_CLIP_GAIN_DB, Math.max(MIN_CLIP_GAIN_DB, db));
}

/** What was typed: a value for every chosen clip, or a change of every one. */
export type GainEntry =
  { readonly kind: 'set'; readonly db: number } | { readonly kind: 'change'; readonly db: number };

const CHANGE_MESSAGE = 'A change is a number from 0 to 120 dB after += or −=';

/** A gain that can be typed: what it is called, and how far it goes, dB. */
export interface GainRange {
  readonly name: string;
  readonly min: number;
  readonly max: number;
}

export const CLIP_GAIN: GainRange = { name: 'Clip gain', min: MIN_CLIP_GAIN_DB, max: MAX_CLIP_GAIN_DB };
export const TRACK_GAIN: GainRange = {
  name: 'Track gain',
  min: -MAX_TRACK_GAIN_DB,
  max: MAX_TRACK_GAIN_DB,
};
export const CHANNEL_GAIN: GainRange = { name: 'Channel gain', min: -36, max: 36 };
export const GROUP_GAIN: GainRange = { name: 'Group gain', min: -MAX_GROUP_GAIN_DB, max: MAX_GROUP_GAIN_DB };
export const PART_GAIN: GainRange = { name: 'Gain of the part', min: -72, max: 48 };
/** Of a file that is written anew. */
export const FILE_GAIN: GainRange = { ...CLIP_GAIN, name: 'Gain' };
export const SOURCE_TRIM: GainRange = { name: 'Trim', min: -MAX_TRIM_DB, max: MAX_TRIM_DB };

/**
 * Reads a gain field: `-6` is the value, `+=3` and `-=2` are changes. A true minus sign, a decimal comma and a
 * trailing “dB” are understood.
 * @returns what was meant, or a sentence that says what is accepted
 */
export function parseGainEntry(
  text: string,
  range: GainRange = CLIP_GAIN,
): GainEntry | { readonly error: string } {
  const plain = text.trim().replaceAll('−', '-');
  const change = /^([+-])=\s*(.*)$/.exec(plain);
  if (change) {
    const amount = readNumber(change[2]!, CHANGE_MESSAGE, [0, 120, 'dB']);
    return typeof amount === 'number' ? { kind: 'change', db: change[1] === '-' ? -amount : amount } : amount;
  }
  const { name, min, max } = range;
  const message = `${name} is a number from −${-min} to +${max} dB; write += or −= before it to change by that much`;
  const db = readNumber(plain, message, [min, max, 'dB']);
  return typeof db === 'number' ? { kind: 'set', db } : db;
}
