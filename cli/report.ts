import type { IntegrityFault } from '@/core/audio/integrity';
import type { AudioMetadata } from '@/core/audio/metadata';
import { amplitudeToDb } from '@/core/loudness/decibels';
import { detailsOf, type SignalDetails } from '@/core/loudness/details';
import type { ExactPeak } from '@/core/loudness/exactTruePeak';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import {
  integratedWithin,
  loudnessSeries,
  type TimeRange,
  type WithinRanges,
} from '@/core/loudness/levelTrack';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { clock, figure } from '@/core/text/figures';
import type { Measured } from './measureFile';
import { shown } from './say';

/** Loudness and peaks over time, a value every 100 ms. */
interface Series {
  readonly stepSeconds: number;
  readonly momentaryLufs: readonly (number | null)[];
  readonly shortTermLufs: readonly (number | null)[];
  readonly channels: readonly {
    readonly label: string;
    readonly truePeakDbtp: readonly (number | null)[];
    readonly samplePeakDbfs: readonly (number | null)[];
  }[];
}

/** What `measure --json` says of a file. */
export interface FileReport extends LoudnessFigures, Omit<SignalDetails, 'notFiniteSamples'> {
  readonly file: string;
  readonly format: string;
  readonly codec: string;
  readonly bitDepth: number;
  readonly sampleRate: number;
  readonly channels: number;
  readonly layout: string;
  readonly frames: number;
  readonly durationSeconds: number;
  /** Part of the file that was measured, seconds; `null` when all of it. */
  readonly range: TimeRange | null;
  /** The file was damaged or cut short: the figures are of what is there. */
  readonly partial: boolean;
  readonly notFiniteSamples: number;
  readonly exactTruePeak: ExactPeak | null;
  readonly dialogue: (WithinRanges & { readonly from: string }) | null;
  readonly metadata: AudioMetadata | null;
  readonly series?: Series;
  readonly warnings: readonly string[];
  /** Those of the warnings for which the figures cannot be certified. */
  readonly integrity: readonly IntegrityFault[];
}

/** What goes into a report beside the measurement. */
export interface Extras {
  readonly range: TimeRange | null;
  readonly exactTruePeak: ExactPeak | null;
  readonly speech: { readonly from: string; readonly ranges: readonly TimeRange[] } | null;
  readonly series: boolean;
}

function seriesOf({ measured: { history } }: Measured): Series {
  const decibels = (peaks: Float32Array): (number | null)[] => Array.from(peaks, amplitudeToDb);
  return {
    stepSeconds: 0.1,
    ...loudnessSeries({ energy: weightedEnergy(history), sampleRate: history.sampleRate }),
    channels: history.layout.labels.map((label, c) => ({
      label,
      truePeakDbtp: decibels(history.truePeak[c]!),
      samplePeakDbfs: decibels(history.samplePeak[c]!),
    })),
  };
}

/** Speech is told in the file's time; a range begins somewhere in it. */
const shifted = (ranges: readonly TimeRange[], by: number): TimeRange[] =>
  ranges.map(({ from, to }) => ({ from: from - by, to: to - by }));

export function reportOf(file: string, sound: Measured, extras: Extras): FileReport {
  const { format, measured } = sound;
  const { history } = measured;
  const { speech, range } = extras;
  return {
    file,
    format: format.container,
    codec: format.codec,
    bitDepth: format.bitDepth,
    sampleRate: format.sampleRate,
    channels: format.layout.labels.length,
    layout: format.layout.name,
    frames: format.frames,
    durationSeconds: format.frames / format.sampleRate,
    range,
    partial: format.partial,
    ...figuresOf(history),
    ...detailsOf(measured),
    exactTruePeak: extras.exactTruePeak,
    dialogue: speech && {
      ...integratedWithin(
        { energy: weightedEnergy(history), sampleRate: history.sampleRate },
        shifted(speech.ranges, range?.from ?? 0),
      ),
      from: speech.from,
    },
    metadata: format.metadata,
    ...(extras.series && { series: seriesOf(sound) }),
    warnings: format.warnings,
    integrity: format.integrity,
  };
}

const place = (seconds: number | null): string => (seconds === null ? '' : ` at ${clock(seconds)}`);

/** A report for people. */
export function describe(report: FileReport): string {
  const {
    positions,
    loudnessRangeLowLufs: low,
    loudnessRangeHighLufs: high,
    exactTruePeak,
    dialogue,
  } = report;
  const rows: (readonly [string, string])[] = [
    ['Integrated', `${figure(report.integratedLufs)} LUFS`],
    ['Relative gate', `${figure(report.relativeGateLufs)} LUFS`],
    ...(dialogue
      ? [['Dialogue', `${figure(dialogue.integratedLufs)} LUFS over ${clock(dialogue.seconds)}`] as const]
      : []),
    ['Max momentary', `${figure(report.maxMomentaryLufs)} LUFS${place(positions.maxMomentary)}`],
    ['Max short-term', `${figure(report.maxShortTermLufs)} LUFS${place(positions.maxShortTerm)}`],
    [
      'Loudness range',
      `${figure(report.loudnessRangeLu)} LU${low === null ? '' : `, ${figure(low)} to ${figure(high)} LUFS`}`,
    ],
    ['True peak', `${figure(report.truePeakDbtp)} dBTP${place(positions.truePeak)}`],
    ...(exactTruePeak
      ? [
          [
            '  exact',
            `${figure(exactTruePeak.truePeakDbtp, 2)} dBTP${place(exactTruePeak.atSeconds)}`,
          ] as const,
        ]
      : []),
    ['Sample peak', `${figure(report.samplePeakDbfs)} dBFS`],
    ...report.channelPeaks.map(
      ({ label, truePeakDbtp, samplePeakDbfs }) =>
        [`  channel ${label}`, `${figure(truePeakDbtp)} dBTP, ${figure(samplePeakDbfs)} dBFS`] as const,
    ),
    ['Noise floor', `${figure(report.noiseFloorLufs)} LUFS`],
    ...(report.clippedRunCount > 0
      ? [
          [
            'Clipped',
            `${report.clippedRunCount} places${place(report.clippedRuns[0]?.startSeconds ?? null)}`,
          ] as const,
        ]
      : []),
    ...(report.dropOuts.length > 0
      ? [['Drop-outs', `${report.dropOuts.length}${place(report.dropOuts[0]!.startSeconds)}`] as const]
      : []),
  ];
  const part = report.range
    ? `, from ${clock(report.range.from)}${Number.isFinite(report.range.to) ? ` to ${clock(report.range.to)}` : ''}`
    : '';
  const head = `${shown(report.file)}  ${clock(report.durationSeconds)}${part}, ${report.layout}, ${report.sampleRate} Hz, ${report.codec}${report.partial ? ', partial' : ''}`;
  const notes = report.warnings.map((warning) => `  ! ${warning}`);
  return [head, ...rows.map(([label, value]) => `  ${label.padEnd(16)}${value}`), ...notes].join('\n');
}
