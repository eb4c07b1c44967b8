import { joinOverview, OverviewBuilder, type Overview, type OverviewPart } from '@/core/audio/overview';
import { bytesPerSample } from '@/core/audio/pcm';
import type { AudioReader } from '@/core/audio/reader';
import { changedMeanwhile } from '@/core/formats/errors';
import { LoudnessMeter } from './meter';
import { SETTLING_SECONDS } from './kWeighting';
import { joinScans, SignalScanner, type JoinedScan, type SignalScan } from './signalScan';
import {
  emptyHistory,
  PEAK_SUB_BLOCKS,
  peakBlockCount,
  subBlockStart,
  type SubBlockHistory,
} from './subBlocks';

/** Bytes read at a time, roughly: few enough to stay in the cache, many enough to keep a Blob fast. */
const SLICE_BYTES = 2 * 1024 * 1024;

/** A whole sound, measured. */
export interface ReaderMeasurement {
  readonly history: SubBlockHistory;
  readonly overview: Overview;
  readonly scan: JoinedScan;
  /** Samples that were NaN or infinite; they were measured as silence. */
  readonly notFinite: number;
}

/** A slice of a sound, measured by itself; such slices can be joined. */
export interface SliceMeasurement {
  /** First peak block, and the peak block after the last. */
  readonly from: number;
  readonly to: number;
  readonly energy: readonly Float64Array[];
  readonly samplePeak: readonly Float32Array[];
  readonly truePeak: readonly Float32Array[];
  readonly overview: OverviewPart;
  readonly scan: SignalScan;
  readonly notFinite: number;
}

/** Called between slices with the frames done since the last call; `false` stops. */
export type Proceed = (frames: number) => boolean | Promise<boolean>;

/** First frame of a peak block. */
const peakBlockStart = (block: number, sampleRate: number): number =>
  subBlockStart(block * PEAK_SUB_BLOCKS, sampleRate);

/**
 * Cuts a sound into slices that can be measured at the same time.
 * @param parts how many at most
 * @returns peak blocks at which to cut, from 0 to the end
 */
export function slices(frames: number, sampleRate: number, parts: number): number[] {
  const blocks = peakBlockCount(frames, sampleRate);
  // Settling before each cut costs some time; slices under ten seconds are not worth it.
  const count = Math.max(1, Math.min(parts, Math.floor(blocks / 100)));
  return Array.from({ length: count + 1 }, (_, i) => Math.round((blocks * i) / count));
}

/**
 * Measures a slice of a sound at its own rate, slice by slice, the next slice being read meanwhile.
 * @param from first peak block
 * @param to peak block after the last
 * @returns `null` when stopped
 */
export async function measureSlice(
  reader: AudioReader,
  from: number,
  to: number,
  proceed: Proceed,
): Promise<SliceMeasurement | null> {
  const { frames, layout, sampleRate } = reader.format;
  // What was cut when it was longer has no such slice any more.
  if (to > peakBlockCount(frames, sampleRate)) throw changedMeanwhile();
  const begin = peakBlockStart(from, sampleRate);
  const end = Math.min(frames, peakBlockStart(to, sampleRate));
  const overview = new OverviewBuilder(begin);
  const scanner = new SignalScanner(layout.labels, sampleRate, begin);
  const meter = new LoudnessMeter(layout, sampleRate, {
    firstSubBlock: from * PEAK_SUB_BLOCKS,
    listeners: [overview, scanner],
  });
  try {
    if (!(await feed(meter, reader, begin, end, proceed))) return null;
    if (end === frames) meter.ringOut();
    const part = emptyHistory(layout, sampleRate, end - begin);
    meter.copyTo(part, 0);
    return {
      from,
      to,
      energy: part.energy,
      samplePeak: part.samplePeak,
      truePeak: part.truePeak,
      overview: overview.part(),
      scan: scanner.finish(),
      notFinite: meter.notFinite,
    };
  } finally {
    meter.release();
  }
}

/** Gives a meter frames [begin, end) of a sound, after what it settles on. @returns `false` when stopped */
async function feed(
  meter: LoudnessMeter,
  reader: AudioReader,
  begin: number,
  end: number,
  proceed: Proceed,
): Promise<boolean> {
  const { layout, sampleRate } = reader.format;
  const channels = layout.labels.length;
  const { pcm } = reader;
  const width = pcm ? bytesPerSample(pcm.encoding) : 4;
  const slice = Math.max(sampleRate, Math.floor(SLICE_BYTES / (channels * width)));
  const settleFrom = Math.max(0, begin - Math.ceil(SETTLING_SECONDS * sampleRate));
  const most = Math.min(slice, end - settleFrom);
  const rooms: Uint8Array[] = [];
  let turn = 0;
  const bring = async (start: number, count: number, take: 'settle' | 'push'): Promise<() => void> => {
    if (pcm) {
      // One slice is measured while the next is read, so two rooms take turns.
      const room = (rooms[turn] ??= new Uint8Array(most * channels * width));
      turn = 1 - turn;
      const bytes = await pcm.readBytes(start, count, room);
      return take === 'settle'
        ? () => meter.settleBytes(bytes, pcm.encoding)
        : () => meter.pushBytes(bytes, pcm.encoding);
    }
    const chunk = await reader.read(start, count);
    return take === 'settle' ? () => meter.settle(chunk) : () => meter.push(chunk);
  };
  if (settleFrom < begin) (await bring(settleFrom, begin - settleFrom, 'settle'))();
  const next = (start: number) => (start < end ? bring(start, Math.min(slice, end - start), 'push') : null);
  let coming = next(begin);
  for (let done = begin; coming !== null;) {
    const take = await coming;
    const count = Math.min(slice, end - done);
    coming = next(done + count);
    // Whoever waits for it hears of its failure; until then it is nobody's.
    coming?.catch(() => undefined);
    take();
    done += count;
    if (!(await proceed(count))) return false;
  }
  return true;
}

/** Joins slices that follow each other from a sound's start to its end: the same as measuring it in one pass. */
export function joinSlices(
  parts: readonly SliceMeasurement[],
  { frames, layout, sampleRate }: Pick<AudioReader['format'], 'frames' | 'layout' | 'sampleRate'>,
): ReaderMeasurement {
  const history = emptyHistory(layout, sampleRate, frames);
  for (const part of parts) {
    for (let c = 0; c < layout.labels.length; c++) {
      const fit = <T extends Float32Array | Float64Array>(target: T, values: T, at: number): void =>
        target.set(values.subarray(0, Math.max(0, target.length - at)), at);
      fit(history.energy[c]!, part.energy[c]!, part.from * PEAK_SUB_BLOCKS);
      fit(history.samplePeak[c]!, part.samplePeak[c]!, part.from);
      fit(history.truePeak[c]!, part.truePeak[c]!, part.from);
    }
  }
  return {
    history,
    overview: joinOverview(
      parts.map((part) => part.overview),
      frames,
    ),
    scan: joinScans(
      parts.map((part) => part.scan),
      sampleRate,
    ),
    notFinite: parts.reduce((sum, part) => sum + part.notFinite, 0),
  };
}

/**
 * Measures a whole sound at its own rate.
 * @param proceed asked between slices with the part done (0 to 1); `false` stops
 * @returns `null` when stopped
 */
export async function measureReader(
  reader: AudioReader,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<ReaderMeasurement | null> {
  const { frames, sampleRate } = reader.format;
  let done = 0;
  const part = await measureSlice(reader, 0, peakBlockCount(frames, sampleRate), (count) => {
    done += count;
    return proceed(frames > 0 ? done / frames : 1);
  });
  return part && joinSlices([part], reader.format);
}
