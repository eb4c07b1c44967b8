import type { Layout } from '@/core/audio/layout';
import type { AudioMetadata } from '@/core/audio/metadata';
import type { FramePart } from '@/core/audio/soundWriter';
import type { DeliveredTexts, FileFormat } from '@/core/programme/delivery';

/** A file to be written. */
export interface WrittenFile {
  readonly format: FileFormat;
  readonly sampleRate: number;
  readonly layout: Layout;
  /** How many there will be. */
  readonly frames: number;
  /** For kinds that have chunks for it. */
  readonly metadata: AudioMetadata | null;
  /** For kinds that have tags for it. */
  readonly texts: DeliveredTexts;
  /** Its integrated loudness, for what Opus and AC-3 say of it themselves; `null`: not said. */
  readonly saidLufs: number | null;
  /** Frames that are written; only of kinds that `isCuttable`. All where left out. */
  readonly part?: FramePart;
}
