import papa from 'papaparse';
import type { FileReport } from './report';

/** Columns of `measure --csv`: what of a report fits in one line. */
const COLUMNS = [
  'file',
  'format',
  'codec',
  'bitDepth',
  'sampleRate',
  'channels',
  'layout',
  'durationSeconds',
  'partial',
  'integratedLufs',
  'relativeGateLufs',
  'maxMomentaryLufs',
  'maxShortTermLufs',
  'loudnessRangeLu',
  'loudnessRangeLowLufs',
  'loudnessRangeHighLufs',
  'truePeakDbtp',
  'samplePeakDbfs',
  'peakToLoudnessLu',
  'noiseFloorLufs',
  'correlation',
  'clippedRunCount',
] as const satisfies readonly (keyof FileReport)[];

const OWN = ['exactTruePeakDbtp', 'dialogueLufs', 'error'] as const;

type Cell = string | number | boolean | null | undefined;

/** One line after RFC 4180; what a spreadsheet would take for a formula stays text. */
export const csvRow = (cells: readonly Cell[]): string =>
  papa.unparse([cells.map((cell) => cell ?? '')], { escapeFormulae: true });

export const csvHead = (): string => csvRow([...COLUMNS, ...OWN]);

export function csvLine(report: FileReport): string {
  const own = [report.exactTruePeak?.truePeakDbtp, report.dialogue?.integratedLufs, null];
  return csvRow([...COLUMNS.map((column) => report[column]), ...own]);
}

export function csvFailure(file: string, message: string): string {
  return csvRow(
    COLUMNS.map((column): Cell => (column === 'file' ? file : null)).concat([null, null, message]),
  );
}
