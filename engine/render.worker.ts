import { expose, transfer } from 'comlink';
import { programmeLayout, STEREO, type Layout } from '@/core/audio/layout';
import { mixMatrix } from '@/core/audio/mixMatrix';
import { openPcm } from '@/core/formats/openPcm';
import { newMixer } from '@/core/kernels/mixer';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { correlationAt } from '@/core/measuring/correlation';
import { joinAfter } from '@/core/programme/edits/crossfades';
import { renderRange, type Tap } from '@/core/signal/mix';
import { renderFile, type RenderSpec } from '@/core/deliver/renderFile';
import { findClicks } from '@/core/proposals/clicks';
import { measureLimited, solveLimited, type LimitedAt } from '@/core/proposals/limitedGain';
import { limitedProgramme } from '@/core/proposals/limitedProgramme';
import { limitedReader } from '@/core/signal/limiter/limitedReader';
import { answer, Jobs } from './answer';
import { AudioShelf } from './audioShelf';
import { blobSource } from './blobSource';
import { BlobWriter } from './blobWriter';
import { buffersOf } from './buffers';
import type { OnProgress, Outcome } from './protocol';
import type { RenderApi, RenderedFile } from './renderProtocol';

const shelf = new AudioShelf();
const jobs = new Jobs();

function toBlob(
  job: number,
  spec: RenderSpec,
  make: (start: number, count: number) => Promise<Float32Array[]>,
  onProgress: OnProgress,
): Promise<Outcome<RenderedFile>> {
  return jobs.answer(
    job,
    async (proceed) => {
      const writer = new BlobWriter();
      const written = await renderFile(spec, make, (bytes, at) => writer.place(bytes, at), proceed);
      return written && { blob: writer.finish('audio/wav'), ...written };
    },
    { onProgress },
  );
}

function foldForListening(samples: Float32Array[], layout: Layout, channels: number): Float32Array[] {
  if (samples.length <= Math.max(2, channels)) return samples;
  const mixer = newMixer(STEREO.labels.length, samples[0]!.length);
  mixer.add(samples, 0, mixMatrix(layout, STEREO), 1);
  return mixer.finish();
}

const api: RenderApi = {
  putAudio: (audioKey, blob) => shelf.put(audioKey, blob),

  async applyGain(job, blob, gainDb, limiter, format, onProgress) {
    const opened = await answer(() => openPcm(blobSource(blob)));
    if (!('ok' in opened)) return opened;
    const reader = opened.ok;
    const gain = dbToAmplitude(gainDb);
    const { sampleRate, layout, frames, metadata } = reader.format;
    const limited = limiter && limitedReader(reader, { ...limiter, inputDb: gainDb });
    const make = async (start: number, count: number): Promise<Float32Array[]> =>
      limited
        ? [...(await limited.read(start, count))]
        : (await reader.read(start, count)).map((channel) => channel.map((x) => x * gain));
    const said = metadata && { ...metadata, loudness: null };
    return toBlob(job, { sampleRate, layout, frames, format, metadata: said }, make, onProgress);
  },

  async limitFile(job, blob, limiter, goalLufs, startDb, onProgress) {
    const opened = await answer(() => openPcm(blobSource(blob)));
    if (!('ok' in opened)) return opened;
    const at: LimitedAt = (gainDb, onDone) => measureLimited(opened.ok, limiter, gainDb, onDone);
    return jobs.answer(job, (proceed) => solveLimited(at, goalLufs, startDb, Infinity, proceed), {
      onProgress,
    });
  },

  async renderHeard(project, start, count, soloed, channels) {
    const solo = new Set(soloed);
    const heard: Tap = ({ trackId }) => solo.size === 0 || solo.has(trackId);
    const all = await renderRange(project, shelf.open, start, count, heard);
    const samples = foldForListening(all, programmeLayout(project.layoutId), channels);
    return transfer(samples, buffersOf(samples));
  },

  solveLimited(job, project, limiter, goalLufs, startDb, mostDb, onProgress) {
    const at = limitedProgramme(project, limiter, shelf.open);
    return jobs.answer(job, (proceed) => solveLimited(at, goalLufs, startDb, mostDb, proceed), {
      onProgress,
    });
  },

  findClicks: (job, project, limits, onProgress) =>
    jobs.answer(job, (proceed) => findClicks(project, limits, shelf.open, proceed), { onProgress }),

  correlation: (project, beforeId, from, to) =>
    answer(async () => {
      const clip = project.clips.find(({ id }) => id === beforeId);
      const join = clip && joinAfter(project, clip);
      return { rho: join ? await correlationAt(project, join, from, to, shelf.open) : null };
    }),

  cancel: jobs.cancel,
};

expose(api);
