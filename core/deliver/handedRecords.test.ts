import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { plainDelivery } from '@/core/programme/delivery';
import { testClip, testProject } from '@/core/testing/projects';
import { filesOf } from './deliveryFiles';
import { keptRecords, readRecords, type HandedRecord } from './handedRecords';

const figures: LoudnessFigures = {
  ...{ integratedLufs: -23, relativeGateLufs: -33, maxMomentaryLufs: -20, maxShortTermLufs: -21 },
  ...{ loudnessRangeLu: 5, truePeakDbtp: -3, samplePeakDbfs: null },
  channelPeaks: [{ label: 'L', truePeakDbtp: -3, samplePeakDbfs: null }],
};
const receipt = {
  ...{ number: 'N 1', recipient: 'Kestrel Radio', accepted: true, at: '2026-01-31 21:09:00' },
  sha256: '0'.repeat(64),
  requirements: [{ requirement: 'Format', asked: 'WAV', found: 'WAV', meets: true }],
};

function record(state: number, change: Partial<HandedRecord> = {}): HandedRecord {
  const project = { ...testProject([testClip({ id: 'a' })]), name: `State ${state}` };
  const what = { kind: 'clips', clipIds: ['a'] } as const;
  const [file] = filesOf(project, { ...plainDelivery(`d${state}`, EBU_R128), what }, '2026-01-31');
  return {
    ...{ file: file!, name: file!.name, savedAs: null, at: '2026-01-31 21:04:00', bytes: 12, project },
    ...{ sha256: 'ab', predicted: figures, figures, verdict: verdictOf(figures, EBU_R128), gainDb: 0 },
    ...{ corrected: null, wrong: [], codecOver: null, sum: null, receipts: [receipt] },
    ...change,
  };
}

describe('what was handed over', () => {
  it('comes back as it was, receipts included', () => {
    const first = record(1);
    const records = [first, { ...record(2, { verdict: null }), project: first.project }];
    const kept = keptRecords(records);
    // Two files of one state of the programme keep it once.
    expect(kept.states).toHaveLength(1);
    expect(readRecords(JSON.parse(JSON.stringify(kept)))).toEqual(records);
  });

  it('of an earlier version is not certified over a damaged source', () => {
    const { meets, figures: judged, form } = verdictOf(figures, EBU_R128);
    expect(meets).toBe(true);
    const older = { meets, figures: judged, form } as HandedRecord['verdict'];
    const [first] = [record(1, { verdict: older })];
    const readOutcome = (project: HandedRecord['project']) =>
      readRecords(keptRecords([{ ...first!, project }])).map(({ verdict }) => [
        verdict!.outcome,
        verdict!.meets,
      ]);
    expect(readOutcome(first!.project)).toEqual([['meets', true]]);
    const sources = first!.project.sources.map((source) => ({
      ...source,
      warnings: ['The file is cut off.'],
    }));
    expect(readOutcome({ ...first!.project, sources })).toEqual([['notWhole', null]]);
  });

  it('leaves out the oldest where they stand for many states of the programme', () => {
    const records = Array.from({ length: 30 }, (_, i) => record(i));
    const back = readRecords(keptRecords(records));
    expect(back.length).toBeGreaterThan(5);
    expect(back.map(({ project }) => project.name)).toEqual(
      records.slice(-back.length).map(({ project }) => project.name),
    );
  });

  it('is left out, never half-read, where anything in it is no more what it was', () => {
    const kept = JSON.parse(JSON.stringify(keptRecords([record(1)]))) as { files: Record<string, unknown>[] };
    for (const value of [null, 'x', {}, []]) expect(readRecords(value)).toEqual([]);
    fc.assert(
      fc.property(fc.constantFrom(...Object.keys(kept.files[0]!)), fc.anything(), (key, value) => {
        const damaged = { ...kept, files: [{ ...kept.files[0], [key]: value }] };
        for (const one of readRecords(damaged)) {
          expect(typeof one.name).toBe('string');
          expect(one.file.delivery.id).toBe('d1');
          expect(Array.isArray(one.receipts)).toBe(true);
          expect(one.project.name).toBe('State 1');
        }
      }),
    );
  });
});
