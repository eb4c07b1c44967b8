import { isOver } from '@/core/check/judge';
import { roomOf } from '@/core/programme/clipGain';
import { editSections } from '@/core/programme/edits/sections';
import { PART_GAIN } from '@/core/programme/gainField';
import type { Clip } from '@/core/programme/model';
import { sectionFrames, type FrameRange } from '@/core/programme/sections';
import { signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { typedWords, type Proposal, type ProposedRow } from './protocol';
import type { SectionRow } from './sectionLevels';

/** A part of a clip, and what is proposed for it. */
export interface PartRow extends ProposedRow {
  readonly clip: Clip;
  readonly part: SectionRow;
  /** Programme frames. */
  readonly frames: FrameRange;
}

/** A part is known by its clip and where it begins. */
const idOf = ({ clipId, range }: SectionRow): string => `${clipId} ${range.from.toFixed(1)}`;

function rowOf(clip: Clip, part: SectionRow, sampleRate: number, ceilingDbtp: number): PartRow {
  const { lufs, truePeakDbtp, changeDb, afterLufs, limitedBy, skipped, sentence } = part;
  const truePeakAfter = truePeakDbtp === null ? null : truePeakDbtp + changeDb;
  return {
    ...{ id: idOf(part), name: clip.name, clip, part, limitedBy, skipped, sentence },
    frames: sectionFrames(clip, part.range, sampleRate),
    before: lufs,
    gainBeforeDb: 0,
    gainAfterDb: changeDb,
    after: afterLufs,
    truePeakAfter,
    exactPeakAfter: null,
    noiseFloorAfter: null,
    passesCeiling: isOver(truePeakAfter, ceilingDbtp) && changeDb > 0,
    warnings: [],
  };
}

/**
 * Brings parts of clips to a level by a gain on each of them alone.
 * @param rampFrames length of the ramps into and out of each
 */
export function partsProposal(
  found: readonly { readonly clip: Clip; readonly part: SectionRow }[],
  { sampleRate, ceilingDbtp, rampFrames }: { sampleRate: number; ceilingDbtp: number; rampFrames: number },
): Proposal<PartRow> {
  const { minDb, maxDb } = roomOf([0], PART_GAIN);
  return {
    rows: found.map(({ clip, part }) => rowOf(clip, part, sampleRate, ceilingDbtp)),
    unit: 'LUFS',
    gives: 'change',
    range: { name: 'The change of a part', min: minDb, max: maxDb },
    inexact: [],
    typed: (row, gainDb) => {
      if (row.skipped !== null) return row;
      const afterLufs = row.part.lufs === null ? null : row.part.lufs + gainDb;
      const sentence = `By hand: ${signed(gainDb)} dB, to ${withUnit(afterLufs, 'LUFS')}.`;
      const part: SectionRow = { ...row.part, changeDb: gainDb, afterLufs, limitedBy: null, sentence };
      return rowOf(row.clip, part, sampleRate, ceilingDbtp);
    },
    edit: (project, rows) =>
      editSections(
        project,
        rows.map(({ clip, frames, gainAfterDb }) => ({
          clipId: clip.id,
          range: frames,
          change: { kind: 'change', db: gainAfterDb },
        })),
        rampFrames,
      ),
    step: (rows, typed) =>
      rows.length === 1
        ? `Level a part of ${rows[0]!.name} to the rest${typedWords(typed)}`
        : `Level ${count(rows.length, 'part')} to the rest${typedWords(typed)}`,
  };
}
