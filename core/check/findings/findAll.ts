import type { Target } from '../target';
import { verdictOf, type Judged, type Verdict } from '../verdict';
import { jumps, drifts } from './course';
import { clicksIn, clippings, holes, offsets } from './faults';
import { inOrder, type Finding } from './finding';
import { integrityFaults } from './integrity';
import { missedFigures, overLimits, wrongForm } from './loud';
import type { CheckMaterial } from './material';
import { dualMono, oneSided, onlyMono, outOfPhase, wrongChannels } from './sides';
import { silenceFigures, silences } from './silence';
import { dialogueFigures, sinkingDialogue } from './speech';
import type { Thresholds } from './thresholds';

/** All figures that a target can be held against. */
export const judgedOf = (material: CheckMaterial): Judged => ({
  ...material.figures,
  spoken: dialogueFigures(material),
  silence: silenceFigures(material),
  form: material.form,
  integrity: material.integrity,
});

/** What is found in a sound whatever its target. */
export const plainFindings = (material: CheckMaterial, thresholds: Thresholds): Finding[] => [
  ...clippings(material, thresholds),
  ...holes(material),
  ...clicksIn(material, thresholds),
  ...offsets(material, thresholds),
  ...outOfPhase(material, thresholds),
  ...oneSided(material, thresholds),
  ...wrongChannels(material, thresholds),
  ...dualMono(material),
  ...silences(material, thresholds),
  ...sinkingDialogue(material, thresholds),
  ...jumps(material, thresholds),
  ...drifts(material, thresholds),
];

/** What breaks a target. */
export const breaksOf = (material: CheckMaterial, verdict: Verdict, target: Target): Finding[] => [
  ...integrityFaults(material),
  ...overLimits(material, target),
  ...missedFigures(verdict, material),
  ...wrongForm(verdict, material),
  ...onlyMono(material, target),
];

/** All findings of a sound for a target, in order; what breaks a limit is not also only worth a look. */
export function findingsOf(
  material: CheckMaterial,
  judged: Judged,
  target: Target,
  thresholds: Thresholds,
): Finding[] {
  const breaks = breaksOf(material, verdictOf(judged, target), target);
  const broken = new Set(breaks.map(({ kind }) => kind));
  const plain = plainFindings(material, thresholds).filter(
    ({ kind }) => !(['head', 'tail', 'mono'].includes(kind) && broken.has(kind)),
  );
  return inOrder([...breaks, ...plain]);
}
