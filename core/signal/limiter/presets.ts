import type { Limiter } from '@/core/programme/model';

/** What a limiter can be set to. */
export const LIMITER_RANGES = {
  ceilingDbtp: { name: 'Ceiling', min: -30, max: 3, unit: 'dBTP' },
  inputDb: { name: 'Input gain', min: -36, max: 36, unit: 'dB' },
  lookAheadMs: { name: 'Look-ahead', min: 0.5, max: 10, unit: 'ms' },
  releaseMs: { name: 'Release', min: 5, max: 2_000, unit: 'ms' },
} as const;

/** What is accepted, as a sentence without its full stop. */
export function rangeMessage(key: keyof typeof LIMITER_RANGES): string {
  const { name, min, max, unit } = LIMITER_RANGES[key];
  const signed = (value: number): string => (value < 0 ? `−${-value}` : `${value}`);
  return `${name} is a number from ${signed(min)} to ${signed(max)} ${unit}`;
}

const PLAIN = { inputDb: 0, lfeApart: false, bypassed: false } as const;

/** For nearly everything: there in 3 ms, back quickly after a single peak and slowly after a loud passage. */
export const SPEECH_AND_MUSIC: Limiter = {
  ...PLAIN,
  name: 'Speech and music',
  ceilingDbtp: -1,
  lookAheadMs: 3,
  releaseMs: null,
};

/** The limiters that come with the product. */
export const SHIPPED_LIMITERS: readonly Limiter[] = [
  SPEECH_AND_MUSIC,
  { ...PLAIN, name: 'Short peaks', ceilingDbtp: -1, lookAheadMs: 1.5, releaseMs: 40 },
  { ...PLAIN, name: 'Slow and even', ceilingDbtp: -1, lookAheadMs: 5, releaseMs: 400 },
];

/** More reduction than this, or work for more of the time, is more than one would want of a limiter: dB, and part of the time. */
export const MUCH_REDUCTION_DB = 6;
export const MUCH_OF_THE_TIME = 0.1;
