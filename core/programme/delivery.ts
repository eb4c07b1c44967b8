import type { WriteFormat } from '@/core/audio/pcm';
import type { Target } from '@/core/check/target';
import type { Role } from './role';

/** What a file is written as. */
export type FileKind =
  'wav' | 'bwf' | 'rf64' | 'bw64' | 'aiff' | 'flac' | 'mp3' | 'opus' | 'mov' | 'mp4' | 'mkv';

/** What codes the sound with loss in a film's container. */
export type Coder = 'opus' | 'ac3';

/** How the sound lies in a file. */
export interface FileFormat {
  readonly kind: FileKind;
  /** Where the kind has plain samples, or FLAC. */
  readonly depth: WriteFormat;
  /** Triangular noise of two steps under 16 bits, so that what is fainter than a step is not cut off. */
  readonly dither: boolean;
  /** In a film's container: coded with loss rather than as plain samples. */
  readonly coded: boolean;
  /** What codes it there; absent: Opus. */
  readonly coder?: Coder;
  /** Of what is coded with loss. */
  readonly kbps: number;
}

/** What of the programme is delivered: one file, or a file for each. */
export type Delivered =
  | { readonly kind: 'programme' }
  /** A file for every role that has clips. */
  | { readonly kind: 'roles' }
  /** A file for each of these tracks; for every one that has clips where there are none. */
  | { readonly kind: 'tracks'; readonly trackIds: readonly string[] }
  /** One file of all but these roles. */
  | { readonly kind: 'without'; readonly roles: readonly Role[] }
  /** One file of these clips alone. */
  | { readonly kind: 'clips'; readonly clipIds: readonly string[] };

/** From where to where. */
export type DeliveredRange =
  | { readonly kind: 'all' }
  /** Programme frames. */
  | { readonly kind: 'range'; readonly from: number; readonly to: number }
  /** A file from each marker to the next, the last to the end. */
  | { readonly kind: 'markers' };

/**
 * What may still be done to a file that misses its target: nothing; one gain; one gain and a limiter where gain alone does not do
 * it. What meets its target is never touched.
 */
export type Correction = 'none' | 'gain' | 'limiter';

/** What a file says of itself where its kind has a place for it. */
export interface DeliveredTexts {
  readonly title: string;
  readonly artist: string;
  readonly description: string;
  /** As in “en” or “de-AT”; also a field of names. */
  readonly language: string;
}

/** Files of one kind that are handed over. */
export interface Delivery {
  readonly id: string;
  /** What its files are called, without an ending; fields in braces. */
  readonly pattern: string;
  /** A field of names. */
  readonly version: number;
  /** What they are judged by and corrected to; `null`: not judged. */
  readonly target: Target | null;
  readonly what: Delivered;
  readonly range: DeliveredRange;
  /** Id of a layout; `null`: that of the programme. */
  readonly layoutId: string | null;
  /** Hz; `null`: that of the programme. */
  readonly sampleRate: number | null;
  readonly format: FileFormat;
  readonly correction: Correction;
  readonly texts: DeliveredTexts;
  /** Silence put before and behind, seconds. */
  readonly headSeconds: number;
  readonly tailSeconds: number;
  /** More of the programme around a range or from marker to marker, seconds. */
  readonly handleSeconds: number;
  /** The loudness that was measured is written into the file, where its kind has a place for it. */
  readonly saysLoudness: boolean;
}

export const NO_TEXTS: DeliveredTexts = { title: '', artist: '', description: '', language: '' };

export const WAV_24: FileFormat = { kind: 'wav', depth: 's24', dither: true, coded: false, kbps: 192 };

/** The whole programme as it is, not corrected. */
export const plainDelivery = (id: string, target: Target | null): Delivery => ({
  ...{ id, pattern: '{project}', version: 1, target, what: { kind: 'programme' }, range: { kind: 'all' } },
  ...{ layoutId: null, sampleRate: null, format: WAV_24, correction: 'none', texts: NO_TEXTS },
  ...{ headSeconds: 0, tailSeconds: 0, handleSeconds: 0, saysLoudness: true },
});

/** Whether its files are parts of the mix, which add up to it. */
export const isStems = ({ what }: Delivery): boolean => what.kind !== 'programme';
