import { amplitudeToDb, meanSquareToLufs } from '@/core/loudness/decibels';
import { largest, type Loudness } from '@/core/loudness/figures';
import { integrated } from '@/core/loudness/gating';
import { covers } from './movingLaw';
import { energiesAt, peakBoundAt, type MovingSums } from './movingSums';
import { RangeWithin } from './rangeWithin';
import {
  HOP_SUB_BLOCKS,
  MOMENTARY_SUB_BLOCKS,
  PEAK_SUB_BLOCKS,
  SHORT_TERM_SUB_BLOCKS,
} from '@/core/loudness/subBlocks';
import { everyHop, gatingBlocks, momentaryWindows, shortTermWindows } from '@/core/loudness/windows';

/** A programme as it stands: what its figures while something moves are worked out from. */
export interface ProgrammeLevels {
  /** See `weightedEnergy`. */
  readonly energy: Float64Array;
  readonly sampleRate: number;
  /** True peak of every peak block over all channels, linear. */
  readonly truePeaks: Float32Array;
}

/** A programme's figures with a part of it moved. */
export interface MovedFigures extends Loudness {
  /** No true peak is higher than this; where the parts peak at different times it is lower. dBTP. */
  readonly truePeakBoundDbtp: number | null;
  /** The short-term windows that the moving part touches, every 100 ms: mean squares, from window `first` on. */
  readonly shortTerm: { readonly first: number; readonly values: Float64Array };
}

interface Windows {
  readonly blocks: Float64Array;
  readonly momentary: Float64Array;
  readonly shortTerm: Float64Array;
}

/** The windows of a programme, worked out once for all that may be moved in it. */
const known = new WeakMap<ProgrammeLevels, Windows>();

function windowsOf(levels: ProgrammeLevels): Windows {
  const { energy, sampleRate } = levels;
  const windows = known.get(levels) ?? {
    blocks: gatingBlocks(energy, sampleRate),
    momentary: momentaryWindows(energy, sampleRate),
    shortTerm: shortTermWindows(energy, sampleRate),
  };
  known.set(levels, windows);
  return windows;
}

/** Values that stay while a slice in their midst is worked out anew. */
interface Around {
  /** Index of the first value that the slice touches, and after the last. */
  readonly first: number;
  readonly end: number;
  /** The largest value outside. */
  readonly largest: number;
}

function around(values: Float64Array, first: number, end: number): Around {
  return {
    first,
    end,
    largest: Math.max(largest(values.subarray(0, first)), largest(values.subarray(end))),
  };
}

/**
 * The figures of a whole programme while a part of it moves, without touching a sample: see {@link MovingSums}.
 * What the moving part cannot change is worked out once; each change then costs as much as the moving part is long, and one
 * pass over the gating blocks.
 */
export class MovingFigures {
  /** Sub-blocks over which windows can change: those of the sums, and as far around as a short-term window reaches. */
  private readonly sliceFrom: number;
  private readonly slice: Float64Array;
  private readonly inside: Float64Array;
  private readonly blocks: Float64Array;
  private readonly momentary: Around;
  private readonly shortTerm: Around;
  private readonly range: RangeWithin;
  private readonly peakOutside: number;

  constructor(
    private readonly levels: ProgrammeLevels,
    private readonly sums: MovingSums,
  ) {
    const { energy, truePeaks } = levels;
    const { from } = sums;
    const to = Math.min(energy.length, from + sums.energies[0]!.length);
    // Slices begin on the grid of the gating blocks.
    const reach = SHORT_TERM_SUB_BLOCKS;
    this.sliceFrom = Math.max(0, from - reach);
    this.slice = energy.slice(this.sliceFrom, Math.min(energy.length, to + reach));
    this.inside = new Float64Array(sums.energies[0]!.length);
    const { blocks, momentary, shortTerm } = windowsOf(levels);
    this.blocks = blocks.slice();
    const windows = (values: Float64Array, width: number): Around =>
      around(values, Math.min(values.length, Math.max(0, from - width + 1)), Math.min(values.length, to));
    this.momentary = windows(momentary, MOMENTARY_SUB_BLOCKS);
    this.shortTerm = windows(shortTerm, SHORT_TERM_SUB_BLOCKS);
    const hops = everyHop(shortTerm);
    this.range = new RangeWithin(
      hops,
      Math.ceil(this.shortTerm.first / HOP_SUB_BLOCKS),
      Math.ceil(this.shortTerm.end / HOP_SUB_BLOCKS),
    );
    const peaks = [from / PEAK_SUB_BLOCKS, from / PEAK_SUB_BLOCKS + (sums.restTruePeak[0]?.length ?? 0)];
    this.peakOutside = Math.max(
      largest(truePeaks.subarray(0, peaks[0])),
      largest(truePeaks.subarray(peaks[1])),
    );
  }

  /** Whether the sums say what a change gives. */
  covers(changeDb: number): boolean {
    return covers(this.sums.law, changeDb);
  }

  /**
   * @param changeDb change of what moves from what it was when the sums were taken, see {@link covers}; −Infinity silences
   * what moves by one gain
   */
  at(changeDb: number): MovedFigures {
    const { sampleRate } = this.levels;
    const { sliceFrom, slice } = this;
    energiesAt(this.sums, changeDb, this.inside);
    const offset = this.sums.from - sliceFrom;
    slice.set(this.inside.subarray(0, Math.max(0, slice.length - offset)), offset);
    const blocks = gatingBlocks(slice, sampleRate);
    this.blocks.set(
      blocks.subarray(0, this.blocks.length - sliceFrom / HOP_SUB_BLOCKS),
      sliceFrom / HOP_SUB_BLOCKS,
    );
    const within = (values: Float64Array, { first, end }: Around): Float64Array =>
      values.subarray(Math.max(0, first - sliceFrom), Math.max(0, end - sliceFrom));
    const momentary = within(momentaryWindows(slice, sampleRate), this.momentary);
    const shortTerm = shortTermWindows(slice, sampleRate);
    const firstHop = Math.ceil(this.shortTerm.first / HOP_SUB_BLOCKS) - sliceFrom / HOP_SUB_BLOCKS;
    const endHop = Math.ceil(this.shortTerm.end / HOP_SUB_BLOCKS) - sliceFrom / HOP_SUB_BLOCKS;
    const touched = everyHop(shortTerm).slice(Math.max(0, firstHop), Math.max(0, endHop));
    return {
      ...integrated(this.blocks),
      maxMomentaryLufs: meanSquareToLufs(Math.max(this.momentary.largest, largest(momentary))),
      maxShortTermLufs: meanSquareToLufs(
        Math.max(this.shortTerm.largest, largest(within(shortTerm, this.shortTerm))),
      ),
      loudnessRangeLu: this.range.with(touched),
      shortTerm: { first: Math.ceil(this.shortTerm.first / HOP_SUB_BLOCKS), values: touched },
      truePeakBoundDbtp: amplitudeToDb(Math.max(this.peakOutside, peakBoundAt(this.sums, changeDb))),
    };
  }
}
