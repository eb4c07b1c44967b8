/** How sound steps aside under speech, ms. */
export interface DuckTiming {
  /** How long before the first word it begins to go down. */
  readonly lookAheadMs: number;
  /** How long it takes to go down. */
  readonly attackMs: number;
  /** How long it stays down after the last word. */
  readonly holdMs: number;
  /** How long it takes to come back up. */
  readonly releaseMs: number;
  /** A pause shorter than this does not bring it up. */
  readonly bridgeMs: number;
}

/** What is used where nothing else is said: down before the first word, slowly up after the last. */
export const DUCK_TIMING: DuckTiming = {
  lookAheadMs: 600,
  attackMs: 500,
  holdMs: 400,
  releaseMs: 1_500,
  bridgeMs: 2_500,
};

/** How far each of them goes, ms. */
export const DUCK_RANGES: Readonly<Record<keyof DuckTiming, { readonly min: number; readonly max: number }>> =
  {
    lookAheadMs: { min: 0, max: 10_000 },
    attackMs: { min: 5, max: 10_000 },
    holdMs: { min: 0, max: 10_000 },
    releaseMs: { min: 5, max: 30_000 },
    bridgeMs: { min: 0, max: 60_000 },
  };

/** What they are called. */
export const DUCK_NAMES: Readonly<Record<keyof DuckTiming, string>> = {
  lookAheadMs: 'Look-ahead',
  attackMs: 'Attack',
  holdMs: 'Hold',
  releaseMs: 'Release',
  bridgeMs: 'Bridge pauses under',
};
