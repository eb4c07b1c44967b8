import type { AudioFormat } from '@/core/audio/reader';
import type { SoundTrack } from '@/core/audio/stream';
import { verdictOf, type Judged, type Outcome, type Verdict } from '@/core/check/verdict';
import type { Target } from '@/core/check/target';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Mend } from '@/core/proposals/fileGain';
import type { Failure } from '@/engine/protocol';
import type { MendedFile } from './mended';

/** When somebody speaks in a file. */
export interface FileSpeech {
  readonly by: 'detector' | 'hand';
  /** Seconds, in order. */
  readonly ranges: readonly TimeRange[];
}

/** What a file comes to, once it is measured. */
interface Checked {
  readonly format: AudioFormat;
  readonly judged: Judged;
  readonly breaks: number;
  readonly looks: number;
  /** The gain that mends it for the leading target. */
  readonly mend: Mend;
}

/** What is done to a file. */
export type FileWork = 'waiting' | 'measuring' | 'speech' | 'peak' | 'checking' | 'mending';
export const WORK_NAMES: Readonly<Record<FileWork, string>> = {
  waiting: 'Waiting',
  measuring: 'Measuring',
  speech: 'Finding speech',
  peak: 'Exact true peak',
  checking: 'Checking',
  mending: 'Mending',
};

/** A file under audit. */
export interface AuditFile {
  readonly id: string;
  readonly file: File;
  /** The folder it came out of; empty when that is not known. */
  readonly folder: string;
  /** Its sounds, if it has several, and which of them this is. */
  readonly sounds: readonly SoundTrack[];
  readonly track: number;
  /** Id of the layout that is declared for it; `null`: as the file says. */
  readonly layoutId: string | null;
  readonly work: FileWork | null;
  /** 0 to 1 */
  readonly done: number;
  readonly failure: Failure | null;
  readonly cancelled: boolean;
  readonly checked: Checked | null;
  readonly speech: FileSpeech | null;
  /** Exact true peak, dBTP, where it was worked out. */
  readonly exactPeakDbtp: number | null;
  readonly mended: MendedFile | null;
  /** Raised whenever its check is another. */
  readonly turn: number;
}

/** How a file stands to the leading target. */
export type Standing = Outcome | 'failed' | 'waiting';

function standingOfFile({ checked, failure }: AuditFile, target: Target): Standing {
  if (failure) return 'failed';
  if (!checked) return 'waiting';
  return verdictOf(checked.judged, target).outcome;
}

/** A file with its verdicts, in the order of the targets. */
export interface AuditRow {
  readonly id: string;
  readonly file: AuditFile;
  readonly verdicts: readonly Verdict[];
  readonly standing: Standing;
}

export const auditRow = (file: AuditFile, targets: readonly Target[]): AuditRow => ({
  id: file.id,
  file,
  verdicts: file.checked ? targets.map((target) => verdictOf(file.checked!.judged, target)) : [],
  standing: standingOfFile(file, targets[0]!),
});
