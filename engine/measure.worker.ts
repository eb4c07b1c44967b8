import { expose, transfer } from 'comlink';
import { beginSound } from '@/codecs/measureSound';
import type { SoundChoice } from '@/core/audio/soundChoice';
import { openSound } from '@/codecs/open';
import { declaredLayout } from '@/core/audio/layout';
import type { WriteFormat } from '@/core/audio/pcm';
import type { AudioFormat, AudioReader } from '@/core/audio/reader';
import type { SoundTrack } from '@/core/audio/stream';
import { combined, withLayout } from '@/core/audio/views';
import { openPcm } from '@/core/formats/openPcm';
import { exactTruePeak, type ExactPeak } from '@/core/loudness/exactTruePeak';
import {
  joinStretches,
  measureStretch,
  type ReaderMeasurement,
  type StretchMeasurement,
} from '@/core/loudness/measureReader';
import { soundMeasurement, type SoundMeasurement } from '@/core/loudness/sound';
import { gatingBlocks } from '@/core/loudness/windows';
import type { ClipSound } from '@/core/signal/clipSound';
import { exactClipPeak, measureClip, type ClipMeasurement } from '@/core/measuring/measureClip';
import { renderFile } from '@/core/deliver/renderFile';
import type { Cut } from '@/core/timeline/cut';
import { checkCutSize, readCut } from '@/core/timeline/readCut';
import { FRAME_RATES } from '@/core/timeline/timecode';
import { BlobWriter } from './blobWriter';
import { blobSource } from './blobSource';
import { buffersOf, stretchBuffers } from './buffers';
import { toFailure, type Failure } from './failure';
import { WavKeeper } from './keepAsWav';
import { yieldNow } from './yieldNow';

/** A whole file, measured. */
export interface FileMeasurement extends SoundMeasurement {
  readonly format: AudioFormat;
  /** Weighted mean squares of the gating blocks. */
  readonly blocks: Float64Array;
}

export type Outcome<T> = { readonly ok: T } | { readonly failure: Failure } | { readonly cancelled: true };

/** What a first look at a file brings. */
export type Begun =
  /** It is measured already: compressed, or short. */
  | { readonly kind: 'done'; readonly measurement: FileMeasurement; readonly pcm: Blob | null }
  /** It is long; these are the peak blocks at which to cut it. */
  | { readonly kind: 'cut'; readonly format: AudioFormat; readonly cuts: readonly number[] };

/** A clip to measure, and its source. */
export interface ClipTask {
  readonly blob: Blob;
  readonly sound: ClipSound;
}

const cancelled = new Set<number>();

/** @param buffers what of the result is handed over rather than copied */
async function guarded<T>(
  job: number,
  work: () => Promise<T | null>,
  buffers: (result: T) => ArrayBuffer[] = () => [],
): Promise<Outcome<T>> {
  try {
    const result = await work();
    return result === null ? { cancelled: true } : transfer({ ok: result }, buffers(result));
  } catch (error) {
    return { failure: toFailure(error) };
  } finally {
    cancelled.delete(job);
  }
}

/** Lets a cancel in between slices, and tells how far it is. */
function proceed(job: number, onProgress?: (done: number) => void) {
  return async (done: number): Promise<boolean> => {
    onProgress?.(done);
    await yieldNow();
    return !cancelled.has(job);
  };
}

function oddSamples(format: AudioFormat, notFinite: number): AudioFormat {
  if (notFinite === 0) return format;
  const odd = `${notFinite} ${notFinite === 1 ? 'sample is' : 'samples are'} not a number or beyond all bounds; read as silence.`;
  return { ...format, warnings: [...format.warnings, odd] };
}

function fileMeasurement(format: AudioFormat, measured: ReaderMeasurement): FileMeasurement {
  const sound = soundMeasurement(measured);
  return {
    ...sound,
    format: oddSamples(format, measured.notFinite),
    blocks: gatingBlocks(sound.energy, sound.sampleRate),
  };
}

function fileBuffers({ energy, truePeaks, blocks, overview }: FileMeasurement): ArrayBuffer[] {
  const levels = overview.levels.flatMap((level) => [level.low, level.high]);
  return buffersOf([energy, truePeaks, blocks, ...levels]);
}

function declared(reader: AudioReader, layoutId: string | null): AudioReader {
  const layout = layoutId === null ? null : declaredLayout(layoutId, reader.format.layout.labels.length);
  return layout ? withLayout(reader, layout) : reader;
}

async function openKept(blob: Blob, layoutId: string | null): Promise<AudioReader> {
  return declared(await openPcm(blobSource(blob)), layoutId);
}

const api = {
  /** The sounds of a file, where there are several to choose from; otherwise none. */
  soundsOf(job: number, blob: Blob): Promise<Outcome<readonly SoundTrack[]>> {
    return guarded(job, async () => {
      const sound = await openSound(blobSource(blob));
      if (sound.kind === 'pcm') return [];
      const { tracks } = sound.stream;
      sound.stream.close();
      return tracks.length > 1 ? tracks : [];
    });
  },

  /** Opens a file; decodes and measures it if it is compressed, measures it if it is short, else says how to cut it. */
  begin(
    job: number,
    blob: Blob,
    choice: SoundChoice,
    onProgress: (done: number) => void,
  ): Promise<Outcome<Begun>> {
    const work = async (): Promise<Begun | null> => {
      let keeper: WavKeeper | null = null;
      const begun = await beginSound(blobSource(blob), choice, proceed(job, onProgress), (chunk, bits) => {
        keeper ??= new WavKeeper(bits);
        keeper.take(chunk);
      });
      if (begun?.kind !== 'done') return begun;
      const measurement = fileMeasurement(begun.format, begun.measured);
      const kept = keeper as WavKeeper | null;
      return { kind: 'done', measurement, pcm: kept && kept.finish(begun.format) };
    };
    return guarded(job, work, (begun) => (begun.kind === 'done' ? fileBuffers(begun.measurement) : []));
  },

  /** Measures peak blocks [from, to) of a file with plain samples. */
  stretch(
    job: number,
    blob: Blob,
    layoutId: string | null,
    from: number,
    to: number,
    onProgress: (frames: number) => void,
  ): Promise<Outcome<StretchMeasurement>> {
    return guarded(
      job,
      async () => measureStretch(await openKept(blob, layoutId), from, to, proceed(job, onProgress)),
      stretchBuffers,
    );
  },

  /** Joins the stretches of a file. */
  join(
    job: number,
    format: AudioFormat,
    parts: readonly StretchMeasurement[],
  ): Promise<Outcome<FileMeasurement>> {
    return guarded(
      job,
      () => Promise.resolve(fileMeasurement(format, joinStretches(parts, format))),
      fileBuffers,
    );
  },

  measureClip(job: number, task: ClipTask): Promise<Outcome<ClipMeasurement>> {
    return guarded(job, async () => {
      const reader = await openKept(task.blob, null);
      return measureClip(reader, task.sound, () => proceed(job)(0));
    });
  },

  /** The exact true peak of a clip by itself, before its gain. */
  exactClipPeak(
    job: number,
    task: ClipTask,
    truePeaks: Float32Array,
  ): Promise<Outcome<{ readonly exact: number | null }>> {
    return guarded(job, async () => {
      const reader = await openKept(task.blob, null);
      return exactClipPeak(reader, task.sound, truePeaks, () => proceed(job)(0));
    });
  },

  /** The true peak at 16 times the rate. */
  exactPeak(
    job: number,
    blob: Blob,
    truePeaks: Float32Array,
    onProgress: (done: number) => void,
  ): Promise<Outcome<ExactPeak>> {
    return guarded(job, async () =>
      exactTruePeak(await openKept(blob, null), truePeaks, proceed(job, onProgress)),
    );
  },

  /** Writes several mono sounds as one file of several channels. */
  combine(
    job: number,
    blobs: readonly Blob[],
    layoutId: string,
    onProgress: (done: number) => void,
  ): Promise<Outcome<{ readonly blob: Blob; readonly warnings: readonly string[] }>> {
    return guarded(job, async () => {
      const readers = await Promise.all(blobs.map((blob) => openKept(blob, null)));
      const layout = declaredLayout(layoutId, readers.length);
      if (!layout) throw new RangeError(`No layout ${layoutId} of ${readers.length} channels`);
      const reader = combined(readers, layout);
      const bits = Math.max(
        ...readers.map(({ pcm }) => (pcm!.encoding.kind === 'float' ? 32 : pcm!.encoding.bits)),
      );
      const format: WriteFormat = bits <= 16 ? 's16' : bits <= 24 ? 's24' : 'f32';
      const writer = new BlobWriter();
      const { sampleRate, frames } = reader.format;
      const spec = { sampleRate, frames, layout, format };
      const written = await renderFile(
        spec,
        (start, count) => reader.read(start, count),
        (bytes) => writer.write(bytes),
        proceed(job, onProgress),
      );
      return written && { blob: writer.finish('audio/wav'), warnings: reader.format.warnings };
    });
  },

  /** Reads what an edit system made. @param frameRateId of a list, which does not say it */
  readCut(job: number, blob: Blob, name: string, frameRateId: string): Promise<Outcome<Cut>> {
    return guarded(job, async () => {
      checkCutSize(blob.size);
      const frameRate = FRAME_RATES.find(({ id }) => id === frameRateId)!;
      return readCut(await blob.text(), name, frameRate);
    });
  },

  cancel(job: number): void {
    cancelled.add(job);
  },
};

export type MeasureApi = typeof api;
expose(api);
