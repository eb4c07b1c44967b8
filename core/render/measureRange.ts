import { programmeLayout } from '@/core/audio/layout';
import { SETTLING_SECONDS } from '@/core/loudness/kWeighting';
import { LoudnessMeter } from '@/core/loudness/meter';
import {
  emptyHistory,
  PEAK_SUB_BLOCKS,
  subBlockStart,
  SUB_BLOCKS_PER_SECOND,
  type SubBlockHistory,
} from '@/core/loudness/subBlocks';
import { programmeFrames, type Project } from '@/core/programme/model';
import type { SubBlockRange } from './dirtyRanges';
import { audibleClips, renderRange } from './mix';
import type { OpenSource } from './sourceAt';

/** A range of a programme, measured by itself; such ranges fit each other to the bit of their settling. */
export type RangeMeasurement = Pick<SubBlockHistory, 'energy' | 'samplePeak' | 'truePeak'>;

/** Sub-blocks rendered at a time. */
const PIECE = SUB_BLOCKS_PER_SECOND;

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
  const frames = programmeFrames(project);
  const clips = audibleClips(project);
  const at = (k: number): number => Math.min(subBlockStart(k, sampleRate), frames);
  const meter = new LoudnessMeter(layout, sampleRate, { firstSubBlock: range.from });
  try {
    const begin = at(range.from);
    const settleFrom = Math.max(0, begin - Math.ceil(SETTLING_SECONDS * sampleRate));
    if (settleFrom < begin)
      meter.settle(await renderRange(project, openSource, settleFrom, begin - settleFrom, clips));
    for (let k = range.from; k < range.to;) {
      const next = Math.min(range.to, k + PIECE);
      meter.push(await renderRange(project, openSource, at(k), at(next) - at(k), clips));
      k = next;
      if (k < range.to && !(await proceed(k - range.from))) return null;
    }
    if (at(range.to) === frames) meter.ringOut();
    const part = emptyHistory(layout, sampleRate, at(range.to) - begin);
    meter.copyTo(part, 0);
    return part;
  } finally {
    meter.release();
  }
}

/** Writes a range's measurement into the history of the whole. */
export function putRange(history: SubBlockHistory, { from }: SubBlockRange, part: RangeMeasurement): void {
  const put = <T extends Float32Array | Float64Array>(target: T, values: T, at: number): void =>
    target.set(values.subarray(0, Math.max(0, target.length - at)), at);
  for (let c = 0; c < history.layout.labels.length; c++) {
    put(history.energy[c]!, part.energy[c]!, from);
    put(history.samplePeak[c]!, part.samplePeak[c]!, from / PEAK_SUB_BLOCKS);
    put(history.truePeak[c]!, part.truePeak[c]!, from / PEAK_SUB_BLOCKS);
  }
}
