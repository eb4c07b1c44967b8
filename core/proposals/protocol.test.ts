import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import { measureClip, type ClipMeasurement } from '@/core/measuring/measureClip';
import { readAt } from '@/core/measuring/clipReading';
import { SOURCE_TRIM } from '@/core/programme/gainField';
import { SPEECH_FIRST } from '@/core/programme/plan';
import type { Clip, Project } from '@/core/programme/model';
import { clipSound } from '@/core/signal/clipSound';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { levelProposal, trimProposal } from './levelProposal';
import { partsProposal } from './partsProposal';
import { planProposal, planSteps } from './plan';
import { shiftProposal } from './programmeShift';
import { measuredClip, PLAIN_REQUEST, type LevelRequest, type MeasuredClip } from './proposal';
import type { Proposal, ProposedRow } from './protocol';
import { sectionRow } from './sectionLevels';

const PROJECT = testProject([
  testClip({ id: 'a', length: 150_000 }),
  testClip({ id: 'b', sourceId: 's1', start: 160_000, length: 120_000, trackId: 't1' }),
  testClip({ id: 'c', start: 20_000, length: 60_000 }),
]);
const REQUEST: LevelRequest = { ...PLAIN_REQUEST, goal: -25, ceilingDbtp: -1 };

async function measured(
  project: Project,
  clip: Clip,
): Promise<MeasuredClip & { measurement: ClipMeasurement }> {
  const sound = clipSound(project, clip)!;
  const source = project.sources.find(({ id }) => id === clip.sourceId)!;
  const measurement = (await measureClip(await openTestSource(source), sound, () => true))!;
  return { ...measuredClip(clip, measurement), measurement };
}

const entries = await Promise.all(PROJECT.clips.map((clip) => measured(PROJECT, clip)));
const trims = PROJECT.sources.slice(0, 3).map(({ id, name }, i) => ({
  ...entries[i]!,
  ...{ id, name, range: SOURCE_TRIM },
}));
const level = { blocks: entries[0]!.measurement.blocks, truePeakDbtp: -9 };

/** Gains a project has, by what a row of a proposal is called. */
const KINDS: readonly {
  readonly name: string;
  readonly proposal: Proposal;
  readonly gainOf: (project: Project, row: ProposedRow) => number;
}[] = [
  ...(['each', 'together'] as const).map((mode) => ({
    name: `level ${mode}`,
    proposal: levelProposal(entries, { ...REQUEST, mode }, {}) as unknown as Proposal,
    gainOf: (project: Project, { id }: ProposedRow) => project.clips.find((clip) => clip.id === id)!.gain.db,
  })),
  {
    name: 'trims',
    proposal: trimProposal(trims, REQUEST, {}, false) as unknown as Proposal,
    gainOf: (project, { id }) => project.sources.find((source) => source.id === id)!.trimDb,
  },
  {
    name: 'plan',
    proposal: planProposal(
      SPEECH_FIRST,
      planSteps(PROJECT, SPEECH_FIRST, entries),
      entries,
    ) as unknown as Proposal,
    gainOf: (project, { id }) => project.clips.find((clip) => clip.id === id)!.gain.db,
  },
  {
    name: 'shift',
    proposal: shiftProposal(level, { ...PROJECT, target: EBU_R128 })!,
    gainOf: (project) => project.tracks[0]!.gainDb,
  },
  {
    name: 'parts',
    proposal: partsProposal(
      entries.slice(0, 1).map((entry) => ({
        clip: entry.clip,
        part: sectionRow(entry, { from: 1, to: 2 }, { goal: 'rest', ceilingDbtp: -1 }),
      })),
      { sampleRate: PROJECT.sampleRate, ceilingDbtp: -1, rampFrames: 480 },
    ) as unknown as Proposal,
    gainOf: (project) => {
      const points = project.clips[0]!.curve;
      return points.length === 0
        ? 0
        : points.reduce((far, { db }) => (Math.abs(db) > Math.abs(far) ? db : far), 0);
    },
  },
];

describe.each(KINDS)('a proposal: $name', ({ proposal, gainOf }) => {
  it('names its rows, each once, and explains every one', () => {
    expect(proposal.rows.length).toBeGreaterThan(0);
    expect(new Set(proposal.rows.map(({ id }) => id)).size).toBe(proposal.rows.length);
    for (const { name, sentence } of proposal.rows) {
      expect(name).not.toBe('');
      expect(sentence).toMatch(/[.!]$/);
    }
    expect(proposal.step(proposal.rows, 0)).not.toBe('');
    expect(proposal.step(proposal.rows, 1)).not.toBe(proposal.step(proposal.rows, 0));
  });

  it('gives just the rows that are picked what they say, and nothing else', () => {
    expect(proposal.edit(PROJECT, [])).toEqual(PROJECT);
    fc.assert(
      fc.property(fc.subarray([...proposal.rows]), (picked) => {
        const after = proposal.edit(PROJECT, picked);
        for (const row of picked) expect(gainOf(after, row)).toBeCloseTo(row.gainAfterDb, 9);
        for (const row of proposal.rows)
          if (!picked.includes(row)) expect(gainOf(after, row)).toBe(gainOf(PROJECT, row));
      }),
    );
  });

  it('a gain typed over a row is given as typed; what is predicted moves by as much', () => {
    const tenths = (db: number): number => Math.trunc(db * 10);
    const { min, max } = proposal.range;
    fc.assert(
      fc.property(
        fc.constantFrom(...proposal.rows),
        fc.integer({ min: Math.max(-300, tenths(min)), max: Math.min(300, tenths(max)) }),
        (row, tenth) => {
          const typed = proposal.typed(row, tenth / 10);
          expect([typed.id, typed.before]).toEqual([row.id, row.before]);
          if (row.skipped !== null) return expect(typed).toEqual(row);
          expect(typed.gainAfterDb).toBe(tenth / 10);
          expect(gainOf(proposal.edit(PROJECT, [typed]), typed)).toBeCloseTo(tenth / 10, 9);
          expect(typed.truePeakAfter! - row.truePeakAfter!).toBeCloseTo(tenth / 10 - row.gainAfterDb, 6);
          expect(typed.sentence).toMatch(/^By hand: /);
        },
      ),
      { numRuns: 40 },
    );
  });
});

it('what levelling predicts of a typed gain is what the clip then reads', () => {
  const proposal = levelProposal(entries, REQUEST, {});
  const row = proposal.typed(proposal.rows[0]!, -7.5);
  expect(row.after).toBe(readAt(entries[0]!.measurement, 'integrated', -7.5));
});
