import { describe, expect, it } from 'vitest';
import { figuresOf } from '@/core/loudness/figures';
import { exactTruePeak } from '@/core/loudness/exactTruePeak';
import { measureReader } from '@/core/loudness/measureReader';
import { overChannels, soundMeasurement } from '@/core/loudness/sound';
import { memoryReader, noise } from '@/core/testing/signals';
import { exactClipPeak, measureClip, withBaseGain } from '@/core/measuring/measureClip';
import { clipSound } from '@/core/signal/clipSound';
import { testClip, testProject } from '@/core/testing/projects';
import { EBU_R128 } from '@/core/check/shipped';
import { exactPeakMatters, exactPeakToShow } from './exactPeak';
import { fileGain, mendOf, nothingToLevel } from './fileGain';
import { PLAIN_REQUEST, type LevelRequest } from './proposal';
import { propose, wantExactPeak } from './propose';
import { wholeSound } from './proposal';
import { CLIP_GAIN } from '@/core/programme/gainField';

const RATE = 48_000;
/** A burst of samples at random signs in quiet noise: the hardest there is for a short filter. */
const hard = noise(RATE * 20, 0.01, 5).map((v, i) => (i > 60_000 && i < 61_500 ? Math.sign(v) * 0.3 : v));
const reader = memoryReader([hard, hard.slice()], RATE);
const measuring = measureReader(reader, () => true);
const exactOf = async (): Promise<number> => {
  const { history } = (await measuring)!;
  return (await exactTruePeak(reader, overChannels(history.truePeak), () => true))!.truePeakDbtp!;
};
const request: LevelRequest = { ...PLAIN_REQUEST, goal: -10, ceilingDbtp: -1 };

describe('the exact true peak', () => {
  it('matters where the standard’s figure comes near the ceiling, and is shown where it differs', () => {
    expect(exactPeakMatters(-3.9, -1)).toBe(true);
    expect(exactPeakMatters(-4.1, -1)).toBe(false);
    expect(exactPeakMatters(null, -1)).toBe(false);
    expect(exactPeakToShow(-1, -0.8)).toBe(-0.8);
    expect(exactPeakToShow(-1, -0.95)).toBeNull();
    expect(exactPeakToShow(-1, null)).toBeNull();
  });

  it('keeps a file under the ceiling by the larger of the two readings', async () => {
    const measured = soundMeasurement((await measuring)!);
    const exact = await exactOf();
    expect(exact).toBeGreaterThan(measured.figures.truePeakDbtp! + 0.5);
    const target = { ...EBU_R128, integratedLufs: -10 };
    const plain = fileGain(measured, target, 'integrated')!;
    const kept = fileGain(measured, target, 'integrated', exact)!;
    expect(plain.after.truePeakDbtp).toBeCloseTo(-1, 9);
    expect(kept.exactPeakAfterDbtp).toBeCloseTo(-1, 9);
    expect(plain.gainDb - kept.gainDb).toBeCloseTo(exact - measured.figures.truePeakDbtp!, 9);
    expect(mendOf(measured, target, exact).sentence).toMatch(/the exact true peak reaches −1\.0 dBTP/);
  });

  it('does the same for clips, and is asked for only where it may matter', async () => {
    const measured = soundMeasurement((await measuring)!);
    const entry = wholeSound({ id: 'a', name: 'hard', range: CLIP_GAIN }, measured, hard.length);
    const quiet = { ...request, goal: -40 };
    expect(wantExactPeak(propose([entry], quiet), [entry])).toEqual([]);
    const first = propose([entry], request);
    expect(wantExactPeak(first, [entry])).toEqual([entry]);
    expect(wantExactPeak(propose([entry], { ...request, policy: 'pass' }), [entry])).toEqual([]);
    const exact = await exactOf();
    const known = { ...entry, measurement: { ...entry.measurement!, exactTruePeakDbtp: exact } };
    const second = propose([known], request);
    expect(wantExactPeak(second, [known])).toEqual([]);
    const [row] = second.rows;
    expect(row!.exactPeakAfter).toBeCloseTo(-1, 9);
    expect(row!.truePeakAfter!).toBeLessThan(-1.5);
    expect(row!.passesCeiling).toBe(false);
    expect(row!.sentence).toMatch(/the exact peak at .* reaches −1\.0 dBTP first/);
    // What lies on a clip besides moves both readings.
    expect(withBaseGain(known.measurement, -6).exactTruePeakDbtp).toBeCloseTo(exact - 6, 9);
  });

  it('of a clip is that of the clip as it stands in the programme', async () => {
    const project = testProject([testClip({ id: 'a', start: 0, length: 90_000, fadeIn: 0, fadeOut: 0 })]);
    const sound = { ...clipSound(project, project.clips[0]!)!, sourceLayout: reader.format.layout };
    const measurement = (await measureClip(reader, sound, () => true))!;
    const found = (await exactClipPeak(reader, sound, measurement.truePeaks, () => true))!;
    expect(found.exact!).toBeGreaterThanOrEqual(measurement.figures.truePeakDbtp! - 0.01);
    expect(found.exact!).toBeCloseTo(await exactOf(), 6);
  });

  it('a file too short, too quiet or silent is said to be just that', async () => {
    const told = async (samples: Float32Array): Promise<string> => {
      const measured = soundMeasurement((await measureReader(memoryReader([samples], RATE), () => true))!);
      return nothingToLevel(measured);
    };
    expect(await told(noise(4_800, 0.1, 1))).toMatch(/shorter than the 0\.4 s/);
    expect(await told(noise(48_000, 0.0001, 1))).toMatch(/nothing over −70 LUFS in this file\.$/);
    expect(await told(new Float32Array(48_000))).toMatch(/it is silent/);
    expect(figuresOf((await measuring)!.history).truePeakDbtp).not.toBeNull();
  });
});
