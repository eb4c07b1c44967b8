import { expose } from 'comlink';
import { sha256Of } from '@/codecs/hash';
import { beginSound } from '@/codecs/measureSound';
import { openSound } from '@/codecs/open';
import { textOf } from '@/codecs/textOf';
import { declaredLayout } from '@/core/audio/layout';
import { withNotFinite } from '@/core/audio/integrity';
import type { WriteFormat } from '@/core/audio/pcm';
import type { AudioFormat, AudioReader } from '@/core/audio/reader';
import { combined, withLayout } from '@/core/audio/views';
import { checkFile } from '@/core/check/fileCheck';
import { checkDetails } from '@/core/check/findings/details';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import type { CheckMaterial } from '@/core/check/findings/material';
import { overTime } from '@/core/check/overTime';
import { holdsPcm, kindOf, openPcm } from '@/core/formats/openPcm';
import { align, alignFrames } from '@/core/loudness/alignment';
import { exactTruePeak } from '@/core/loudness/exactTruePeak';
import { levelDifference } from '@/core/loudness/levelDifference';
import { joinSlices, measureSlice, type ReaderMeasurement } from '@/core/loudness/measureReader';
import { signalArrays } from '@/core/loudness/signalBlocks';
import { soundMeasurement } from '@/core/loudness/sound';
import { everyHop, gatingBlocks, shortTermWindows } from '@/core/loudness/windows';
import { exactClipPeak, measureClip } from '@/core/measuring/measureClip';
import { renderFile } from '@/core/deliver/renderFile';
import { mendOf } from '@/core/proposals/fileGain';
import { limitClip } from '@/core/proposals/limitedClip';
import { checkCutSize, readCut } from '@/core/timeline/readCut';
import { FRAME_RATES } from '@/core/text/timecode';
import { Jobs } from './answer';
import { BlobWriter } from './blobWriter';
import { blobSource } from './blobSource';
import { buffersOf, sliceBuffers } from './buffers';
import { CopiedSource, settleStored } from './copiedSource';
import { WavKeeper } from './saveAsWav';
import { soundSource } from './soundSource';
import type { ClipTask, DrawnLevels, FileMeasurement, FileToCheck, MeasureApi } from './protocol';

const jobs = new Jobs();

function fileMeasurement(format: AudioFormat, measured: ReaderMeasurement): FileMeasurement {
  const sound = soundMeasurement(measured);
  return {
    ...sound,
    format: withNotFinite(format, measured.notFinite),
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

function fileToCheck(format: AudioFormat, measured: ReaderMeasurement): FileToCheck {
  const odd = withNotFinite(format, measured.notFinite);
  return { format: odd, material: fileMaterial(measured, odd, null), truePeak: measured.history.truePeak };
}

function checkBuffers({ material, truePeak }: FileToCheck): ArrayBuffer[] {
  const { energy, truePeaks, samplePeak, signal } = material;
  return buffersOf([energy, truePeaks, ...samplePeak, ...signalArrays(signal), ...truePeak]);
}

function drawnLevels({ figures, energy, sampleRate, truePeaks, seconds }: CheckMaterial): DrawnLevels {
  return {
    ...{ figures, energy, sampleRate, truePeaks, lengthSeconds: seconds },
    blocks: gatingBlocks(energy, sampleRate),
    shortTerm: everyHop(shortTermWindows(energy, sampleRate)),
  };
}

const openTask = ({ blob, sound }: ClipTask): Promise<AudioReader> =>
  openPcm(soundSource(sound.audioKey, blob));

const api: MeasureApi = {
  soundsOf: (job, blob) =>
    jobs.answer(job, async () => {
      const sound = await openSound(blobSource(blob));
      if (sound.kind === 'pcm') return [];
      const { tracks } = sound.stream;
      sound.stream.close();
      return tracks.length > 1 ? tracks : [];
    }),

  begin: (job, blob, choice, audioKey, onProgress) =>
    jobs.answer(
      job,
      async (proceed) => {
        const file = blobSource(blob);
        const as = audioKey !== null && holdsPcm(await kindOf(file)) ? audioKey : null;
        const store = as === null ? null : { audioKey: as, span: { from: 0, to: file.size } };
        const source = await CopiedSource.open(file, store);
        try {
          let keeper: WavKeeper | null = null;
          const begun = await beginSound(source, choice, proceed, (chunk, bits) => {
            keeper ??= new WavKeeper(bits);
            keeper.take(chunk);
          });
          if (begun?.kind !== 'done') return begun;
          const measurement = fileMeasurement(begun.format, begun.measured);
          const kept = keeper as WavKeeper | null;
          const stored = as !== null && (await source.finish()) && (await settleStored(as, file.size));
          return {
            kind: 'done',
            of: { measurement, pcm: kept && kept.finish(begun.format), stored },
          } as const;
        } finally {
          source.close();
        }
      },
      { onProgress, buffers: (begun) => (begun.kind === 'done' ? fileBuffers(begun.of.measurement) : []) },
    ),

  beginCheck: (job, blob, choice, onProgress) =>
    jobs.answer(
      job,
      async (proceed) => {
        const begun = await beginSound(blobSource(blob), choice, proceed);
        if (begun?.kind !== 'done') return begun;
        return { kind: 'done', of: fileToCheck(begun.format, begun.measured) } as const;
      },
      { onProgress, buffers: (begun) => (begun.kind === 'done' ? checkBuffers(begun.of) : []) },
    ),

  slice: (job, blob, layoutId, from, to, store, onProgress) =>
    jobs.answer(
      job,
      async (proceed) => {
        const file = blobSource(blob);
        const source = await CopiedSource.open(file, store);
        try {
          const reader = declared(await openPcm(source), layoutId);
          let frames = 0;
          const slice = await measureSlice(reader, from, to, (count) => proceed((frames += count)));
          return slice && { slice, stored: await source.finish() };
        } finally {
          source.close();
        }
      },
      { onProgress, buffers: ({ slice }) => sliceBuffers(slice) },
    ),

  settleStored,

  join: (job, format, parts) =>
    jobs.answer(job, () => Promise.resolve(fileMeasurement(format, joinSlices(parts, format))), {
      buffers: fileBuffers,
    }),

  joinCheck: (job, format, parts) =>
    jobs.answer(job, () => Promise.resolve(fileToCheck(format, joinSlices(parts, format))), {
      buffers: checkBuffers,
    }),

  checkFile: (job, { material, truePeak }, targets, thresholds, exactPeakDbtp) =>
    jobs.answer(job, () => {
      const check = checkFile(material, targets, thresholds);
      const spoken = check.judged.spoken ?? null;
      const mends = Object.fromEntries(
        targets.map((target) => [target.id, mendOf(material, target, exactPeakDbtp, spoken)]),
      );
      return Promise.resolve({
        check,
        mend: mends[targets[0]!.id]!,
        mends,
        details: checkDetails(material),
        overTime: overTime(material, truePeak),
        levels: drawnLevels(material),
      });
    }),

  alignSounds: (job, a, b) => jobs.answer(job, () => Promise.resolve(align(a, b))),

  levelDifference: (job, a, b, offsetSeconds) =>
    jobs.answer(job, () => Promise.resolve(levelDifference(a, b, offsetSeconds))),

  alignFrames: (job, a, b) => jobs.answer(job, () => Promise.resolve({ offset: alignFrames(a, b) })),

  measureClip: (job, task) =>
    jobs.answer(job, async (proceed) => measureClip(await openTask(task), task.sound, () => proceed(0))),

  exactClipPeak: (job, task, truePeaks) =>
    jobs.answer(job, async (proceed) =>
      exactClipPeak(await openTask(task), task.sound, truePeaks, () => proceed(0)),
    ),

  limitClip: (job, task, asked) =>
    jobs.answer(job, async (proceed) => limitClip(await openTask(task), task.sound, asked, proceed)),

  exactPeak: (job, blob, truePeaks, onProgress) =>
    jobs.answer(job, async (proceed) => exactTruePeak(await openPcm(blobSource(blob)), truePeaks, proceed), {
      onProgress,
    }),

  combine: (job, blobs, layoutId, onProgress) =>
    jobs.answer(
      job,
      async (proceed) => {
        const readers = await Promise.all(blobs.map((blob) => openPcm(blobSource(blob))));
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
          proceed,
        );
        const { warnings, integrity } = reader.format;
        return written && { blob: writer.finish('audio/wav'), warnings, integrity };
      },
      { onProgress },
    ),

  hash: (job, blob, onProgress) =>
    jobs.answer(job, (proceed) => sha256Of(blobSource(blob), proceed), { onProgress }),

  readCut: (job, blob, name, frameRateId) =>
    jobs.answer(job, async () => {
      checkCutSize(blob.size);
      const frameRate = FRAME_RATES.find(({ id }) => id === frameRateId)!;
      return readCut(textOf(new Uint8Array(await blob.arrayBuffer())), name, frameRate);
    }),

  cancel: jobs.cancel,
};

expose(api);
