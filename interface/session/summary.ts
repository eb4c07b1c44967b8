import { meanSquareToLufs } from '@/core/loudness/decibels';
import { verdictOf } from '@/core/check/verdict';
import { programmeFaults } from '@/core/programme/damagedSources';
import type { Project } from '@/core/programme/model';
import type { ProgrammeSummary } from '@/engine/protocol';
import { judgedSummary } from './state';
import { putSummary, type ProjectSummary } from '@/storage/summaries';
import { isAbsent, leftOut, type Absent } from './sounds';

/** Columns of the small skyline. */
const COLUMNS = 64;

/** What the shelf is to say of a programme. @param leftOut how many of its clips have no sound */
function summaryOf(project: Project, programme: ProgrammeSummary, leftOut: number): ProjectSummary {
  const { figures, shortTerm } = programme;
  const { target } = project;
  const skyline = Array.from({ length: shortTerm.length === 0 ? 0 : COLUMNS }, (_, i) => {
    const from = Math.floor((i * shortTerm.length) / COLUMNS);
    const to = Math.max(from + 1, Math.floor(((i + 1) * shortTerm.length) / COLUMNS));
    const lufs = meanSquareToLufs(shortTerm.subarray(from, to).reduce((a, b) => Math.max(a, b), 0));
    return lufs === null ? null : Math.round((lufs - target.integratedLufs) * 10) / 10;
  });
  return {
    outcome: verdictOf({ ...judgedSummary(programme), integrity: programmeFaults(project) }, target, leftOut)
      .outcome,
    integratedLufs: figures.integratedLufs,
    truePeakDbtp: figures.truePeakDbtp,
    skyline,
  };
}

/** Tells the shelf how a programme stands; only for the eye, so not worth a word when it cannot be saved. */
export function tellShelf(project: Project, programme: ProgrammeSummary, absent: Absent): void {
  const missing = leftOut(project, (key) => !isAbsent(absent, key)).clips.length;
  void putSummary(project.id, summaryOf(project, programme, missing)).catch(() => undefined);
}
