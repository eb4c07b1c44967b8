import type { GainReason, Id, LevelMeasure, LevelMode } from '@/core/programme/model';

/** What the editor asks for. */
export interface LevelRequest {
  readonly measure: LevelMeasure;
  readonly mode: LevelMode;
  /** LUFS for integrated loudness, dBTP for true peak. */
  readonly goal: number;
  /** True peak that no clip may pass, dBTP. */
  readonly ceilingDbtp: number;
}

/** Why a clip gets no gain. */
export type SkipReason = 'silent' | 'tooShort' | 'notMeasured';

/** What the gain of a clip was limited by, if anything. */
export type GainLimit = 'ceiling' | 'gainRange' | null;

/** One clip of a proposal. */
export interface ProposalRow {
  readonly clipId: Id;
  /** What the measure reads with the present gain; `null` when it has no value. */
  readonly before: number | null;
  readonly gainBeforeDb: number;
  /** The gain proposed; the present one when skipped. */
  readonly gainAfterDb: number;
  /** What the measure will read. */
  readonly after: number | null;
  /** Integrated loudness and true peak with the gain proposed. */
  readonly integratedAfter: number | null;
  readonly truePeakAfter: number | null;
  readonly limitedBy: GainLimit;
  readonly skipped: SkipReason | null;
  readonly reason: GainReason;
  /** The row explained in one sentence. */
  readonly sentence: string;
}

export interface Proposal {
  readonly request: LevelRequest;
  readonly rows: readonly ProposalRow[];
}
