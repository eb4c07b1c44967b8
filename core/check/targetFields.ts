import type { MoreLimits, Target, WantedForm } from './target';

/** A figure that a target sets: what it is called, in which unit, and how far it goes. */
export interface TargetField {
  readonly key:
    | 'integratedLufs'
    | 'toleranceLu'
    | 'maxTruePeakDbtp'
    | 'maxShortTermLufs'
    | 'maxMomentaryLufs'
    | 'maxLoudnessRangeLu'
    | keyof MoreLimits;
  readonly label: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  /** It must be there. */
  readonly required?: true;
  readonly help: string;
}

const NOT_LIMITED = 'Empty: not limited';

/** All figures of a target, in the order in which they are asked for. */
export const TARGET_FIELDS: readonly TargetField[] = [
  {
    ...{ key: 'integratedLufs', label: 'Integrated', unit: 'LUFS', min: -60, max: 0, required: true },
    help: 'Target loudness, of all of it or of speech',
  },
  {
    ...{ key: 'toleranceLu', label: 'Tolerance', unit: 'LU', min: 0, max: 10, required: true },
    help: 'Allowed deviation to both sides',
  },
  {
    ...{ key: 'maxTruePeakDbtp', label: 'Max true peak', unit: 'dBTP', min: -30, max: 3, required: true },
    help: 'The ceiling',
  },
  {
    ...{ key: 'maxShortTermLufs', label: 'Max short-term', unit: 'LUFS', min: -60, max: 10 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'maxMomentaryLufs', label: 'Max momentary', unit: 'LUFS', min: -60, max: 10 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'maxLoudnessRangeLu', label: 'Max loudness range', unit: 'LU', min: 0, max: 60 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'minLoudnessRangeLu', label: 'Min loudness range', unit: 'LU', min: 0, max: 60 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'maxSamplePeakDbfs', label: 'Max sample peak', unit: 'dBFS', min: -30, max: 0 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'dialogueFromPercent', label: 'Speech rules from', unit: '%', min: 0, max: 100 },
    help: 'Share of the time in which somebody speaks',
  },
  {
    ...{ key: 'minDialogueOverRestLu', label: 'Speech over the rest', unit: 'LU', min: 0, max: 40 },
    help: 'At least, while somebody speaks; empty: not limited',
  },
  {
    ...{ key: 'maxSilenceSeconds', label: 'Longest silence', unit: 's', min: 0, max: 600 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'minHeadSeconds', label: 'Silence at head, least', unit: 's', min: 0, max: 600 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'maxHeadSeconds', label: 'Silence at head, most', unit: 's', min: 0, max: 600 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'minTailSeconds', label: 'Silence at tail, least', unit: 's', min: 0, max: 600 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'maxTailSeconds', label: 'Silence at tail, most', unit: 's', min: 0, max: 600 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'minSeconds', label: 'Length, least', unit: 's', min: 0, max: 360_000 },
    help: NOT_LIMITED,
  },
  {
    ...{ key: 'maxSeconds', label: 'Length, most', unit: 's', min: 0, max: 360_000 },
    help: NOT_LIMITED,
  },
];

/** What a target may ask of the form of a file: what it is called, and how it is written in a list. */
export const FORM_FIELDS: readonly {
  readonly key: keyof WantedForm;
  readonly label: string;
  readonly help: string;
}[] = [
  { key: 'sampleRates', label: 'Sample rates (Hz)', help: 'As 48000, 96000; empty: any' },
  { key: 'bitDepths', label: 'Bit depths', help: 'As 16, 24; empty: any' },
  { key: 'layouts', label: 'Channels', help: 'As stereo, 5.1; empty: any' },
  { key: 'containers', label: 'Kinds of file', help: 'As WAV, FLAC; empty: any' },
];

/** Whether two targets ask the same, whatever they are called. */
export function asksTheSame(a: Target, b: Target): boolean {
  const figures = TARGET_FIELDS.every(({ key }) => (a[key] ?? null) === (b[key] ?? null));
  const forms = FORM_FIELDS.every(({ key }) => (a[key] ?? []).join() === (b[key] ?? []).join());
  return figures && forms && (a.anchor ?? 'programme') === (b.anchor ?? 'programme');
}
