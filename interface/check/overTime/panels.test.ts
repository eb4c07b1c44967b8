import fc from 'fast-check';
import papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import { overTime } from '@/core/check/overTime';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { overChannels } from '@/core/loudness/sound';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { everyHop, gatingBlocks, shortTermWindows } from '@/core/loudness/windows';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import { memoryReader, tones } from '@/core/testing/signals';
import { chartCsv, chartSvg } from './chartFiles';
import { momentAt, panelsOf, type ChartData } from './panels';
import { columns } from './plot';

/** A tone that goes up by 10 dB after ten seconds. */
async function chart(): Promise<ChartData> {
  const samples = tones(
    [
      { seconds: 10, dbfs: -30 },
      { seconds: 10, dbfs: -20 },
    ],
    48_000,
  );
  const reader = memoryReader(samples, 48_000);
  const measured = (await measureReader(reader, () => true))!;
  const { history } = measured;
  const energy = weightedEnergy(history);
  return {
    programme: {
      ...{ energy, sampleRate: 48_000, figures: figuresOf(history), lengthSeconds: 20 },
      truePeaks: overChannels(history.truePeak),
      blocks: gatingBlocks(energy, 48_000),
      shortTerm: everyHop(shortTermWindows(energy, 48_000)),
    },
    overTime: overTime(fileMaterial(measured, reader.format, null), history.truePeak),
    target: EBU_R128,
    channels: ['L', 'R'],
    reductions: [{ blocks: Int32Array.of(30, 70), db: Float32Array.of(2, 5) }],
  };
}

describe('what is drawn over time', () => {
  it('tells every moment as it is measured', async () => {
    const data = await chart();
    const early = momentAt(data, 5);
    expect(early.momentaryLufs).toBeCloseTo(-30, 1);
    expect(early.shortTermLufs).toBeCloseTo(-30, 1);
    expect(early.runningLufs).toBeCloseTo(-30, 1);
    expect(early.truePeakDbtp.map((db) => Math.round(db!))).toEqual([-30, -30]);
    const late = momentAt(data, 15);
    expect(late.momentaryLufs).toBeCloseTo(-20, 1);
    // Ten seconds at −30 are left out by the gate no more than just: the mean of both powers.
    expect(late.runningLufs!).toBeGreaterThan(-24);
    expect([
      momentAt(data, 3).reductionDb,
      momentAt(data, 3.5).reductionDb,
      momentAt(data, 7).reductionDb,
    ]).toEqual([2, 0, 5]);
    expect(early.speechOverRestLu).toBeNull();
    expect(momentAt(data, 400).momentaryLufs).toBeNull();
  });

  it('shows the largest value under each pixel, whatever the zoom', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 20, maxLength: 200 }),
        fc.integer({ min: 1, max: 50 }),
        (values, width) => {
          const seconds = values.length / 10;
          const shown = columns(values, 0.05, 0.1, { from: 0, to: seconds }, width, (value) => value);
          // All of it shown, nothing high is lost between two pixels.
          expect(Math.max(...[...shown].filter((value) => !Number.isNaN(value)))).toBe(Math.max(...values));
        },
      ),
    );
  });

  it('goes into files: every 100 ms as a table, the charts as a picture of lines', async () => {
    const data = await chart();
    const { data: rows } = papa.parse<Record<string, string>>(chartCsv(data).trim(), { header: true });
    expect(rows).toHaveLength(201);
    expect(Number(rows[150]!['momentaryLufs'])).toBeCloseTo(-20, 1);
    expect(Number(rows[70]!['gainReductionDb'])).toBe(5);
    const svg = chartSvg(data, { from: 0, to: 20 }, (name) => `#${name.length}`);
    expect(svg.match(/<g /g)).toHaveLength(panelsOf(data).length);
    expect(svg).toContain('target −23.0 LUFS');
    expect(svg).not.toMatch(/NaN|Infinity/);
  });
});
