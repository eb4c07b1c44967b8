import type { Verdict } from '@/core/check/verdict';
import type { DeliveryFile } from '@/core/deliver/deliveryFiles';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { Project } from '@/core/programme/model';
import type { Failure } from '@/engine/protocol';

/** A file that was delivered, with what it measures by itself. */
export interface DeliveredFile {
  readonly name: string;
  /** `null` once it is saved to a folder or zip: then it is not kept here. */
  readonly blob: Blob | null;
  readonly bytes: number;
  /** Of all of it, in hexadecimal. */
  readonly sha256: string;
  /** The programme it was rendered from, as it was then. */
  readonly project: Project;
  /** What went into it measured, and what the file measures when it is read back. */
  readonly predicted: LoudnessFigures;
  readonly figures: LoudnessFigures;
  /** `null` where it has no target, or is a part of the mix. */
  readonly verdict: Verdict | null;
  /** What was done to it so that it meets its target, or why nothing was, full sentences; `null` where it was not asked for. */
  readonly corrected: string | null;
  /** The gain that it was given, dB. */
  readonly gainDb: number;
  /** Where it does not measure what was worked out, and what was cut off, full sentences; empty when all is well. */
  readonly wrong: readonly string[];
  /** Its true peak is over the ceiling only after coding, a full sentence with what would avoid it. */
  readonly codecOver: string | null;
  /** Its name where it was saved to. */
  readonly savedAs: string | null;
  /** When it was finished, local time as “2026-01-31 21:04:00”. */
  readonly at: string;
}

export type LinePhase = 'waiting' | 'mixing' | 'rendering' | 'reading' | 'saving';
export type LineState = LinePhase | 'done' | 'failed' | 'cancelled';

/** A file on its way, or what became of it. */
export interface FileLine {
  readonly file: DeliveryFile;
  readonly state: LineState;
  /** Of its phase, 0 to 1. */
  readonly done: number;
  readonly failure: Failure | null;
  readonly result: DeliveredFile | null;
}

const PHASES: readonly LineState[] = ['waiting', 'mixing', 'rendering', 'reading', 'saving'];

/** Whether something is still to come of a file. */
export const isOnItsWay = ({ state }: FileLine): boolean => PHASES.includes(state);
