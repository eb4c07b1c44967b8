import { amplitudeToDb, meanSquareToLufs } from '@/core/loudness/decibels';
import { ABSOLUTE_GATE_LUFS, integrated } from '@/core/loudness/gating';
import { largest } from '@/core/loudness/figures';
import type { ClipShare } from '@/core/measuring/measureEach';
import { overChannels } from '@/core/loudness/sound';
import { PEAK_BLOCKS_PER_SECOND, weightedEnergy, type WeightedHistory } from '@/core/loudness/subBlocks';
import { everyHop, gatingBlocks, shortTermWindows } from '@/core/loudness/windows';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Clip, Project } from '@/core/programme/model';
import type { FoundClick } from '@/core/proposals/clicks';
import type { Finding } from '@/core/check/findings/finding';
import type { ApartLevels, CheckMaterial } from '@/core/check/findings/material';
import type { Thresholds } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';

/** What a programme measures in some state. Of most states little is asked, so each figure is worked out when it is. */
export class TriedState {
  readonly energy: Float64Array;
  private blocks: Float64Array | null = null;

  constructor(private readonly history: WeightedHistory) {
    this.energy = weightedEnergy(history);
  }

  /** Mean squares, one every 100 ms. */
  get momentary(): Float64Array {
    return (this.blocks ??= gatingBlocks(this.energy, this.history.sampleRate));
  }

  /** Mean squares, one every 100 ms. */
  get shortTerm(): Float64Array {
    return everyHop(shortTermWindows(this.energy, this.history.sampleRate));
  }

  /** Of every 100 ms, linear. */
  get truePeaks(): Float32Array {
    return overChannels(this.history.truePeak);
  }

  get integratedLufs(): number | null {
    return integrated(this.momentary).integratedLufs;
  }

  get truePeakDbtp(): number | null {
    return amplitudeToDb(Math.max(0, ...this.history.truePeak.map(largest)));
  }
}

/** A clip, and what it brings over a range of the programme. */
export interface ClipOver extends ClipShare {
  readonly clip: Clip;
}

/** What fixes are worked out with. */
export interface Workshop {
  readonly project: Project;
  readonly target: Target;
  readonly thresholds: Thresholds;
  readonly material: CheckMaterial;
  readonly clicks: readonly FoundClick[];
  /** Measures another state of the programme; only what differs is rendered. */
  readonly tryOut: (edited: Project) => Promise<TriedState>;
  /** Speech and the rest of a state over a range, seconds, put into those of the programme as it stands. */
  readonly apartWith: (edited: Project, range: TimeRange) => Promise<ApartLevels | null>;
  /** The clips that sound in a range, seconds, the one with the most energy first. */
  readonly clipsOver: (range: TimeRange) => Promise<readonly ClipOver[]>;
}

/** What a programme comes to in a state, and by how much that changes its loudness, LU; what has none counts as at the gate. */
export function resultOf(state: TriedState, { material }: Pick<Workshop, 'material'>) {
  const { integratedLufs, truePeakDbtp } = state;
  const before = material.figures.integratedLufs ?? ABSOLUTE_GATE_LUFS;
  return { integratedLufs, truePeakDbtp, changeLu: (integratedLufs ?? ABSOLUTE_GATE_LUFS) - before };
}

/** Lengths of the windows of a kind of finding, seconds. */
const WINDOW = { truePeak: 0.1, momentary: 0.4, shortTerm: 3 } as const;

/** Findings of what goes over a limit for a while. */
export type OverKind = keyof typeof WINDOW;
export const isOverKind = (kind: Finding['kind']): kind is OverKind => kind in WINDOW;

/** How far a state goes at most where something was found: dBTP or LUFS. */
export function worstWithin(state: TriedState, kind: OverKind, { from, to }: TimeRange): number | null {
  const first = Math.max(0, Math.floor(from * PEAK_BLOCKS_PER_SECOND + 1e-6));
  // A window belongs to where it begins.
  const last = Math.ceil((to - WINDOW[kind]) * PEAK_BLOCKS_PER_SECOND - 1e-6);
  const part = <T extends Float32Array | Float64Array>(values: T): T =>
    values.subarray(first, Math.max(first, last) + 1) as T;
  if (kind === 'truePeak') return amplitudeToDb(largest(part(state.truePeaks)));
  return meanSquareToLufs(largest(part(kind === 'momentary' ? state.momentary : state.shortTerm)));
}
