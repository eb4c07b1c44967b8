import { lufsToMeanSquare } from '@/core/loudness/decibels';
import { ABSOLUTE_GATE_LUFS, integrated } from '@/core/loudness/gating';
import { blocksWithin, type TimeRange } from '@/core/loudness/levelTrack';
import {
  HOP_SUB_BLOCKS,
  MOMENTARY_SUB_BLOCKS,
  PEAK_BLOCKS_PER_SECOND,
  subBlockStart,
} from '@/core/loudness/subBlocks';
import { slidingSums } from '@/core/loudness/windows';
import type { JoinedParts, PartOver } from './keptParts';
import { REST_PART } from './parts';

/** What a part of a programme does to its loudness. */
export interface Contribution {
  /** Of the gated energy behind the integrated loudness; clips add up to 1. Under 0 where it cancels others. */
  readonly share: number;
  /** Integrated loudness of the part by itself, LUFS. */
  readonly ownLufs: number | null;
  /** What the programme measures without it, LUFS; `null` when nothing over the gates is left. */
  readonly withoutLufs: number | null;
}

/** What the parts of a programme, or of a range of it, do to its loudness. All of it before limiters. */
export interface Contributions {
  readonly integratedLufs: number | null;
  readonly parts: ReadonlyMap<string, Contribution>;
  /** Integrated loudness of the spoken tracks while somebody speaks, LUFS. */
  readonly spokenLufs: number | null;
}

const HOPS = MOMENTARY_SUB_BLOCKS / HOP_SUB_BLOCKS;

/** Frames of each gating block that begins at a hop. */
const framesOf = (sampleRate: number) => (hop: number) =>
  subBlockStart((hop + HOPS) * HOP_SUB_BLOCKS, sampleRate) - subBlockStart(hop * HOP_SUB_BLOCKS, sampleRate);

/** The hops of a range that lie within it whole. */
function hopsOf(range: TimeRange | null, count: number): { readonly from: number; readonly to: number } {
  if (!range) return { from: 0, to: count };
  const from = Math.max(0, Math.ceil(range.from * PEAK_BLOCKS_PER_SECOND - 1e-6));
  return { from, to: Math.max(from, Math.min(count, Math.floor(range.to * PEAK_BLOCKS_PER_SECOND + 1e-6))) };
}

/** A part within a range: its energies, and where in the range they begin. */
function partWithin({ from, cross, own }: PartOver, hops: { readonly from: number; readonly to: number }) {
  const [begin, end] = [Math.max(from, hops.from), Math.min(from + own.length, hops.to)];
  if (begin >= end) return null;
  const cut = (energy: Float64Array): Float64Array => energy.subarray(begin - from, end - from);
  return { at: begin - hops.from, cross: cut(cross), own: cut(own) };
}

/**
 * Works out what every part brings and what is left without it: for the whole P and a part M, ⟨P−M,P−M⟩ is
 * ⟨P,P⟩ − 2⟨P,M⟩ + ⟨M,M⟩, gated anew. Source of the gates: ITU-R BS.1770-5, Annex 1, eqs. 4–7.
 * @param range seconds; gated by itself. All of it where `null`
 * @param speech when somebody speaks, seconds, in order
 */
export function contributionsOf(
  { whole, parts }: JoinedParts,
  sampleRate: number,
  range: TimeRange | null,
  speech: readonly TimeRange[],
): Contributions {
  const hops = hopsOf(range, whole.length);
  const frames = framesOf(sampleRate);
  const all = whole.subarray(hops.from, hops.to);
  const blocksOf = (energy: Float64Array, at: number): Float64Array =>
    slidingSums(energy, HOPS).map((sum, j) => sum / frames(hops.from + at + j));
  const blocks = blocksOf(all, 0);
  const { integratedLufs, relativeGateLufs } = integrated(blocks);
  const gate = lufsToMeanSquare(Math.max(ABSOLUTE_GATE_LUFS, relativeGateLufs ?? Infinity));
  // How much each 100 ms counts: in how many blocks over the gates it lies, each divided by its frames.
  const weights = new Float64Array(all.length);
  blocks.forEach((z, j) => {
    if (z > gate) for (let k = j; k < j + HOPS; k++) weights[k]! += 1 / frames(hops.from + j);
  });
  const total = all.reduce((sum, e, k) => sum + weights[k]! * e, 0);
  const changed = blocks.slice();
  /** The blocks without a part, until they are asked for the next. */
  const without = (part: NonNullable<ReturnType<typeof partWithin>>): Float64Array => {
    const { at, cross, own } = part;
    // With as much of the whole around it as lies in blocks with it.
    const [from, to] = [Math.max(0, at - HOPS + 1), Math.min(all.length, at + own.length + HOPS - 1)];
    const left = all.slice(from, to);
    // What is rounded off where a part is all there is must not fall under nothing.
    own.forEach((e, k) => (left[at - from + k] = Math.max(0, left[at - from + k]! - 2 * cross[k]! + e)));
    changed.set(blocks);
    changed.set(blocksOf(left, from), from);
    return changed;
  };
  const found = new Map<string, Contribution>();
  let spoken = blocks;
  for (const [key, over] of parts) {
    const part = partWithin(over, hops);
    if (!part || part.own.every((e) => e === 0)) continue;
    const left = without(part);
    if (key === REST_PART) spoken = left.slice();
    found.set(key, {
      share: total > 0 ? part.cross.reduce((sum, e, k) => sum + weights[part.at + k]! * e, 0) / total : 0,
      ownLufs: integrated(blocksOf(part.own, part.at)).integratedLufs,
      withoutLufs: integrated(left).integratedLufs,
    });
  }
  const start = hops.from / PEAK_BLOCKS_PER_SECOND;
  const within = blocksWithin(
    spoken,
    speech.map(({ from, to }) => ({ from: from - start, to: to - start })),
    all.length / PEAK_BLOCKS_PER_SECOND,
  );
  return {
    ...{ integratedLufs, parts: found },
    spokenLufs: integrated(within.blocks).integratedLufs,
  };
}
