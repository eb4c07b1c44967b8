/** Loudness figures that a file states about itself. Source: EBU Tech 3285, Supplement 6 (bext version 2). */
export interface StatedLoudness {
  readonly integratedLufs: number | null;
  readonly loudnessRangeLu: number | null;
  readonly maxTruePeakDbtp: number | null;
  readonly maxMomentaryLufs: number | null;
  readonly maxShortTermLufs: number | null;
}

export interface Marker {
  /** Frame of the sound. */
  readonly frame: number;
  readonly label: string;
}

/** What a file says about itself beside its sound. */
export interface AudioMetadata {
  readonly description: string | null;
  readonly originator: string | null;
  /** “2026-01-31 21:04:00” as the file has it. */
  readonly originated: string | null;
  /** Samples since midnight at which the sound begins. */
  readonly timeReference: number | null;
  readonly codingHistory: string | null;
  readonly loudness: StatedLoudness | null;
  readonly markers: readonly Marker[];
  /** The iXML document as it stands. */
  readonly ixml: string | null;
}

export const NO_METADATA: AudioMetadata = {
  description: null,
  originator: null,
  originated: null,
  timeReference: null,
  codingHistory: null,
  loudness: null,
  markers: [],
  ixml: null,
};

/** The metadata, or `null` when they say nothing. */
export function metadataOrNull(metadata: AudioMetadata): AudioMetadata | null {
  const { markers, ...rest } = metadata;
  return markers.length > 0 || Object.values(rest).some((value) => value !== null) ? metadata : null;
}
