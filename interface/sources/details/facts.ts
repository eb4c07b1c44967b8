import type { Source } from '@/core/programme/model';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { byteSize, clock, figure } from '@/core/text/figures';

export type Fact = readonly [label: string, value: string];

const decibels = (offset: number): string =>
  offset === 0 ? 'none' : `${figure(20 * Math.log10(Math.abs(offset)))} dBFS`;

/** What the file of a source says of itself. */
export function saidFacts({ says, sampleRate, timeReference }: Source): Fact[] {
  return [
    ...(says?.texts ?? []),
    ...(timeReference === null ? [] : [['Time reference', clock(timeReference / sampleRate, 3)] as const]),
    ...(says && says.markers > 0 ? [['Cue points', String(says.markers)] as const] : []),
  ];
}

/** What a source is. */
export function fileFacts({
  container,
  codec,
  sampleRate,
  layout,
  frames,
  byteLength,
  folder,
}: Source): Fact[] {
  const stored = container === codec ? codec : `${container}, ${codec}`;
  return [
    ['File', `${stored}, ${byteSize(byteLength)}`],
    ...(folder === '' ? [] : [['Folder', folder] as const]),
    ['Sound', `${sampleRate.toLocaleString('en')} Hz, ${layout.name}`],
    ['Length', `${clock(frames / sampleRate, 3)}, ${frames.toLocaleString('en')} samples`],
  ];
}

/** What it measures beside the figures of its row. */
export function soundFacts({ figures, details }: SoundMeasurement): Fact[] {
  const { loudnessRangeLowLufs: low, loudnessRangeHighLufs: high } = details;
  const silence = details.digitalSilence.reduce((sum, { lengthSeconds }) => sum + lengthSeconds, 0);
  const offset = details.dcOffset.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0);
  return [
    ['Relative gate', `${figure(figures.relativeGateLufs)} LUFS`],
    ['Loudness range', low === null ? '—' : `${figure(low)} to ${figure(high)} LUFS`],
    ['PLR', `${figure(details.peakToLoudnessLu)} LU`],
    ['Noise floor', `${figure(details.noiseFloorLufs)} LUFS`],
    ['Correlation', details.correlation === null ? '—' : figure(details.correlation, 2)],
    ['DC offset', decibels(offset)],
    [
      'Clipped',
      details.clippedRunCount === 0
        ? 'nowhere'
        : `${details.clippedRunCount.toLocaleString('en')} ${details.clippedRunCount === 1 ? 'place' : 'places'}, ${details.clippedSamples.toLocaleString('en')} samples`,
    ],
    ['Drop-outs', details.dropOuts.length === 0 ? 'none' : String(details.dropOuts.length)],
    ['Digital silence', silence === 0 ? 'none' : `${silence.toFixed(1)} s`],
  ];
}
