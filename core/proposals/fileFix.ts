import type { Finding, FindingKind, Weight } from '@/core/check/findings/finding';
import { REMEDIES } from '@/core/check/findings/remedy';
import type { Mend } from './fileGain';

/** What mends a finding of a file. */
export interface FixReport {
  /** On all of the file, dB; `null` where no gain mends it. */
  readonly gainDb: number | null;
  readonly sentence: string;
}

/** A finding of a file as data. */
export interface FindingReport {
  readonly kind: FindingKind;
  /** Seconds. */
  readonly from: number;
  readonly to: number;
  readonly value: number | null;
  readonly limit: number | null;
  readonly weight: Weight;
  readonly sentence: string;
  /** Ids of the targets that it breaks; `null` where it is the same for all that were asked for. */
  readonly targets: readonly string[] | null;
  readonly fix: FixReport | null;
}

/** Kinds that a gain on all of a file may mend. */
const BY_GAIN: readonly FindingKind[] = ['truePeak', 'momentary', 'shortTerm', 'integrated'];

/** The gain that mends a file for each target, by the target's id. */
export type Mends = Readonly<Record<string, Mend>>;

/**
 * What mends a finding of a file that was held against targets.
 * @param lead id of the target that rules where the finding names none
 */
export function fixOf(finding: Finding, mends: Mends, lead: string): FixReport | null {
  const mend = mends[finding.targets?.[0] ?? lead]!;
  const remedy = REMEDIES[finding.kind];
  if (BY_GAIN.includes(finding.kind) && (mend.kind === 'gain' || mend.kind === 'cannot'))
    return { gainDb: mend.kind === 'gain' ? mend.gainDb : null, sentence: mend.sentence };
  if (remedy) return { gainDb: null, sentence: remedy };
  if (finding.kind === 'click')
    return { gainDb: null, sentence: 'A short fade or crossfade in the edit mends it.' };
  return { gainDb: null, sentence: 'Mend it in the programme, where clips have gains of their own.' };
}
