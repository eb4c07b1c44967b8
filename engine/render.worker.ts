import { expose, transfer } from 'comlink';
import type { WriteFormat } from '@/core/audio/pcm';
import { programmeLayout, STEREO, type Layout } from '@/core/audio/layout';
import { mixMatrix } from '@/core/audio/mixMatrix';
import { openPcm } from '@/core/formats/openPcm';
import { newMixer } from '@/core/kernels/mixer';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { programmeFrames, type Project } from '@/core/programme/model';
import { renderRange, type Tap } from '@/core/signal/mix';
import { renderFile, type RenderSpec } from '@/core/deliver/renderFile';
import { AudioShelf } from './audioShelf';
import { blobSource } from './blobSource';
import { BlobWriter } from './blobWriter';
import { toFailure } from './failure';
import type { Outcome } from './measure.worker';
import { yieldNow } from './yieldNow';

/** A finished file. */
export interface RenderedFile {
  readonly blob: Blob;
  /** Samples that had to be held at full scale. */
  readonly clippedSamples: number;
}

const shelf = new AudioShelf();
const cancelled = new Set<number>();

async function toBlob(
  job: number,
  spec: RenderSpec,
  make: (start: number, count: number) => Promise<Float32Array[]>,
  onProgress: (done: number) => void,
): Promise<Outcome<RenderedFile>> {
  const writer = new BlobWriter();
  try {
    const result = await renderFile(
      spec,
      make,
      (bytes) => writer.write(bytes),
      async (done) => {
        onProgress(done);
        await yieldNow();
        return !cancelled.has(job);
      },
    );
    if (!result) return { cancelled: true };
    return { ok: { blob: writer.finish('audio/wav'), clippedSamples: result.clippedSamples } };
  } catch (error) {
    return { failure: toFailure(error) };
  } finally {
    cancelled.delete(job);
  }
}

function foldForListening(samples: Float32Array[], layout: Layout, channels: number): Float32Array[] {
  if (samples.length <= Math.max(2, channels)) return samples;
  const mixer = newMixer(STEREO.labels.length, samples[0]!.length);
  mixer.add(samples, 0, mixMatrix(layout, STEREO), 1);
  return mixer.finish();
}

const api = {
  putAudio(audioKey: string, blob: Blob): void {
    shelf.put(audioKey, blob);
  },

  /** Renders the whole programme to a WAV file. */
  renderProgramme(
    job: number,
    project: Project,
    format: WriteFormat,
    onProgress: (done: number) => void,
  ): Promise<Outcome<RenderedFile>> {
    const spec = {
      sampleRate: project.sampleRate,
      layout: programmeLayout(project.layoutId),
      format,
      frames: programmeFrames(project),
    };
    return toBlob(job, spec, (start, count) => renderRange(project, shelf.open, start, count), onProgress);
  },

  /** Writes a file again with one gain on all of it. */
  async applyGain(
    job: number,
    blob: Blob,
    gainDb: number,
    format: WriteFormat,
    onProgress: (done: number) => void,
  ): Promise<Outcome<RenderedFile>> {
    try {
      const reader = await openPcm(blobSource(blob));
      const gain = dbToAmplitude(gainDb);
      const { sampleRate, layout, frames } = reader.format;
      const make = async (start: number, count: number): Promise<Float32Array[]> =>
        (await reader.read(start, count)).map((channel) => channel.map((x) => x * gain));
      return await toBlob(job, { sampleRate, layout, frames, format }, make, onProgress);
    } catch (error) {
      return { failure: toFailure(error) };
    }
  },

  /** Renders a stretch to be heard, in stereo where the programme has more channels than can be heard. */
  async stretch(
    project: Project,
    start: number,
    count: number,
    soloed: readonly string[],
    channels: number,
  ): Promise<Float32Array[]> {
    const solo = new Set(soloed);
    const heard: Tap = ({ trackId }) => solo.size === 0 || solo.has(trackId);
    const all = await renderRange(project, shelf.open, start, count, heard);
    const samples = foldForListening(all, programmeLayout(project.layoutId), channels);
    return transfer(
      samples,
      samples.map((channel) => channel.buffer as ArrayBuffer),
    );
  },

  cancel(job: number): void {
    cancelled.add(job);
  },
};

export type RenderApi = typeof api;
expose(api);
