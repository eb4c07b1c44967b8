import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MONO, programmeLayout } from '@/core/audio/layout';
import { figuresOf, type LoudnessFigures, type Measured } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { noiseFloor } from '@/core/loudness/details';
import { integrated } from '@/core/loudness/gating';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import { applyGains } from '@/core/programme/edits/gain';
import { programmeFrames, type Clip, type Project } from '@/core/programme/model';
import { clipSound } from '@/core/signal/clipSound';
import { measureClip, type ClipMeasurement } from '@/core/measuring/measureClip';
import { renderRange } from '@/core/signal/mix';
import { EBU_R128 } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { noise, tones } from '@/core/testing/signals';
import { fileGain, mendOf } from './fileGain';
import { shiftProposal } from './programmeShift';
import { measuredClip, type LevelRequest, type MeasuredClip } from './proposal';
import { gainsOf, propose, typedRow } from './propose';

/** The same with pauses that are heard. */
const paused = (entry: MeasuredClip): MeasuredClip => ({
  ...entry,
  measurement: {
    ...entry.measurement!,
    blocks: entry.measurement!.blocks.map((z, i) => (i % 8 === 0 ? z / 10_000 : z)),
  },
});

async function measured(clip: Clip): Promise<MeasuredClip> {
  const source = testProject().sources.find((candidate) => candidate.id === clip.sourceId)!;
  const reader = await openTestSource(source);
  const sound = clipSound(testProject(), clip)!;
  return measuredClip(clip, await measureClip(reader, sound, () => true));
}

/** What a set of clips measures when it alone is rendered. */
async function rendered(
  project: Project,
  clips: readonly Clip[],
): Promise<ReturnType<LoudnessMeter['finish']>> {
  const meter = new LoudnessMeter(programmeLayout('stereo'), 48_000);
  const alone = { ...project, clips };
  meter.push(await renderRange(alone, openTestSource, 0, programmeFrames(alone)));
  return meter.finish();
}

const READ = {
  integrated: (figures: LoudnessFigures) => figures.integratedLufs,
  maxShortTerm: (figures: LoudnessFigures) => figures.maxShortTermLufs,
  maxMomentary: (figures: LoudnessFigures) => figures.maxMomentaryLufs,
  truePeak: (figures: LoudnessFigures) => figures.truePeakDbtp,
  samplePeak: (figures: LoudnessFigures) => figures.samplePeakDbfs,
} as const;

const request = (change: Partial<LevelRequest>): LevelRequest => ({
  measure: 'integrated',
  mode: 'each',
  goal: -23,
  ceilingDbtp: -1,
  policy: 'stop',
  spokenOnly: false,
  floorLufs: null,
  ...change,
});

describe('levelling each', () => {
  it('brings every clip to the goal by itself, or says why not, and never passes the ceiling', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipsArbitrary,
        fc.double({ min: -40, max: -10, noNaN: true }),
        fc.constantFrom('integrated', 'maxShortTerm', 'maxMomentary', 'truePeak', 'samplePeak'),
        async (clips, goal, measure) => {
          const entries = await Promise.all(clips.map(measured));
          const proposal = propose(entries, request({ goal, measure }));
          const project = applyGains(testProject(clips), gainsOf(proposal.rows));
          for (const [index, row] of proposal.rows.entries()) {
            const clip = { ...project.clips[index]!, start: 0 };
            const figures = figuresOf(await rendered(project, [clip]));
            expect(row.sentence).toMatch(/\.$/);
            // What is skipped keeps the gain it had, even one that was over the ceiling before.
            if (row.skipped) expect(clip.gain).toEqual(clips[index]!.gain);
            else expect(figures.truePeakDbtp!).toBeLessThan(-1 + 1e-4);
            if (
              !row.skipped &&
              row.limitedBy === null &&
              !(measure === 'integrated' && clip.length < 19_200)
            ) {
              const value = READ[measure](figures);
              expect(Math.abs(value! - goal)).toBeLessThan(0.01);
            }
          }
        },
      ),
      { numRuns: 12 },
    );
  });

  it('again on its own result changes nothing', async () => {
    const entries = await Promise.all(
      [testClip({ id: 'a' }), testClip({ id: 'b', sourceId: 's1' })].map(measured),
    );
    const first = propose(entries, request({}));
    const levelled = entries.map(({ clip, measurement }, i) =>
      measuredClip({ ...clip, gain: { ...clip.gain, db: first.rows[i]!.gainAfterDb } }, measurement),
    );
    propose(levelled, request({})).rows.forEach((row, i) =>
      expect(row.gainAfterDb).toBeCloseTo(first.rows[i]!.gainAfterDb, 5),
    );
  });

  it('stops at the ceiling and says so', async () => {
    const [entry] = await Promise.all([testClip({ id: 'a', sourceId: 's1' })].map(measured));
    const [row] = propose([entry!], request({ goal: -3 })).rows;
    expect(row!.limitedBy).toBe('ceiling');
    expect(row!.truePeakAfter).toBeCloseTo(-1, 9);
    expect(row!.sentence).toMatch(/wanted, .* given: the peak at 0:\d\d\.\d reaches −1\.0 dBTP first/);
  });

  it('stops where a clip’s gain ends and says so', async () => {
    const entry = await measured(testClip({ id: 'a' }));
    const whisper = {
      ...entry,
      measurement: { ...entry.measurement!, figures: { ...entry.measurement!.figures, truePeakDbtp: -90 } },
    };
    const [row] = propose([whisper], request({ measure: 'truePeak', goal: -3 })).rows;
    expect(row).toMatchObject({ limitedBy: 'gainRange', gainAfterDb: 48 });
  });

  it('skips what is silent, too short or not measured yet', async () => {
    const clip = testClip({ id: 'a' });
    const silent: ClipMeasurement = {
      figures: figuresOf(await rendered(testProject(), [])),
      blocks: new Float64Array(50),
      hops: new Float64Array(53),
      truePeaks: new Float32Array(1),
      meanSquare: 0,
      range: null,
      maxShortTermAt: null,
      lengthSeconds: 5,
    };
    const short = await measured(testClip({ id: 'b', length: 9_000 }));
    const rows = propose([measuredClip(clip, silent), short, measuredClip(clip, null)], request({})).rows;
    expect(rows.map((row) => row.skipped)).toEqual(['silent', null, 'notMeasured']);
    expect(gainsOf(rows).size).toBe(1);
    expect(propose([short], request({ measure: 'maxShortTerm' })).rows[0]!.skipped).toBe('tooShort');
    // Shorter than a gating block: all of it, ungated, and that is said.
    expect(rows[1]!.sentence).toMatch(/ungated: shorter than 400 ms/);
    const samples = await rendered(testProject(), [
      { ...short.clip, start: 0, gain: { ...short.clip.gain, db: rows[1]!.gainAfterDb } },
    ]);
    const energy = weightedEnergy(samples).reduce((a, b) => a + b, 0);
    expect(-0.691 + 10 * Math.log10(energy / 9_000)).toBeCloseTo(-23, 3);
  });
});

describe('what a proposal can be told', () => {
  it('to go past the ceiling: it does, and says by how much and where', async () => {
    const entry = await measured(testClip({ id: 'a', sourceId: 's1' }));
    const [row] = propose([entry], request({ goal: -3, policy: 'pass' }), {
      place: (_, seconds) => `place ${seconds.toFixed(1)}`,
    }).rows;
    expect(row!.after).toBeCloseTo(-3, 4);
    expect(row).toMatchObject({ limitedBy: null, passesCeiling: true });
    expect(row!.sentence).toMatch(/the peak at place \d\.\d goes to \d+\.\d dBTP, past the ceiling\.$/);
  });

  it('to level by what is spoken only', async () => {
    const entry = await measured(testClip({ id: 'a', sourceId: 's1' }));
    const speech = [{ from: 1, to: 2.2 }];
    const spoken = request({ spokenOnly: true, goal: -30 });
    const [row] = propose([{ ...entry, speech }], spoken).rows;
    // Independent: the windows of that slice alone, gated.
    const part = await rendered(testProject(), [
      { ...entry.clip, gain: { ...entry.clip.gain, db: row!.gainAfterDb } },
    ]);
    const blocks = gatingBlocks(weightedEnergy(part), 48_000).slice(10, 19);
    expect(integrated(blocks).integratedLufs).toBeCloseTo(-30, 4);
    // Where nothing says who speaks when, all of it counts.
    const whole = propose([entry], request({ goal: -30 })).rows[0]!.gainAfterDb;
    expect(propose([entry], spoken).rows[0]!.gainAfterDb).toBeCloseTo(whole, 9);
    // Where it is said that nobody speaks, that is the reason it is skipped.
    const [unspoken] = propose([{ ...entry, speech: [] }], spoken).rows;
    expect([unspoken!.skipped, unspoken!.sentence]).toEqual([
      'noSpeech',
      'Skipped: nobody speaks in it, as its subtitles say.',
    ]);
  });

  it('sets: each of them reaches the goal together, whatever the others do', async () => {
    const entries = await Promise.all(
      [
        testClip({ id: 'a' }),
        testClip({ id: 'b', sourceId: 's1' }),
        testClip({ id: 'c', sourceId: 's1', length: 60_000 }),
        testClip({ id: 'd', sourceId: 's3' }),
      ].map(measured),
    );
    const setOf = ({ id }: MeasuredClip): string => (id < 'c' ? 'one' : 'two');
    const together = request({ mode: 'together', goal: -31 });
    const { rows } = propose(entries, together, { setOf });
    const alone = [entries.slice(0, 2), entries.slice(2)].flatMap((set) => propose(set, together).rows);
    expect(rows.map(({ id }) => id)).toEqual(['a', 'b', 'c', 'd']);
    rows.forEach((row, i) => expect(row.gainAfterDb).toBe(alone[i]!.gainAfterDb));
  });

  it('to take a gain that was typed in place of its own, and say what comes of it', async () => {
    const entries = await Promise.all(
      [testClip({ id: 'a', sourceId: 's1' }), testClip({ id: 'b', length: 9_000 })].map(measured),
    );
    const asked = request({});
    const { rows } = propose(entries, asked);
    const typed = typedRow(entries[0]!, rows[0]!, asked, -3.5);
    expect(typed).toMatchObject({ id: 'a', gainAfterDb: -3.5, limitedBy: null, reason: { kind: 'byHand' } });
    const figures = figuresOf(
      await rendered(testProject(), [{ ...entries[0]!.clip, gain: { ...entries[0]!.clip.gain, db: -3.5 } }]),
    );
    expect(typed.after).toBeCloseTo(figures.integratedLufs!, 4);
    expect(typed.truePeakAfter).toBeCloseTo(figures.truePeakDbtp!, 4);
    const quiet = paused(entries[0]!);
    const [before] = propose([quiet], asked).rows;
    expect(typedRow(quiet, before!, asked, -3.5).noiseFloorAfter).toBeCloseTo(
      before!.noiseFloorAfter! - before!.gainAfterDb - 3.5,
      9,
    );
    const past = typedRow(entries[0]!, rows[0]!, asked, 30);
    expect(past).toMatchObject({ passesCeiling: true });
    expect(past.sentence).toMatch(
      /^By hand: \+30\.0 dB, to .* LUFS; its peak goes to .* dBTP, past the ceiling\.$/,
    );
    const skipped = { ...rows[1]!, skipped: 'silent' } as const;
    expect(typedRow(entries[1]!, skipped, asked, 3)).toBe(skipped);
  });

  it('to warn: of noise that comes up, of a gain beyond what is sane, of a part far over the rest', async () => {
    const entry = paused(await measured(testClip({ id: 'a', sourceId: 's1' })));
    const floor = noiseFloor(entry.measurement!.blocks)!;
    const [noisy] = propose([entry], request({ goal: -2, floorLufs: floor + 1, policy: 'pass' })).rows;
    expect(noisy!.warnings.join()).toMatch(/noise floor comes up to/);
    expect(propose([entry], request({ goal: -20, floorLufs: floor - 90 })).rows[0]!.warnings).toEqual([]);
    const [far] = propose([entry], request({ goal: -60 })).rows;
    expect(far!.warnings.join()).toMatch(/is a lot/);
    const { figures } = entry.measurement!;
    const uneven = {
      ...entry,
      measurement: {
        ...entry.measurement!,
        figures: { ...figures, maxShortTermLufs: figures.integratedLufs! + 11 },
        maxShortTermAt: 2,
      },
    };
    const [row] = propose([uneven], request({})).rows;
    expect(row!.warnings.join()).toMatch(/three seconds at 0:02\.0 are 11\.0 LU over all of it/);
    expect([row!.uneven, far!.uneven]).toEqual([true, false]);
  });

  it('remembers for what each gain was worked out', async () => {
    const entry = await measured(testClip({ id: 'a' }));
    const [row] = propose([{ ...entry, key: 'that slice' }], request({})).rows;
    expect(row!.reason).toMatchObject({ kind: 'levelled', of: 'that slice' });
  });
});

describe('levelling together', () => {
  it('moves all by one amount: the balance stays to the bit, the set reaches the goal', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, async (clips) => {
        const entries = (await Promise.all(clips.map(measured))).filter(
          (entry) => entry.measurement!.blocks.length > 0,
        );
        if (entries.length === 0) return;
        const { rows } = propose(entries, request({ mode: 'together', goal: -30 }));
        const moved = rows.filter((row) => row.skipped === null);
        for (const row of moved)
          expect(row.gainAfterDb - row.gainBeforeDb).toBeCloseTo(
            moved[0]!.gainAfterDb - moved[0]!.gainBeforeDb,
            9,
          );
        for (const row of moved) expect(row.truePeakAfter!).toBeLessThan(-1 + 1e-6);
        if (moved.some((row) => row.limitedBy !== null)) return;
        // Independent arithmetic: the blocks of all of them, gated as one list.
        const all = entries.flatMap((entry, i) =>
          [...entry.measurement!.blocks].map((z) => z * 10 ** (rows[i]!.gainAfterDb / 10)),
        );
        const mean = (list: number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
        const lufs = (z: number): number => -0.691 + 10 * Math.log10(z);
        const audible = all.filter((z) => lufs(z) > -70);
        const gated = audible.filter((z) => z > mean(audible) / 10);
        expect(Math.abs(lufs(mean(gated)) + 30)).toBeLessThan(0.001);
      }),
      { numRuns: 12 },
    );
  });

  it('to true peak: the highest peak of the set reaches the goal', async () => {
    const entries = await Promise.all(
      [testClip({ id: 'a' }), testClip({ id: 'b', sourceId: 's1' })].map(measured),
    );
    const { rows } = propose(entries, request({ mode: 'together', measure: 'truePeak', goal: -12 }));
    expect(Math.max(...rows.map((row) => row.truePeakAfter!))).toBeCloseTo(-12, 6);
  });

  it('in sets: each is told of its own, and a set of one is levelled by itself', async () => {
    const entries = await Promise.all(
      [
        testClip({ id: 'a', length: 90_000 }),
        testClip({ id: 'b', sourceId: 's1', length: 90_000 }),
        // Too short for a gating block.
        testClip({ id: 'c', length: 9_000, sourceStart: 20_000 }),
      ].map(measured),
    );
    const setOf = ({ id }: MeasuredClip): string => (id === 'c' ? 'alone' : 'pair');
    const asked = request({ ceilingDbtp: 30 });
    const { rows } = propose(entries, { ...asked, mode: 'together' }, { setOf });
    expect(rows[0]!.sentence).toMatch(/the same for all of its set\.$/);
    expect(rows[2]).toEqual(propose(entries.slice(2), asked).rows[0]);
    expect(rows[2]!.sentence).toMatch(/ungated/);
  });
});

describe('the programme brought to its target by one shift', () => {
  it('reaches it, measured from a fresh render', async () => {
    const project = testProject([
      testClip({ id: 'a' }),
      testClip({ id: 'b', sourceId: 's1', start: 100_000, trackId: 't1' }),
    ]);
    const history = await rendered(project, project.clips);
    const blocks = gatingBlocks(weightedEnergy(history), 48_000);
    const level = { blocks, truePeakDbtp: figuresOf(history).truePeakDbtp };
    const shift = shiftProposal(level, { ...project, target: EBU_R128 })!;
    const [row] = shift.rows;
    const after = shift.edit(project, shift.rows);
    expect(figuresOf(await rendered(after, after.clips)).integratedLufs).toBeCloseTo(-23, 4);
    expect(row!.truePeakAfter).toBeCloseTo(figuresOf(await rendered(after, after.clips)).truePeakDbtp!, 4);
    const peaky = shiftProposal(
      { blocks, truePeakDbtp: -1.5 },
      { ...project, target: { ...EBU_R128, integratedLufs: -3 } },
    )!;
    expect(peaky.rows).toMatchObject([{ limitedBy: 'ceiling', gainAfterDb: 0.49 }]);
    const typed = peaky.typed(peaky.rows[0]!, 1);
    expect(typed).toMatchObject({ limitedBy: null, passesCeiling: true, truePeakAfter: -0.5 });
    const louder = peaky.edit(project, [typed]);
    expect(louder.tracks.map(({ gainDb }) => gainDb)).toEqual(project.tracks.map(({ gainDb }) => gainDb + 1));
    // What was set by hand, or levelled, is so still.
    expect(louder.clips).toBe(project.clips);
  });

  it('has nothing to say of silence', () => {
    expect(
      shiftProposal(
        { blocks: new Float64Array(9), truePeakDbtp: null },
        testProject([testClip({ id: 'a' })]),
      ),
    ).toBeNull();
  });
});

describe('mending a finished file', () => {
  const history = (samples: Float32Array): Measured => {
    const meter = new LoudnessMeter(MONO, 48_000);
    meter.push([samples]);
    const kept = meter.finish();
    return { figures: figuresOf(kept), energy: weightedEnergy(kept), sampleRate: 48_000 };
  };
  const tone = (dbfs: number): Float32Array => tones([{ dbfs, seconds: 5 }], 48_000, 1)[0]!;

  it('one gain does it', () => {
    const mend = mendOf(history(tone(-30)), EBU_R128);
    expect(mend.kind).toBe('gain');
    // A 1 kHz tone in one channel reads 3.01 LU under its peak level.
    expect(mend.gainDb).toBeCloseTo(10.01, 1);
    expect(mend.after!.meets).toBe(true);
  });

  it('leaves what meets the target', () => {
    expect(mendOf(history(tone(-20)), EBU_R128)).toMatchObject({ kind: 'leave', gainDb: 0 });
  });

  it('says when gain alone cannot, and why', () => {
    const x = tone(-40);
    x[100_000] = 0.9;
    const mend = mendOf(history(x), EBU_R128);
    expect(mend.kind).toBe('cannot');
    expect(mend.sentence).toMatch(
      /^Gain alone cannot fix it\. The target wants \+\d+\.\d dB, but at .* the true peak reaches −1\.0 dBTP; integrated would still be \d+\.\d LU under\.$/,
    );
  });

  it('a limit that gain brings along is named', () => {
    const target = { ...EBU_R128, maxShortTermLufs: -25 };
    expect(mendOf(history(tone(-30)), target).sentence).toMatch(/max short-term would still be 2\.0 LU over/);
  });

  it('silence has nothing to mend', () => {
    expect(mendOf(history(new Float32Array(96_000)), EBU_R128).kind).toBe('nothing');
    expect(fileGain(history(new Float32Array(96_000)), EBU_R128, 'integrated')).toBeNull();
  });

  it('by true peak goes to the ceiling', () => {
    const gain = fileGain(history(noise(96_000, 0.2)), EBU_R128, 'truePeak')!;
    expect(gain.after.truePeakDbtp).toBeCloseTo(-1, 9);
    expect(gain.limitedBy).toBeNull();
  });
});

describe('verdicts', () => {
  const figures = {
    ...figuresOf({
      sampleRate: 48_000,
      frames: 0,
      layout: MONO,
      energy: [new Float64Array(0)],
      samplePeak: [new Float32Array(0)],
      truePeak: [new Float32Array(0)],
    }),
  };
  const states = (change: object, target = EBU_R128) => verdictOf({ ...figures, ...change }, target);

  it.each([
    [-23.5, -1, ['within', 'within'], true],
    [-22.5, -1, ['within', 'within'], true],
    [-23.51, -1, ['under', 'within'], false],
    [-22.49, -0.99, ['over', 'over'], false],
    [null, null, ['unknown', 'unknown'], null],
    [null, -3, ['unknown', 'within'], null],
    // Too short or too quiet for a loudness, and over the ceiling all the same.
    [null, -0.5, ['unknown', 'over'], false],
    [-23, null, ['within', 'unknown'], true],
  ])('%s LUFS, %s dBTP', (integratedLufs, truePeakDbtp, expected, meets) => {
    const verdict = states({ integratedLufs, truePeakDbtp });
    expect(verdict.figures.map((entry) => entry.state)).toEqual(expected);
    expect(verdict.meets).toBe(meets);
  });

  it('limits on short-term, momentary and range count only where the target has them', () => {
    const loud = {
      integratedLufs: -23,
      truePeakDbtp: -9,
      maxShortTermLufs: -17,
      maxMomentaryLufs: -10,
      loudnessRangeLu: 21,
    };
    expect(states(loud).meets).toBe(true);
    const strict = { ...EBU_R128, maxShortTermLufs: -18, maxMomentaryLufs: -9, maxLoudnessRangeLu: 20 };
    expect(states(loud, strict).figures.map((entry) => entry.state)).toEqual([
      'within',
      'within',
      'over',
      'within',
      'over',
    ]);
  });
});
