import { programmeLayout } from '@/core/audio/layout';
import { KERNEL_HISTORY, type Kernel } from '@/core/kernels/kernel';
import { newKernel } from '@/core/kernels/newKernel';
import { PEAK_SUB_BLOCKS, weightedEnergy, type WeightedHistory } from '@/core/loudness/subBlocks';
import type { Project } from '@/core/programme/model';
import { renderRange, renderTaps, type Tap } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import type { SubBlockRange } from './dirtyRanges';
import { lawOf, movingIds, type Moving } from './moving';
import { emptySums, type MovingSums } from './movingSums';
import { visitSettled, type Sounds, type Visitor } from './settled';

/**
 * Puts sums over several ranges together, in order. Between them nothing moves: there the rest is what the programme
 * measures.
 * @param alone ranges where nothing but what moves by a gain is heard: there it is what the programme measures
 */
export function joinMoving(
  parts: readonly MovingSums[],
  history: WeightedHistory,
  alone: readonly SubBlockRange[] = [],
): MovingSums | null {
  const law = parts[0]?.law ?? { kind: 'gain' };
  const ends = [
    ...parts.map((part) => ({ from: part.from, to: part.from + part.energies[0]!.length })),
    ...alone,
  ];
  if (ends.length === 0) return null;
  const from = Math.min(...ends.map((range) => range.from));
  const to = Math.max(...ends.map((range) => range.to));
  const channels = history.layout.labels.length;
  const sums = emptySums(law, from, to - from, Math.ceil((to - from) / PEAK_SUB_BLOCKS), channels);
  const still = weightedEnergy(history).subarray(from, to);
  // The rest alone, or the whole in every state.
  const whole = law.kind === 'gain' ? sums.energies.slice(0, 1) : sums.energies;
  for (const energy of whole) energy.set(still);
  const peakFrom = from / PEAK_SUB_BLOCKS;
  history.truePeak.forEach((peaks, c) =>
    sums.restTruePeak[c]!.set(peaks.subarray(peakFrom, peakFrom + sums.restTruePeak[c]!.length)),
  );
  for (const part of parts) {
    const at = part.from - from;
    part.energies.forEach((energy, j) => sums.energies[j]!.set(energy, at));
    for (let c = 0; c < channels; c++) {
      sums.restTruePeak[c]!.set(part.restTruePeak[c]!, at / PEAK_SUB_BLOCKS);
      part.movingTruePeak.forEach((peaks, j) =>
        sums.movingTruePeak[j]![c]!.set(peaks[c]!, at / PEAK_SUB_BLOCKS),
      );
    }
  }
  for (const range of alone) moveAlone(sums, history, still, range);
  return sums;
}

/** Over a range nothing is heard but what moves: all that was taken for the rest is its. */
function moveAlone(
  sums: MovingSums,
  history: WeightedHistory,
  still: Float64Array,
  range: SubBlockRange,
): void {
  const [rest, , moving] = sums.energies;
  const [at, end] = [range.from - sums.from, range.to - sums.from];
  rest!.fill(0, at, end);
  moving!.set(still.subarray(at, end), at);
  const [peakAt, peakEnd] = [range.from / PEAK_SUB_BLOCKS, Math.ceil(range.to / PEAK_SUB_BLOCKS)];
  const first = sums.from / PEAK_SUB_BLOCKS;
  history.truePeak.forEach((peaks, c) => {
    sums.movingTruePeak[0]![c]!.set(peaks.subarray(peakAt, peakEnd), peakAt - first);
    sums.restTruePeak[c]!.fill(0, peakAt - first, peakEnd - first);
  });
}

/** The sums when everything moves by one gain: what is measured is all there is to know. */
export function allMoving(history: WeightedHistory): MovingSums | null {
  const energy = weightedEnergy(history);
  if (energy.length === 0) return null;
  const peaks = history.truePeak[0]!.length;
  const sums = emptySums({ kind: 'gain' }, 0, energy.length, peaks, history.layout.labels.length);
  sums.energies[2]!.set(energy);
  history.truePeak.forEach((channel, c) => sums.movingTruePeak[0]![c]!.set(channel));
  return sums;
}

/** Some sounds side by side in the channels of a kernel: the first channel of each, then the second, and so on. */
class SideBySide {
  readonly kernel: Kernel;

  /** @param sounds how many; an even number where they are multiplied in pairs */
  constructor(
    sampleRate: number,
    private readonly sounds: number,
    channels: number,
  ) {
    this.kernel = newKernel(sampleRate, sounds * channels, sampleRate + 1);
  }

  channelOf(sound: number, channel: number): number {
    return channel * this.sounds + sound;
  }

  put(sounds: Sounds): void {
    sounds.forEach((sound, i) =>
      sound.forEach((samples, c) => this.kernel.samples(this.channelOf(i, c)).set(samples, KERNEL_HISTORY)),
    );
  }

  /** Writes the peaks of what was put, the rest first, into the sums from peak block `at` on. */
  peaksInto(sums: MovingSums, ends: readonly number[], at: number): void {
    const peaks = this.kernel.peaks(ends);
    const raise = (target: Float32Array, sound: number, c: number): void =>
      peaks[this.channelOf(sound, c)]!.truePeak.forEach((peak, k) => {
        target[at + k] = Math.max(target[at + k]!, peak);
      });
    sums.restTruePeak.forEach((rest, c) => raise(rest, 0, c));
    sums.movingTruePeak.forEach((state, j) => state.forEach((moving, c) => raise(moving, j + 1, c)));
  }

  /** The true-peak filter rings on past the programme's end; what it finds there belongs to the last block. */
  ringOut(sums: MovingSums): void {
    for (let c = 0; c < this.kernel.channels; c++)
      this.kernel.samples(c).fill(0, KERNEL_HISTORY, 2 * KERNEL_HISTORY);
    this.peaksInto(sums, [KERNEL_HISTORY], sums.restTruePeak[0]!.length - 1);
  }
}

/** Adds `amount` times each value to those from `at` on. */
function add(target: Float64Array, values: Float64Array, amount: number, at: number): void {
  for (let k = 0; k < values.length; k++) target[at + k]! += amount * values[k]!;
}

const roomFor = (project: Project, moving: Moving, { from, to }: SubBlockRange): MovingSums =>
  emptySums(
    lawOf(moving),
    from,
    to - from,
    Math.ceil((to - from) / PEAK_SUB_BLOCKS),
    programmeLayout(project.layoutId).labels.length,
  );

/** The rest and what moves as two taps of one mix; their products. */
function visitGain(
  project: Project,
  moving: Moving,
  range: SubBlockRange,
  openSource: OpenSource,
): Visitor<MovingSums> {
  const { weights } = programmeLayout(project.layoutId);
  const sums = roomFor(project, moving, range);
  const [restRest, restMoving, movingMoving] = sums.energies;
  const side = new SideBySide(project.sampleRate, 2, weights.length);
  const { kernel } = side;
  const ids = movingIds(moving);
  const taps: readonly Tap[] = [({ id }) => !ids.has(id), ({ id }) => ids.has(id)];
  return {
    render: (start, count) => renderTaps(project, openSource, start, count, taps),
    settle(sounds, frames) {
      side.put(sounds);
      kernel.settle(frames);
      kernel.advance(frames);
    },
    take(sounds, { from, frames, ends }) {
      side.put(sounds);
      const at = from - range.from;
      kernel.products(ends(1)).forEach(({ aa, ab, bb }, c) => {
        add(restRest!, aa, weights[c]!, at);
        add(restMoving!, ab, weights[c]!, at);
        add(movingMoving!, bb, weights[c]!, at);
      });
      side.peaksInto(sums, ends(PEAK_SUB_BLOCKS), at / PEAK_SUB_BLOCKS);
      kernel.advance(frames);
    },
    ringOut: () => side.ringOut(sums),
    finish: () => sums,
    release: () => kernel.release(),
  };
}

/** The whole in every state; the peaks of the rest and of what moves apart. */
function visitStates(
  project: Project,
  moving: Extract<Moving, { kind: 'states' }>,
  range: SubBlockRange,
  openSource: OpenSource,
): Visitor<MovingSums> {
  const { weights } = programmeLayout(project.layoutId);
  const sums = roomFor(project, moving, range);
  const states = moving.states.length;
  const ids = movingIds(moving);
  const moved = moving.states.map((clips): Project => ({ ...project, clips }));
  const parts = new SideBySide(project.sampleRate, 1 + states, weights.length);
  // Energies are found in pairs.
  const wholes = new SideBySide(project.sampleRate, 2 * Math.ceil(states / 2), weights.length);
  const together = ([rest, ...movings]: Sounds): Sounds =>
    movings.map((sound) => sound.map((samples, c) => samples.map((x, i) => x + rest![c]![i]!)));
  return {
    render: (start, count) =>
      Promise.all([
        renderRange(project, openSource, start, count, ({ id }) => !ids.has(id)),
        ...moved.map((state) => renderRange(state, openSource, start, count)),
      ]),
    settle(sounds, frames) {
      parts.put(sounds);
      parts.kernel.advance(frames);
      wholes.put(together(sounds));
      wholes.kernel.settle(frames);
      wholes.kernel.advance(frames);
    },
    take(sounds, { from, frames, ends }) {
      const at = from - range.from;
      parts.put(sounds);
      parts.peaksInto(sums, ends(PEAK_SUB_BLOCKS), at / PEAK_SUB_BLOCKS);
      parts.kernel.advance(frames);
      wholes.put(together(sounds));
      const products = wholes.kernel.products(ends(1));
      sums.energies.forEach((energy, j) =>
        weights.forEach((weight, c) => {
          const { aa, bb } = products[wholes.channelOf(j, c) >> 1]!;
          add(energy, j % 2 === 0 ? aa : bb, weight, at);
        }),
      );
      wholes.kernel.advance(frames);
    },
    ringOut: () => parts.ringOut(sums),
    finish: () => sums,
    release() {
      parts.kernel.release();
      wholes.kernel.release();
    },
  };
}

/**
 * Renders what stays and what moves over a range, and takes their sums.
 * @param range in whole peak blocks, or to the programme's end; see `movingRanges`
 * @param proceed asked between pieces of a second with the part done (0 to 1); `false` stops
 * @returns `null` when stopped
 */
export function measureMoving(
  project: Project,
  moving: Moving,
  range: SubBlockRange,
  openSource: OpenSource,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<MovingSums | null> {
  const visitor =
    moving.kind === 'gain'
      ? visitGain(project, moving, range, openSource)
      : visitStates(project, moving, range, openSource);
  return visitSettled(project, range, visitor, (done) => proceed(done / (range.to - range.from)));
}
