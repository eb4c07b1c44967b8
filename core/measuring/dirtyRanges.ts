import { SETTLING_SECONDS } from '@/core/loudness/kWeighting';
import { PEAK_SUB_BLOCKS, subBlockAt, subBlockCount } from '@/core/loudness/subBlocks';
import type { Span } from '@/core/signal/station';

/** A half-open range of sub-blocks. */
export interface SubBlockRange {
  readonly from: number;
  readonly to: number;
}

/** Adds a range to a sorted list of ranges that do not touch. */
export function addRange(ranges: readonly SubBlockRange[], { from, to }: SubBlockRange): SubBlockRange[] {
  if (from >= to) return [...ranges];
  const before = ranges.filter((range) => range.to < from);
  const after = ranges.filter((range) => range.from > to);
  const touching = ranges.slice(before.length, ranges.length - after.length);
  return [
    ...before,
    {
      from: Math.min(from, ...touching.map((range) => range.from)),
      to: Math.max(to, ...touching.map((range) => range.to)),
    },
    ...after,
  ];
}

/** Takes a range out of a sorted list of ranges. */
export function removeRange(ranges: readonly SubBlockRange[], { from, to }: SubBlockRange): SubBlockRange[] {
  return ranges.flatMap((range) =>
    [
      { from: range.from, to: Math.min(range.to, from) },
      { from: Math.max(range.from, to), to: range.to },
    ].filter((part) => part.from < part.to),
  );
}

/** Frames for which what a sound was before still shows in its K-weighted samples. */
export const settlingFrames = (sampleRate: number): number => Math.ceil(SETTLING_SECONDS * sampleRate);

/**
 * The sub-blocks whose measurement another sound over some frames changes: until the filters have settled after it, in whole
 * peak blocks. Empty where the programme has none there.
 * @param frames length of the programme
 */
export function touchedBlocks({ from, to }: Span, sampleRate: number, frames: number): SubBlockRange {
  const count = subBlockCount(frames, sampleRate);
  const settled = Math.min(frames, to) + settlingFrames(sampleRate);
  const block = (frame: number): number => Math.floor(subBlockAt(frame, sampleRate) / PEAK_SUB_BLOCKS);
  const first = block(Math.max(0, from)) * PEAK_SUB_BLOCKS;
  return { from: Math.min(first, count), to: Math.min(count, (block(settled) + 1) * PEAK_SUB_BLOCKS) };
}
