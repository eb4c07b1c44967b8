import type { Layout } from '@/core/audio/layout';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Target } from '@/core/targets/target';

export type Id = string;

/** What a track is for. */
export type Role = 'dialogue' | 'narration' | 'music' | 'effects' | 'ambience';
export const ROLES: readonly Role[] = ['dialogue', 'narration', 'music', 'effects', 'ambience'];

/** When somebody speaks. */
interface Speech {
  /** The file that says so. */
  readonly from: string;
  readonly ranges: readonly TimeRange[];
}

/** Sound brought in, kept whole; clips point into it. */
export interface Source {
  readonly id: Id;
  readonly name: string;
  /** Where the bytes and their measurement are kept. Sources that share it share the sound. */
  readonly audioKey: string;
  readonly byteLength: number;
  readonly container: string;
  readonly codec: string;
  readonly sampleRate: number;
  readonly layout: Layout;
  /** Length in frames of the source's own rate. */
  readonly frames: number;
  /** The file was damaged or cut short: this is not the whole of it. */
  readonly partial: boolean;
  readonly warnings: readonly string[];
  /** When somebody speaks in it, as a subtitle file says; `null` when none was given. */
  readonly speech: Speech | null;
  /** Frames of its own rate since midnight at which it begins, as the file says; `null` when it does not. */
  readonly timeReference: number | null;
  /** Correction that every clip placed from now on begins with, dB. */
  readonly trimDb: number;
}

/** What a gain was worked out to do. */
export type LevelMeasure = 'integrated' | 'truePeak';
/** Each clip brought to the goal on its own, or all moved by one amount so that their balance stays. */
export type LevelMode = 'each' | 'together';

/** How a gain came about. */
export type GainReason =
  | { readonly kind: 'asRecorded' }
  | { readonly kind: 'byHand' }
  | {
      readonly kind: 'levelled';
      readonly measure: LevelMeasure;
      readonly mode: LevelMode | 'programme';
      /** LUFS or dBTP. */
      readonly goal: number;
      /** The true-peak ceiling stopped it short of the goal. */
      readonly stoppedByCeiling: boolean;
    };

export interface ClipGain {
  /** In all, dB. */
  readonly db: number;
  /** The last change, dB. */
  readonly lastChangeDb: number;
  readonly reason: GainReason;
}

export interface Clip {
  readonly id: Id;
  readonly trackId: Id;
  readonly sourceId: Id;
  readonly name: string;
  /** Where it begins in the programme, programme frames. */
  readonly start: number;
  /** Length, programme frames. */
  readonly length: number;
  /** Where it begins in its source, frames at the programme's rate. */
  readonly sourceStart: number;
  /** The source's trim when it was placed, dB; sounds besides the gain. */
  readonly trimDb: number;
  readonly gain: ClipGain;
  /** Length of the fade from silence at its start and to silence at its end, programme frames. */
  readonly fadeIn: number;
  readonly fadeOut: number;
}

export interface Track {
  readonly id: Id;
  readonly name: string;
  readonly role: Role;
  readonly muted: boolean;
  /** On all its clips, besides their own gain, dB. */
  readonly gainDb: number;
}

/** Everything the editor works on; plain data, never changed in place. */
export interface Project {
  readonly schema: number;
  readonly id: Id;
  readonly name: string;
  /** Hz. */
  readonly sampleRate: number;
  /** Id of a programme layout. */
  readonly layoutId: string;
  readonly target: Target;
  /** In the order they came in. */
  readonly sources: readonly Source[];
  readonly tracks: readonly Track[];
  readonly clips: readonly Clip[];
}

export const AS_RECORDED: ClipGain = { db: 0, lastChangeDb: 0, reason: { kind: 'asRecorded' } };

/** Where a clip ends, programme frames. */
export const clipEnd = (clip: Clip): number => clip.start + clip.length;

/** Length of the programme: to the end of its last clip, in frames. */
export function programmeFrames(project: Project): number {
  return project.clips.reduce((end, clip) => Math.max(end, clipEnd(clip)), 0);
}
