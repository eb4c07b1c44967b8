import { programmeLayout } from '@/core/audio/layout';
import { KERNEL_HISTORY } from '@/core/kernels/kernel';
import { newKernel } from '@/core/kernels/newKernel';
import { PEAK_SUB_BLOCKS, subBlockStart } from '@/core/loudness/subBlocks';
import { programmeFrames, type Id, type Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { heardWithin } from '@/core/signal/audible';
import { renderTaps } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import { settlingFrames, type SubBlockRange } from './dirtyRanges';
import { visitSettled, type Sounds, type Visitor } from './settled';

/** What one clip brings to a programme over a range. */
export interface ClipShare {
  /** Sum of squares of its K-weighted samples, weighted over the channels (ITU-R BS.1770-5, Annex 1, eq. 2). */
  readonly energy: number;
  /** Its highest true peak over all channels, linear. */
  readonly peak: number;
}

/** Clips that are measured side by side: more would hold too much. */
const AT_ONCE = 8;

/** Measures some clips side by side, as taps of one mix. */
function visitClips(
  project: Project,
  ids: readonly Id[],
  openSource: OpenSource,
): Visitor<ReadonlyMap<Id, ClipShare>> {
  const { weights } = programmeLayout(project.layoutId);
  const kernel = newKernel(project.sampleRate, ids.length * weights.length, project.sampleRate + 1);
  const shares = ids.map(() => ({ energy: 0, peak: 0 }));
  const shareOf = (channel: number) => shares[Math.floor(channel / weights.length)]!;
  const largest = (peaks: Float32Array): number => peaks.reduce((most, peak) => Math.max(most, peak), 0);
  const put = (sounds: Sounds): void =>
    sounds.flat().forEach((samples, channel) => kernel.samples(channel).set(samples, KERNEL_HISTORY));
  return {
    render: (start, count) =>
      renderTaps(
        project,
        openSource,
        start,
        count,
        ids.map((id) => (clip) => clip.id === id),
      ),
    settle(sounds, frames) {
      put(sounds);
      kernel.settle(frames);
      kernel.advance(frames);
    },
    take(sounds, { frames, ends }) {
      put(sounds);
      const measures = kernel.measure({ subBlocks: ends(1), peakBlocks: ends(PEAK_SUB_BLOCKS) });
      measures.forEach(({ energy, truePeak }, channel) => {
        const share = shareOf(channel);
        share.energy += weights[channel % weights.length]! * energy.reduce((sum, value) => sum + value, 0);
        share.peak = Math.max(share.peak, largest(truePeak));
      });
      kernel.advance(frames);
    },
    ringOut() {
      for (let channel = 0; channel < kernel.channels; channel++)
        kernel.samples(channel).fill(0, KERNEL_HISTORY, 2 * KERNEL_HISTORY);
      kernel.peaks([KERNEL_HISTORY]).forEach(({ truePeak }, channel) => {
        const share = shareOf(channel);
        share.peak = Math.max(share.peak, largest(truePeak));
      });
    },
    finish: () => new Map(ids.map((id, i) => [id, shares[i]!])),
    release: () => kernel.release(),
  };
}

/**
 * What each clip that sounds in a range brings to the programme there, before limiters.
 * @param range in whole peak blocks, or to the programme's end
 */
export async function measureEach(
  project: Project,
  range: SubBlockRange,
  openSource: OpenSource,
): Promise<ReadonlyMap<Id, ClipShare>> {
  const linear = withoutLimiters(project);
  const { sampleRate } = project;
  const at = (k: number): number => Math.min(subBlockStart(k, sampleRate), programmeFrames(project));
  // What ended just before it still rings in the filters.
  const span = { from: at(range.from) - settlingFrames(sampleRate), to: at(range.to) };
  const ids = heardWithin(linear, span).map(({ clip }) => clip.id);
  const shares = new Map<Id, ClipShare>();
  for (let i = 0; i < ids.length; i += AT_ONCE) {
    const some = visitClips(linear, ids.slice(i, i + AT_ONCE), openSource);
    for (const [id, share] of (await visitSettled(linear, range, some, () => true))!) shares.set(id, share);
  }
  return shares;
}

/** The shares in ranges that follow each other, taken together. */
export function joinShares(parts: readonly ReadonlyMap<Id, ClipShare>[]): ReadonlyMap<Id, ClipShare> {
  const joined = new Map<Id, ClipShare>();
  for (const part of parts)
    for (const [id, { energy, peak }] of part) {
      const before = joined.get(id);
      joined.set(id, {
        energy: (before?.energy ?? 0) + energy,
        peak: Math.max(before?.peak ?? 0, peak),
      });
    }
  return joined;
}
