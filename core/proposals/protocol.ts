import type { GainRange } from '@/core/programme/gainField';
import type { Project } from '@/core/programme/model';
import type { GainLimit } from './held';

/** One row of any proposal: the gain there is, the one proposed, and what becomes of it. */
export interface ProposedRow {
  /** One of its kind in its proposal. */
  readonly id: string;
  /** Of the clip, the source, the part. */
  readonly name: string;
  /** What is measured, with the present gain; `null` when it has no value. In the proposal's unit. */
  readonly before: number | null;
  readonly gainBeforeDb: number;
  /** The gain proposed; the present one when skipped. */
  readonly gainAfterDb: number;
  /** What will be measured. */
  readonly after: number | null;
  readonly truePeakAfter: number | null;
  /** The exact true peak with the gain proposed, dBTP, where it is known and differs from the standard's by over 0.1 dB. */
  readonly exactPeakAfter: number | null;
  /** What is then heard of its quiet places, LUFS. */
  readonly noiseFloorAfter: number | null;
  readonly limitedBy: GainLimit;
  /** Told to go past the ceiling, it does. */
  readonly passesCeiling: boolean;
  /** Why it gets no gain. */
  readonly skipped:
    'silent' | 'tooShort' | 'notMeasured' | 'noRest' | 'byHand' | 'limiter' | 'noSpeech' | 'notMended' | null;
  /** What is to check, each a full sentence. */
  readonly warnings: readonly string[];
  /** The row explained in one sentence. */
  readonly sentence: string;
}

/** Gains that are proposed: seen, heard, picked, typed over row by row, and applied as one step. */
export interface Proposal<R extends ProposedRow = ProposedRow> {
  readonly rows: readonly R[];
  /** What *before* and *after* are in. */
  readonly unit: 'LUFS' | 'dBTP' | 'dBFS';
  /** Whether a row's gain is what there is to be, or a change on top of what there is. */
  readonly gives: 'gain' | 'change';
  /** Gains that can be typed. */
  readonly range: GainRange;
  /** A row with another gain, within the range, in place of the one worked out; what is skipped stays as it is. */
  readonly typed: (row: R, gainDb: number) => R;
  /** Ids of rows whose exact true peak has to be known before the ceiling can be promised. */
  readonly inexact: readonly string[];
  /** A project with some of the rows applied; what was not measured when they were worked out is left alone. */
  readonly edit: (project: Project, rows: readonly R[]) => Project;
  /** What the step is called. @param typed how many of the rows have a gain that was typed */
  readonly step: (rows: readonly R[], typed: number) => string;
}

/** Words after a step's name for the rows whose gain was typed. */
export const typedWords = (typed: number): string => (typed > 0 ? `, ${typed} by hand` : '');
