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
  readonly fix: FixReport | null;
}

/** Kinds that a gain on all of a file may mend. */
const BY_GAIN: readonly FindingKind[] = ['truePeak', 'momentary', 'shortTerm', 'integrated'];

/** What mends a finding of a file that was held against a target. @param mend the gain for that target */
export function fixOf(finding: Finding, mend: Mend): FixReport | null {
  const remedy = REMEDIES[finding.kind];
  if (BY_GAIN.includes(finding.kind) && (mend.kind === 'gain' || mend.kind === 'cannot'))
    return { gainDb: mend.kind === 'gain' ? mend.gainDb : null, sentence: mend.sentence };
  if (remedy) return { gainDb: null, sentence: remedy };
  if (finding.kind === 'click')
    return { gainDb: null, sentence: 'A short fade or crossfade in the edit mends it.' };
  return { gainDb: null, sentence: 'Mend it in the programme, where clips have gains of their own.' };
}
