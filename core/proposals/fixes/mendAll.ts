import { breaksOf, judgedOf } from '@/core/check/findings/findAll';
import { inOrder, type Finding } from '@/core/check/findings/finding';
import type { Project } from '@/core/programme/model';
import { verdictOf } from '@/core/check/verdict';
import { sideBySide } from '@/core/parallel/sideBySide';
import { withFix, type Fix } from './fix';
import { together } from './fixProposal';
import { fixFor } from './fixFor';
import type { Workshop } from './workshop';

/** All that breaks a limit, mended together. */
export interface MendedAll {
  readonly fixes: readonly Fix[];
  readonly project: Project;
  /** What still breaks a limit. */
  readonly left: readonly Finding[];
}

/** Loudness first, then the places that pass a limit; what mended them changes the loudness a little, so once more. */
const MOST_PASSES = 6;

/** What breaks the target as a workshop’s programme stands. */
export function breaksIn({ material, target }: Workshop): Finding[] {
  return inOrder(breaksOf(material, verdictOf(judgedOf(material), target), target));
}

/**
 * Mends what breaks a limit by the smallest changes, pass by pass, until nothing does or nothing more can be done.
 * @param accepted ids of findings that are to stay as they are
 * @param workshopFor measures a state of the programme and makes a workshop over it
 * @param proceed asked before each fix; `false` stops
 * @param hands how many are worked out at a time
 * @returns `null` when stopped
 */
export async function mendAll(
  project: Project,
  accepted: ReadonlySet<string>,
  workshopFor: (project: Project) => Promise<Workshop>,
  proceed: () => boolean | Promise<boolean>,
  hands = 1,
): Promise<MendedAll | null> {
  let current = project;
  const fixes: Fix[] = [];
  let left: readonly Finding[] = [];
  for (let pass = 0; pass < MOST_PASSES; pass++) {
    const workshop = await workshopFor(current);
    left = breaksIn(workshop).filter(({ id }) => !accepted.has(id));
    const off = left.filter(({ kind }) => kind === 'integrated');
    // As long as the loudness is off, places move with it.
    const next = off.length > 0 ? off : left;
    const mends = await sideBySide(next, hands, proceed, (finding) => fixFor(finding, workshop));
    if (!mends) return null;
    const found = together(
      current,
      mends.flatMap((mend) => ('fix' in mend ? [mend.fix] : [])),
    ).applied;
    if (found.length === 0) break;
    for (const fix of found) current = withFix(current, fix.change);
    fixes.push(...found);
  }
  return { fixes, project: current, left };
}
