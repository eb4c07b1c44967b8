import type { DeliveryFile } from '@/core/deliver/deliveryFiles';
import type { HandedOver } from '@/core/deliver/handoverReport';
import type { Failure } from '@/engine/protocol';

/** A file that was delivered, with what it measures by itself. */
export interface DeliveredFile extends Omit<HandedOver, 'file' | 'stale'> {
  /** `null` once it is saved to a folder or zip: then it is not kept here. */
  readonly blob: Blob | null;
}

export type LinePhase = 'waiting' | 'mixing' | 'rendering' | 'reading' | 'hashing' | 'saving';
export type LineState = LinePhase | 'done' | 'failed' | 'cancelled';

/** What a file measures by itself, and what follows from that. */
export type MeasuredFile = Pick<DeliveredFile, 'figures' | 'verdict' | 'wrong' | 'codecOver' | 'sum'>;

/** A file on its way, or what became of it. */
export interface FileLine {
  readonly file: DeliveryFile;
  readonly state: LineState;
  readonly failure: Failure | null;
  /** Known before its checksum is. */
  readonly measured: MeasuredFile | null;
  readonly result: DeliveredFile | null;
}

const PHASES: readonly LineState[] = ['waiting', 'mixing', 'rendering', 'reading', 'hashing', 'saving'];

/** Whether something is still to come of a file. */
export const isOnItsWay = ({ state }: FileLine): boolean => PHASES.includes(state);
