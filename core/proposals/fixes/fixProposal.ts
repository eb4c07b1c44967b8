import { bisector } from 'd3-array';
import type { Finding } from '@/core/check/findings/finding';
import type { Accepted, Project } from '@/core/programme/model';
import type { FrameRange } from '@/core/programme/sections';
import { count } from '@/core/text/words';
import type { Proposal, ProposedRow } from '../protocol';
import { meet, reachOfFix, withFix, type Fix } from './fix';
import type { Mend } from './fixFor';

/** Something that was found, and what mends it. */
export interface FixRow extends ProposedRow {
  readonly finding: Finding;
  /** `null` while it is being worked out. */
  readonly mend: Mend | null;
  /** It is to stay as it is. */
  readonly accepted: Accepted | null;
}

const byStart = bisector((range: FrameRange) => range.from);

/** Of some fixes those that can be applied together, in their order, and those that have to wait for another turn. */
export function together(
  project: Project,
  fixes: readonly Fix[],
): { readonly applied: readonly Fix[]; readonly left: readonly Fix[] } {
  const applied: Fix[] = [];
  const left: Fix[] = [];
  // In order of time, none empty and none over another: only its neighbours can be in the way of one.
  const taken: FrameRange[] = [];
  for (const fix of fixes) {
    const reach = reachOfFix(project, fix.change);
    const at = byStart.right(taken, reach.from);
    if ([taken[at - 1], taken[at]].some((other) => other && meet(reach, other))) left.push(fix);
    else {
      applied.push(fix);
      taken.splice(at, 0, reach);
    }
  }
  return { applied, left };
}

const fixesOf = (rows: readonly FixRow[]): Fix[] =>
  rows.flatMap(({ mend }) => (mend && 'fix' in mend ? [mend.fix] : []));

/** A project with some fixes on it, as far as they can be applied together. */
export function withFixes(project: Project, fixes: readonly Fix[]): Project {
  // From the last to the first: a crossfade moves where the next clip begins.
  return together(project, fixes)
    .applied.map(({ change }) => ({ change, at: reachOfFix(project, change).from }))
    .sort((a, b) => b.at - a.at)
    .reduce((state, { change }) => withFix(state, change), project);
}

/** What was found, each with the smallest change that mends it. */
export function fixProposal(
  project: Project,
  findings: readonly Finding[],
  mends: ReadonlyMap<string, Mend>,
): Proposal<FixRow> {
  const accepted = new Map(project.accepted.map((one) => [one.id, one]));
  return {
    rows: findings.map((finding): FixRow => {
      const mend = mends.get(finding.id) ?? null;
      const fix = mend && 'fix' in mend ? mend.fix : null;
      return {
        ...{ id: finding.id, name: finding.id, finding, mend, accepted: accepted.get(finding.id) ?? null },
        ...{ before: finding.value, after: fix?.after ?? finding.value, gainBeforeDb: 0 },
        gainAfterDb: fix && 'db' in fix.change ? fix.change.db : 0,
        ...{ truePeakAfter: fix?.truePeakDbtp ?? null, exactPeakAfter: null, noiseFloorAfter: null },
        ...{ limitedBy: null, passesCeiling: false, warnings: [] },
        skipped: fix && !accepted.has(finding.id) ? null : mend ? 'notMended' : 'notMeasured',
        sentence: fix?.sentence ?? (mend && 'remedy' in mend ? mend.remedy : finding.sentence),
      };
    }),
    unit: 'LUFS',
    gives: 'change',
    // What is worked out is the least that mends it.
    range: { name: 'The change', min: 0, max: 0 },
    inexact: [],
    typed: (row) => row,
    edit: (current, rows) => withFixes(current, fixesOf(rows)),
    step: (rows) => {
      const [only] = fixesOf(rows);
      return rows.length === 1 && only ? `Mend: ${only.what}` : `Mend ${count(rows.length, 'finding')}`;
    },
  };
}
