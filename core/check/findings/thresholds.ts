/** From where on something is worth a look. */
export interface Thresholds {
  /** Samples at full scale in a row. */
  readonly clippedSamples: number;
  /** Seconds under −70 LUFS within the sound. */
  readonly silenceSeconds: number;
  /** Seconds under −70 LUFS at its head and tail. */
  readonly edgeSeconds: number;
  /** How much sharper a click is than the sound around it, dB. */
  readonly clickOverDb: number;
  /** How loud it is at least, dBFS. */
  readonly clickDbfs: number;
  /** Offset, dBFS. */
  readonly dcDbfs: number;
  /** Correlation of left and right. */
  readonly correlation: number;
  /** How much quieter one side is than the other, dB. */
  readonly sideDb: number;
  /** How long sides have to differ, or be out of phase, seconds. */
  readonly sideSeconds: number;
  /** Highest usual pitch of what a bass channel carries, Hz. */
  readonly bassHz: number;
  /** Distance of speech over the rest, LU. */
  readonly dialogueLu: number;
  /** Loudness before against after, LU. */
  readonly jumpLu: number;
  /** Change of level in all, LU. */
  readonly driftLu: number;
}

/** A threshold as it is asked for, and where its figure comes from. */
export interface ThresholdField {
  readonly key: keyof Thresholds;
  readonly label: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly usual: number;
  readonly source: string;
}

const PRACTICE = 'Common practice';

export const THRESHOLD_FIELDS: readonly ThresholdField[] = [
  {
    ...{ key: 'clippedSamples', label: 'Full-scale samples in a row', unit: '', min: 3, max: 1000, usual: 3 },
    source: PRACTICE,
  },
  {
    ...{ key: 'silenceSeconds', label: 'Silence within', unit: 's', min: 0.2, max: 600, usual: 2 },
    source: 'Silence: under the absolute gate of ITU-R BS.1770-5; its length: common practice',
  },
  {
    ...{ key: 'edgeSeconds', label: 'Silence at head and tail', unit: 's', min: 0.2, max: 600, usual: 3 },
    source: 'Silence: under the absolute gate of ITU-R BS.1770-5; its length: common practice',
  },
  {
    ...{ key: 'clickOverDb', label: 'Click over the sound around', unit: 'dB', min: 3, max: 60, usual: 10 },
    source: 'Heard and measured on made-up joins',
  },
  {
    ...{ key: 'clickDbfs', label: 'Click, at least', unit: 'dBFS', min: -90, max: 0, usual: -50 },
    source: 'Heard and measured on made-up joins',
  },
  {
    ...{ key: 'dcDbfs', label: 'DC offset', unit: 'dBFS', min: -90, max: 0, usual: -50 },
    source: PRACTICE,
  },
  {
    ...{ key: 'correlation', label: 'Correlation of left and right', unit: '', min: -1, max: 0, usual: -0.3 },
    source: PRACTICE,
  },
  {
    ...{ key: 'sideDb', label: 'One side under the other', unit: 'dB', min: 6, max: 80, usual: 30 },
    source: PRACTICE,
  },
  {
    ...{ key: 'sideSeconds', label: 'Out of phase or one-sided for', unit: 's', min: 0.2, max: 60, usual: 2 },
    source: PRACTICE,
  },
  {
    ...{ key: 'bassHz', label: 'Bass channel up to', unit: 'Hz', min: 80, max: 2000, usual: 250 },
    source: 'The LFE channel carries up to 120 Hz (ITU-R BS.775), with room for slopes',
  },
  {
    ...{ key: 'dialogueLu', label: 'Dialogue over the rest', unit: 'LU', min: 0, max: 40, usual: 4 },
    source: PRACTICE,
  },
  {
    ...{ key: 'jumpLu', label: 'Level jump', unit: 'LU', min: 1, max: 40, usual: 8 },
    source: PRACTICE,
  },
  {
    ...{ key: 'driftLu', label: 'Level drift', unit: 'LU', min: 1, max: 40, usual: 4 },
    source: PRACTICE,
  },
];

export const USUAL_THRESHOLDS = Object.fromEntries(
  THRESHOLD_FIELDS.map(({ key, usual }) => [key, usual]),
) as unknown as Thresholds;
