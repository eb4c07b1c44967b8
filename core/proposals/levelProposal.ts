import { UNIT } from '@/core/measuring/clipReading';
import { applyGains } from '@/core/programme/edits/gain';
import { setSourceTrims } from '@/core/programme/edits/levels';
import { CLIP_GAIN, SOURCE_TRIM } from '@/core/programme/gainField';
import { withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { PlaceTold } from './explain';
import { gainsOf, propose, typedRow, wantExactPeak } from './propose';
import type { LevelRequest, MeasuredClip, ProposalRow, Subject } from './proposal';
import { typedWords, type Proposal } from './protocol';

interface How<S> {
  readonly setOf?: (subject: S) => string;
  readonly place?: PlaceTold;
}

/** What the proposals for clips and for sources have in common. */
function worked<S extends Subject>(
  subjects: readonly S[],
  request: LevelRequest,
  how: How<S>,
): Pick<Proposal<ProposalRow>, 'rows' | 'unit' | 'gives' | 'typed' | 'inexact'> {
  const proposed = propose(subjects, request, how);
  const byId = new Map(subjects.map((subject) => [subject.id, subject]));
  return {
    rows: proposed.rows,
    unit: UNIT[request.measure],
    gives: 'gain',
    typed: (row, gainDb) => typedRow(byId.get(row.id)!, row, request, gainDb, how.place),
    inexact: wantExactPeak(proposed, subjects).map(({ id }) => id),
  };
}

const goalWords = ({ mode, goal, measure }: LevelRequest): string =>
  `${mode === 'each' ? 'each' : 'together'} to ${withUnit(goal, UNIT[measure])}`;

/** Brings clips to a level, each by itself or together. */
export const levelProposal = (
  clips: readonly MeasuredClip[],
  request: LevelRequest,
  how: How<MeasuredClip>,
): Proposal<ProposalRow> => ({
  ...worked(clips, request, how),
  range: CLIP_GAIN,
  edit: (project, rows) => applyGains(project, gainsOf(rows)),
  step: (rows, typed) => `Level ${count(rows.length, 'clip')} ${goalWords(request)}${typedWords(typed)}`,
});

/**
 * Brings sources to a level by their trims, before they are used.
 * @param alsoPlaced the clips of them that are placed already get the trim too
 */
export const trimProposal = (
  sources: readonly Subject[],
  request: LevelRequest,
  how: How<Subject>,
  alsoPlaced: boolean,
): Proposal<ProposalRow> => ({
  ...worked(sources, request, how),
  range: SOURCE_TRIM,
  edit: (project, rows) =>
    setSourceTrims(project, new Map(rows.map(({ id, gainAfterDb }) => [id, gainAfterDb])), alsoPlaced),
  step: (rows, typed) => `Trim ${count(rows.length, 'source')} ${goalWords(request)}${typedWords(typed)}`,
});
