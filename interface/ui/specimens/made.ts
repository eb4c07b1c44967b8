import { OverviewBuilder, joinOverview } from '@/core/audio/overview';
import { MONO } from '@/core/audio/layout';
import { figuresAfterGain, figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { overChannels } from '@/core/loudness/sound';
import { weightedEnergy } from '@/core/loudness/subBlocks';

const RATE = 8_000;
const SECONDS = 12;

/** A tone that swells to full scale and back: a little sound, measured like any other. */
const samples = Float32Array.from({ length: RATE * SECONDS }, (_, i) => {
  const t = i / RATE;
  return 0.98 * Math.sin((Math.PI * t) / SECONDS) ** 2 * Math.sin(2 * Math.PI * 440 * t);
});

const overview = new OverviewBuilder();
const meter = new LoudnessMeter(MONO, RATE, { listeners: [overview] });
meter.push([samples]);
const history = meter.finish();
const figures = figuresOf(history);

export const FIGURES: LoudnessFigures = figures;
export const LEVELLED = figuresAfterGain(
  { figures, energy: weightedEnergy(history), sampleRate: RATE },
  -23 - figures.integratedLufs!,
);

export const TONE = {
  overview: joinOverview([overview.part()], history.frames),
  truePeaks: overChannels(history.truePeak),
  frames: history.frames,
  sampleRate: RATE,
};

export const ROWS = [
  { name: 'narrator-1-last-car', gainDb: 3.5, lufs: -23 },
  { name: 'observer-indoors-1-kettle', gainDb: 15, lufs: -23 },
  { name: 'mechanic-the-spoon', gainDb: 2.6, lufs: -22.5 },
];
