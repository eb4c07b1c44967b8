import type { Limiter } from '@/core/programme/model';

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
