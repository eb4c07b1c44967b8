import { findingsOf, judgedOf } from './findings/findAll';
import type { Finding } from './findings/finding';
import type { CheckMaterial } from './findings/material';
import type { Thresholds } from './findings/thresholds';
import { listened, type Service } from './services';
import type { Target } from './target';
import {
  verdictOf,
  whyNot,
  type FigureVerdict,
  type FormVerdict,
  type Judged,
  type Outcome,
  type Verdict,
} from './verdict';

/** A figure of a verdict as data. */
interface FigureReport {
  readonly figure: FigureVerdict['figure'] | FormVerdict['figure'];
  readonly value: number | string | null;
  readonly goal: number | readonly string[];
  readonly tolerance: number | null;
  readonly deviation: number | null;
  readonly unit: string;
  readonly state: FigureVerdict['state'] | 'other';
}

export interface VerdictReport {
  readonly target: string;
  readonly outcome: Outcome;
  readonly meets: boolean | null;
  /** Why it cannot be certified or judged, a full sentence; `null` where it meets or misses. */
  readonly reason: string | null;
  readonly figures: readonly FigureReport[];
}

export interface ServiceReport {
  readonly id: string;
  readonly gainDb: number;
  readonly percent: number;
  readonly listenerLufs: number | null;
}

/** A finished file, held against everything. */
export interface FileCheck {
  readonly judged: Judged;
  readonly verdicts: readonly (Verdict & { readonly target: Target })[];
  readonly findings: readonly Finding[];
}

/** A verdict as data. */
export const verdictReport = (verdict: Verdict, target: Target): VerdictReport => ({
  target: target.id,
  outcome: verdict.outcome,
  meets: verdict.meets,
  reason: whyNot(verdict),
  figures: [
    ...verdict.figures.map(({ figure, value, goal, tolerance, deviation, unit, state }) => ({
      ...{ figure, value, goal, tolerance, deviation, unit, state },
    })),
    ...verdict.form.map(({ figure, value, wanted, meets: fits }) => ({
      ...{ figure, value, goal: wanted, tolerance: null, deviation: null, unit: '' },
      state: fits ? ('within' as const) : ('other' as const),
    })),
  ],
});

/** A finding that breaks some of several targets, which it names. */
function ofTargets(finding: Finding, targets: readonly Target[]): Finding {
  const names = targets.map(({ name }) => name).join(', ');
  return {
    ...finding,
    targets: targets.map(({ id }) => id),
    sentence: `${names}: ${finding.sentence}`,
  };
}

/**
 * Holds a file against targets. What is found whatever the target is told once; what breaks one of several targets names it, and
 * those that it breaks alike together.
 * @param material see `fileMaterial`
 */
export function checkFile(
  material: CheckMaterial,
  targets: readonly Target[],
  thresholds: Thresholds,
): FileCheck {
  const judged = judgedOf(material);
  const byKey = new Map<string, { readonly finding: Finding; readonly targets: Target[] }>();
  for (const target of targets) {
    for (const finding of findingsOf(material, judged, target, thresholds)) {
      const key = `${finding.id} ${finding.weight} ${finding.sentence}`;
      const known = byKey.get(key);
      if (known) known.targets.push(target);
      else byKey.set(key, { finding, targets: [target] });
    }
  }
  const findings = [...byKey.values()].map(({ finding, targets: broken }) => {
    const named = targets.length > 1 && finding.weight === 'breaks' && finding.kind !== 'integrity';
    return named ? ofTargets(finding, broken) : finding;
  });
  return {
    judged,
    verdicts: targets.map((target) => ({ ...verdictOf(judged, target), target })),
    findings: findings.sort((a, b) => Number(b.whole ?? false) - Number(a.whole ?? false) || a.from - b.from),
  };
}

export const serviceReport = (judged: Judged, service: Service): ServiceReport => {
  const { gainDb, percent, listenerLufs } = listened(judged, service);
  return { id: service.id, gainDb, percent, listenerLufs };
};
