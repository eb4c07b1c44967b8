/** Whose loudness is held against the target: all of it, speech, or speech where there is enough of it. */
export type Anchor = 'programme' | 'dialogue' | 'dialogueFrom';

/** Limits that a target may set besides loudness and true peak; left out or `null`: not limited. */
export interface MoreLimits {
  /** From which share of speech on it rules, per cent of the time; with the anchor `dialogueFrom` only. */
  readonly dialogueFromPercent?: number | null;
  /** Smallest loudness range, LU. */
  readonly minLoudnessRangeLu?: number | null;
  /** Highest sample peak, dBFS. */
  readonly maxSamplePeakDbfs?: number | null;
  /** How far the rest lies under speech at least, while somebody speaks, LU. */
  readonly minDialogueOverRestLu?: number | null;
  /** Longest silence within it, seconds. */
  readonly maxSilenceSeconds?: number | null;
  /** Silence before the first sound, seconds. */
  readonly minHeadSeconds?: number | null;
  readonly maxHeadSeconds?: number | null;
  /** Silence after the last sound, seconds. */
  readonly minTailSeconds?: number | null;
  readonly maxTailSeconds?: number | null;
  /** Length, seconds. */
  readonly minSeconds?: number | null;
  readonly maxSeconds?: number | null;
}

/** What of the form of a file a target may ask; left out: anything. */
export interface WantedForm {
  /** Hz, one of them. */
  readonly sampleRates?: readonly number[];
  readonly bitDepths?: readonly number[];
  /** Ids of layouts, one of them. */
  readonly layouts?: readonly string[];
  /** Kinds of file as they are named: “WAV”, “RF64”, “FLAC”. */
  readonly containers?: readonly string[];
}

/** What a delivery must meet. All limits are compared unrounded. */
export interface Target extends MoreLimits, WantedForm {
  readonly id: string;
  readonly name: string;
  /** Where the figures come from: the standard's name, “common practice” or “your own”. */
  readonly source: string;
  /** The edition of the standard that says how it is measured. */
  readonly edition?: string;
  /** Where single figures come from, where that is not {@link source}: by field. */
  readonly sources?: Readonly<Record<string, string>>;
  /** Left out: `programme`. */
  readonly anchor?: Anchor;
  /** Target loudness, LUFS (LKFS is the same unit). */
  readonly integratedLufs: number;
  /** How far loudness may lie from the target, ± LU. */
  readonly toleranceLu: number;
  /** Highest true peak allowed, dBTP. */
  readonly maxTruePeakDbtp: number;
  /** Highest short-term loudness allowed, LUFS; `null` when not limited. */
  readonly maxShortTermLufs: number | null;
  /** Highest momentary loudness allowed, LUFS; `null` when not limited. */
  readonly maxMomentaryLufs: number | null;
  /** Largest loudness range allowed, LU; `null` when not limited. */
  readonly maxLoudnessRangeLu: number | null;
}

/** Where a field's figure comes from. */
export const sourceOf = (target: Target, field: string): string => target.sources?.[field] ?? target.source;

/** Whether a target cannot be judged without knowing when somebody speaks. */
export const needsSpeech = ({ anchor = 'programme' }: Pick<Target, 'anchor'>): boolean =>
  anchor !== 'programme';
