import { programmeLayout } from '@/core/audio/layout';
import { KERNEL_HISTORY, type Kernel } from '@/core/kernels/kernel';
import { newKernel } from '@/core/kernels/newKernel';
import { SETTLING_SECONDS } from '@/core/loudness/kWeighting';
import { emptySums, putSums, type MovingSums } from '@/core/loudness/movingSums';
import {
  PEAK_SUB_BLOCKS,
  subBlockAt,
  subBlockCount,
  subBlockStart,
  SUB_BLOCKS_PER_SECOND,
  weightedEnergy,
  type SubBlockHistory,
} from '@/core/loudness/subBlocks';
import { clipEnd, programmeFrames, type Clip, type Id, type Project } from '@/core/programme/model';
import { addRange, type SubBlockRange } from './dirtyRanges';
import { audibleClips, renderRange } from './mix';
import type { OpenSource } from './sourceAt';

/**
 * The sub-blocks that a change of these clips' gain can change: from the start of each until the filters have settled after
 * its end, in whole peak blocks, in order; empty when none of them sounds.
 */
export function movingRanges(project: Project, moving: ReadonlySet<Id>): SubBlockRange[] {
  const { sampleRate } = project;
  const count = subBlockCount(programmeFrames(project), sampleRate);
  const block = (frame: number): number => Math.floor(subBlockAt(frame, sampleRate) / PEAK_SUB_BLOCKS);
  let ranges: SubBlockRange[] = [];
  for (const clip of audibleClips(project)) {
    if (!moving.has(clip.id)) continue;
    const settled = clipEnd(clip) + Math.ceil(SETTLING_SECONDS * sampleRate);
    const from = block(clip.start) * PEAK_SUB_BLOCKS;
    const to = Math.min(count, (block(settled) + 1) * PEAK_SUB_BLOCKS);
    ranges = addRange(ranges, { from, to });
  }
  return ranges;
}

/**
 * Puts sums over several ranges together, in order. Between them nothing moves: there the rest is what the programme
 * measures.
 */
export function joinMoving(parts: readonly MovingSums[], history: SubBlockHistory): MovingSums | null {
  const [first] = parts;
  const last = parts.at(-1);
  if (!first || !last) return null;
  const { from } = first;
  const to = last.from + last.restRest.length;
  const channels = history.layout.labels.length;
  const sums = emptySums(from, to - from, Math.ceil((to - from) / PEAK_SUB_BLOCKS), channels);
  sums.restRest.set(weightedEnergy(history).subarray(from, to));
  const peakFrom = from / PEAK_SUB_BLOCKS;
  history.truePeak.forEach((peaks, c) =>
    sums.restTruePeak[c]!.set(peaks.subarray(peakFrom, peakFrom + sums.restTruePeak[c]!.length)),
  );
  for (const part of parts) {
    const at = part.from - from;
    sums.restRest.set(part.restRest, at);
    sums.restMoving.set(part.restMoving, at);
    sums.movingMoving.set(part.movingMoving, at);
    for (let c = 0; c < channels; c++) {
      sums.restTruePeak[c]!.set(part.restTruePeak[c]!, at / PEAK_SUB_BLOCKS);
      sums.movingTruePeak[c]!.set(part.movingTruePeak[c]!, at / PEAK_SUB_BLOCKS);
    }
  }
  return sums;
}

/** The sums when everything moves: what is measured is all there is to know. */
export function allMoving(history: SubBlockHistory): MovingSums | null {
  const energy = weightedEnergy(history);
  if (energy.length === 0) return null;
  const peaks = history.truePeak[0]!.length;
  const sums = emptySums(0, energy.length, peaks, history.layout.labels.length);
  sums.movingMoving.set(energy);
  history.truePeak.forEach((channel, c) => sums.movingTruePeak[c]!.set(channel));
  return sums;
}

/** Two signals written to the channels of a kernel as pairs. */
function put(kernel: Kernel, rest: readonly Float32Array[], moving: readonly Float32Array[]): void {
  rest.forEach((samples, c) => kernel.samples(2 * c).set(samples, KERNEL_HISTORY));
  moving.forEach((samples, c) => kernel.samples(2 * c + 1).set(samples, KERNEL_HISTORY));
}

/**
 * Renders what moves and what stays over a range, and takes their sums.
 * @param range in whole peak blocks, or to the programme's end; see {@link movingRanges}
 * @param proceed asked between pieces of a second with the part done (0 to 1); `false` stops
 * @returns `null` when stopped
 */
export async function measureMoving(
  project: Project,
  moving: ReadonlySet<Id>,
  range: SubBlockRange,
  openSource: OpenSource,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<MovingSums | null> {
  const { sampleRate } = project;
  const layout = programmeLayout(project.layoutId);
  const channels = layout.labels.length;
  const frames = programmeFrames(project);
  const start = (k: number): number => Math.min(subBlockStart(k, sampleRate), frames);
  const clips = audibleClips(project).filter(
    (clip) => clipEnd(clip) > start(range.from) - sampleRate && clip.start < start(range.to),
  );
  const parts: readonly Clip[][] = [
    clips.filter((clip) => !moving.has(clip.id)),
    clips.filter((clip) => moving.has(clip.id)),
  ];
  const render = (from: number, to: number): Promise<Float32Array[][]> =>
    Promise.all(parts.map((part) => renderRange(project, openSource, from, to - from, part)));
  const peakBlocks = Math.ceil((range.to - range.from) / PEAK_SUB_BLOCKS);
  const sums = emptySums(range.from, range.to - range.from, peakBlocks, channels);
  const kernel = newKernel(sampleRate, 2 * channels, sampleRate + 1);
  try {
    const begin = start(range.from);
    const settleFrom = Math.max(0, begin - Math.ceil(SETTLING_SECONDS * sampleRate));
    if (settleFrom < begin) {
      const [rest, moved] = await render(settleFrom, begin);
      put(kernel, rest!, moved!);
      kernel.settle(begin - settleFrom);
      kernel.advance(begin - settleFrom);
    }
    for (let k = range.from; k < range.to;) {
      const next = Math.min(range.to, k + SUB_BLOCKS_PER_SECOND);
      const [from, to] = [start(k), start(next)];
      const [rest, moved] = await render(from, to);
      put(kernel, rest!, moved!);
      const ends = (step: number): number[] =>
        Array.from(
          { length: Math.ceil((next - k) / step) },
          (_, i) => start(Math.min(next, k + (i + 1) * step)) - from,
        );
      const products = kernel.products(ends(1));
      const peaks = kernel.peaks(ends(PEAK_SUB_BLOCKS));
      const at = k - range.from;
      putSums(sums, layout, products, peaks, at, at / PEAK_SUB_BLOCKS);
      kernel.advance(to - from);
      k = next;
      if (k < range.to && !(await proceed((k - range.from) / (range.to - range.from)))) return null;
    }
    if (start(range.to) === frames) ringOut(kernel, sums, peakBlocks - 1);
    return sums;
  } finally {
    kernel.release();
  }
}

/** The true-peak filter rings on past the programme's end; what it finds there belongs to the last block. */
function ringOut(kernel: Kernel, sums: MovingSums, last: number): void {
  for (let c = 0; c < kernel.channels; c++) kernel.samples(c).fill(0, KERNEL_HISTORY, 2 * KERNEL_HISTORY);
  kernel.peaks([KERNEL_HISTORY]).forEach(({ truePeak }, c) => {
    const peaks = (c % 2 === 0 ? sums.restTruePeak : sums.movingTruePeak)[c >> 1]!;
    peaks[last] = Math.max(peaks[last]!, truePeak[0]!);
  });
}
