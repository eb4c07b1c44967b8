import { programmeLayout } from '@/core/audio/layout';
import { largest } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { emptyHistory, subBlockStart, weighted } from '@/core/loudness/subBlocks';
import { programmeFrames, type Id, type Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { heardWithin } from '@/core/signal/audible';
import { renderTaps, type Tap } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import { settlingFrames, type SubBlockRange } from './dirtyRanges';
import { visitSettled, type Visitor } from './settled';

/** What one clip brings to a programme over a range. */
export interface ClipShare {
  /** Sum of squares of its K-weighted samples, weighted over the channels (ITU-R BS.1770-5, Annex 1, eq. 2). */
  readonly energy: number;
  /** Its highest true peak over all channels, linear. */
  readonly peak: number;
}

/** Clips that are measured side by side: more would hold too much. */
const AT_ONCE = 8;

/** Measures some clips side by side, as taps of one mix. @param frames of the range */
function visitClips(
  project: Project,
  ids: readonly Id[],
  { from }: SubBlockRange,
  frames: number,
  openSource: OpenSource,
): Visitor<ReadonlyMap<Id, ClipShare>> {
  const { sampleRate } = project;
  const layout = programmeLayout(project.layoutId);
  const taps = ids.map(
    (id): Tap =>
      (clip) =>
        clip.id === id,
  );
  const meters = ids.map(() => new LoudnessMeter(layout, sampleRate, { firstSubBlock: from }));
  const shareOf = (meter: LoudnessMeter): ClipShare => {
    const part = emptyHistory(layout, sampleRate, frames);
    meter.copyTo(part, 0);
    return {
      energy: weighted(part).energy.reduce((sum, value) => sum + value, 0),
      peak: Math.max(...part.truePeak.map(largest)),
    };
  };
  return {
    render: (start, count) => renderTaps(project, openSource, start, count, taps),
    settle: (sounds) => meters.forEach((meter, i) => meter.settle(sounds[i]!)),
    take: (sounds) => meters.forEach((meter, i) => meter.push(sounds[i]!)),
    ringOut: () => meters.forEach((meter) => meter.ringOut()),
    finish: () => new Map(meters.map((meter, i) => [ids[i]!, shareOf(meter)])),
    release: () => meters.forEach((meter) => meter.release()),
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
  const [from, to] = [at(range.from), at(range.to)];
  // What ended just before it still rings in the filters.
  const heard = heardWithin(linear, { from: from - settlingFrames(sampleRate), to });
  const ids = heard.map(({ clip }) => clip.id);
  const shares = new Map<Id, ClipShare>();
  for (let i = 0; i < ids.length; i += AT_ONCE) {
    const some = visitClips(linear, ids.slice(i, i + AT_ONCE), range, to - from, openSource);
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
