import { DUCK_TIMING, type DuckTiming } from './ducking';

/** What is levelled by a plan: the roles, music by whether somebody speaks over it. */
export const PLAN_PARTS = [
  'dialogue',
  'narration',
  'musicUnder',
  'musicAlone',
  'effects',
  'ambience',
] as const;
export type PlanPart = (typeof PLAN_PARTS)[number];

/** What the parts are called. */
export const PLAN_PART_NAMES: Readonly<Record<PlanPart, string>> = {
  dialogue: 'Dialogue',
  narration: 'Narration',
  musicUnder: 'Music under speech',
  musicAlone: 'Music alone',
  effects: 'Effects',
  ambience: 'Ambience',
};

/** Where a part belongs. */
export interface PlanLevel {
  /** LU relative to the target. */
  readonly relativeLu: number;
  readonly measure: 'integrated' | 'maxShortTerm' | 'maxMomentary';
  /** Each clip by itself, or all that come from one source together, so that a recording keeps its balance. */
  readonly how: 'each' | 'source';
  /** True peak that no clip of it may pass, dBTP; `null`: the target's. */
  readonly ceilingDbtp: number | null;
}

/** A level for every part; a part without one is left alone. */
export interface Plan {
  readonly name: string;
  readonly levels: Readonly<Record<PlanPart, PlanLevel | null>>;
  /** How music that is partly under speech goes from one level to the other; as usual where it is left out. */
  readonly ducking?: DuckTiming;
}

/** How music goes from one level of a plan to the other. */
export const duckTimingOf = ({ ducking }: Plan): DuckTiming => ducking ?? DUCK_TIMING;

const at = (relativeLu: number, how: PlanLevel['how'] = 'each'): PlanLevel => ({
  relativeLu,
  measure: 'integrated',
  how,
  ceilingDbtp: null,
});

/** Speech at the target, music well under it, the rest around it. */
export const SPEECH_FIRST: Plan = {
  name: 'Speech first',
  levels: {
    dialogue: at(0),
    narration: at(0),
    musicUnder: at(-18),
    musicAlone: at(-4),
    effects: at(-4),
    ambience: at(-20, 'source'),
  },
  ducking: DUCK_TIMING,
};
