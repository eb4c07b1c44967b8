import { describe, expect, it } from 'vitest';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { figuresAfterGain } from '@/core/loudness/figures';
import { integratedWithin } from '@/core/loudness/levelTrack';
import { soundMeasurement } from '@/core/loudness/sound';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import { measureReader } from '@/core/loudness/measureReader';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { dialogueRanges } from '@/core/programme/dialogue';
import type { Project } from '@/core/programme/model';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { memoryReader, tones } from '@/core/testing/signals';
import { mendOf } from './fileGain';
import { ruledBlocks, ruledBySpeech, shiftProposal } from './programmeShift';

const DRAMA = SHIPPED_TARGETS.find(({ id }) => id === 'drama-dialogue')!;

/** Speech, and after it music that is far louder. */
const PROJECT: Project = {
  ...testProject([
    testClip({ id: 'talk', sourceId: 's1', gain: { db: -12, lastChangeDb: 0, reason: { kind: 'byHand' } } }),
    testClip({ id: 'music', sourceId: 's3', trackId: 't1', start: 200_000 }),
  ]),
  target: DRAMA,
};

async function energyOf(project: Project): Promise<Float64Array> {
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  await measurement.measure(openTestSource, () => true);
  return weightedEnergy(measurement.history!);
}

describe('a programme whose target goes by dialogue', () => {
  it('is brought there by its speech, whatever the music', async () => {
    const energy = await energyOf(PROJECT);
    const blocks = gatingBlocks(energy, 48_000);
    expect(ruledBySpeech(PROJECT, blocks)).toBe(true);
    const level = { blocks: ruledBlocks(PROJECT, blocks), truePeakDbtp: -40 };
    const proposal = shiftProposal(level, PROJECT)!;
    const after = proposal.edit(PROJECT, proposal.rows);
    const spoken = integratedWithin(
      { energy: await energyOf(after), sampleRate: 48_000 },
      dialogueRanges(after),
    );
    expect(spoken.integratedLufs).toBeCloseTo(-27, 2);
  });

  it('goes by all of it where there is too little speech, and always for other targets', async () => {
    const blocks = gatingBlocks(await energyOf(PROJECT), 48_000);
    const from = (percent: number): Project => ({
      ...PROJECT,
      target: { ...DRAMA, anchor: 'dialogueFrom', dialogueFromPercent: percent },
    });
    expect(ruledBySpeech(from(30), blocks)).toBe(true);
    expect(ruledBySpeech(from(80), blocks)).toBe(false);
    expect(ruledBlocks({ ...PROJECT, target: EBU_R128 }, blocks)).toBe(blocks);
  });
});

describe('a finished file whose target goes by dialogue', () => {
  it('is mended by what is spoken in it; without knowing that, nothing is claimed', async () => {
    const sound = tones(
      [
        { seconds: 5, dbfs: -33 },
        { seconds: 5, dbfs: -13 },
      ],
      48_000,
    );
    const measured = soundMeasurement((await measureReader(memoryReader(sound, 48_000), () => true))!);
    const unknown = mendOf(measured, DRAMA);
    expect([unknown.kind, unknown.sentence]).toEqual(['nothing', expect.stringMatching(/goes by dialogue/)]);
    const ranges = [{ from: 0, to: 5 }];
    const { integratedLufs: lufs } = integratedWithin(measured, ranges);
    const mend = mendOf(measured, DRAMA, null, { lufs, sharePercent: 50, overRestLu: null });
    expect(mend.kind).toBe('gain');
    expect(lufs! + mend.gainDb).toBeCloseTo(-27, 6);
    const after = figuresAfterGain(measured, mend.gainDb);
    const spoken = { lufs: lufs! + mend.gainDb, sharePercent: 50, overRestLu: null };
    expect(verdictOf({ ...after, spoken }, DRAMA).meets).toBe(true);
  });
});
