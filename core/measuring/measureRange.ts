import { programmeLayout } from '@/core/audio/layout';
import { LoudnessMeter } from '@/core/loudness/meter';
import { SignalBlockMeter, type SignalBlocks } from '@/core/loudness/signalBlocks';
import {
  emptyHistory,
  PEAK_SUB_BLOCKS,
  subBlockStart,
  weighted,
  type WeightedHistory,
} from '@/core/loudness/subBlocks';
import { programmeFrames, type Project } from '@/core/programme/model';
import { EVERYTHING, pieceSeconds, renderTaps } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import type { SubBlockRange } from './dirtyRanges';
import { ReductionMeter, type ReductionBlocks } from './reductions';
import { visitSettled, type Visitor } from './settled';

/** A range of a programme, measured by itself; such ranges fit each other to the bit of their settling. */
export interface RangeMeasurement extends Pick<WeightedHistory, 'energy' | 'samplePeak' | 'truePeak'> {
  /** What limiters took off in it, and perhaps around it. */
  readonly reduction: ReductionBlocks;
  readonly signal: SignalBlocks;
}

/**
 * Renders and measures a range of the programme, after the filters have settled on what comes before it.
 * @param range in whole peak blocks, or to the programme's end
 * @param proceed asked between pieces of a second with the sub-blocks done; `false` stops
 * @returns `null` when stopped
 */
export async function measureRange(
  project: Project,
  range: SubBlockRange,
  openSource: OpenSource,
  proceed: (done: number) => boolean | Promise<boolean> = () => true,
): Promise<RangeMeasurement | null> {
  const { sampleRate } = project;
  const layout = programmeLayout(project.layoutId);
  const at = (k: number): number => Math.min(subBlockStart(k, sampleRate), programmeFrames(project));
  const signal = new SignalBlockMeter(layout.labels, sampleRate);
  const meter = new LoudnessMeter(layout, sampleRate, { firstSubBlock: range.from, listeners: [signal] });
  const reduction = new ReductionMeter(sampleRate);
  const visitor: Visitor<RangeMeasurement> = {
    atATime: pieceSeconds(project, 1),
    render: (start, count) => renderTaps(project, openSource, start, count, [EVERYTHING], reduction),
    settle: ([sound]) => meter.settle(sound!),
    take: ([sound]) => meter.push(sound!),
    ringOut: () => meter.ringOut(),
    finish() {
      const part = emptyHistory(layout, sampleRate, at(range.to) - at(range.from));
      meter.copyTo(part, 0);
      return { ...weighted(part), reduction: reduction.finish(), signal: signal.finish() };
    },
    release: () => meter.release(),
  };
  return visitSettled(project, range, visitor, proceed);
}

/** Writes a range's measurement into the history of the whole. */
export function putRange(history: WeightedHistory, { from }: SubBlockRange, part: RangeMeasurement): void {
  const put = <T extends Float32Array | Float64Array>(target: T, values: T, at: number): void =>
    target.set(values.subarray(0, Math.max(0, target.length - at)), at);
  put(history.energy, part.energy, from);
  for (let c = 0; c < history.layout.labels.length; c++) {
    put(history.samplePeak[c]!, part.samplePeak[c]!, from / PEAK_SUB_BLOCKS);
    put(history.truePeak[c]!, part.truePeak[c]!, from / PEAK_SUB_BLOCKS);
  }
}
