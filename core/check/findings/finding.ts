import type { Id } from '@/core/programme/model';

/** What can be found. */
const FINDING_KINDS = [
  'integrity',
  'truePeak',
  'momentary',
  'shortTerm',
  'integrated',
  'range',
  'clipped',
  'silence',
  'dropout',
  'click',
  'dc',
  'phase',
  'channel',
  'dialogue',
  'jump',
  'drift',
  'mono',
  'head',
  'tail',
  'format',
] as const;
export type FindingKind = (typeof FINDING_KINDS)[number];

/** What they are called. */
export const FINDING_NAMES: Readonly<Record<FindingKind, string>> = {
  integrity: 'Integrity',
  truePeak: 'True peak',
  momentary: 'Momentary',
  shortTerm: 'Short-term',
  integrated: 'Loudness',
  range: 'Loudness range',
  clipped: 'Clipping',
  silence: 'Silence',
  dropout: 'Drop-out',
  click: 'Click',
  dc: 'DC offset',
  phase: 'Out of phase',
  channel: 'Channel',
  dialogue: 'Dialogue sinks',
  jump: 'Level jump',
  drift: 'Level drifts',
  mono: 'Mono',
  head: 'Head',
  tail: 'Tail',
  format: 'Form',
};

/** Whether it breaks a limit of the target, or is only worth a look. */
export type Weight = 'breaks' | 'look';

/** Something to be checked, and where. */
export interface Finding {
  /** The same as long as it is the same thing at the same place, to a tenth of a second. */
  readonly id: string;
  readonly kind: FindingKind;
  /** Seconds. */
  readonly from: number;
  readonly to: number;
  /** How much of it; `null` where it has no size. */
  readonly value: number | null;
  /** What it is held against; `null` where there is no such figure. */
  readonly limit: number | null;
  /** Of both. */
  readonly unit: string;
  readonly weight: Weight;
  /** What is there, in a sentence. */
  readonly sentence: string;
  /** The clip it comes from, where that is known. */
  readonly clipId?: Id;
  /** Ids of the targets that it breaks, where it was held against several. */
  readonly targets?: readonly string[];
  /** It covers all of the sound, not a place in it. */
  readonly whole?: true;
}

/** @param about what tells it from others of its kind at its place */
export function finding(found: Omit<Finding, 'id'>, about = ''): Finding {
  const at = found.whole ? 'whole' : (Math.round(found.from * 10) / 10).toFixed(1);
  return { id: [found.kind, at, ...(about === '' ? [] : [about])].join(' '), ...found };
}

/** In order of time, what breaks a limit first where they begin together; what covers all of it comes first. */
export const inOrder = (findings: readonly Finding[]): Finding[] =>
  [...findings].sort(
    (a, b) =>
      Number(b.whole ?? false) - Number(a.whole ?? false) ||
      (a.whole ? 0 : a.from - b.from) ||
      Number(b.weight === 'breaks') - Number(a.weight === 'breaks') ||
      FINDING_KINDS.indexOf(a.kind) - FINDING_KINDS.indexOf(b.kind),
  );
