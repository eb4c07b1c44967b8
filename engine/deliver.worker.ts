import { expose } from 'comlink';
import { soundWriter } from '@/codecs/write/soundWriter';
import type { FramePart, SoundWriter } from '@/core/audio/soundWriter';
import { correctMix, measureMix } from '@/core/deliver/correctMix';
import { deliveredSound, type Treatment } from '@/core/deliver/deliveredSound';
import { mixSounds, WHOLE_MIX } from '@/core/deliver/mixSounds';
import { passSounds, type PassSound } from '@/core/deliver/passSounds';
import { produceFiles, type FileFate, type FileTask } from '@/core/deliver/produce';
import { renderFile } from '@/core/deliver/renderFile';
import type { StemSum } from '@/core/deliver/stemSum';
import { openPcm } from '@/core/formats/openPcm';
import { withLayout } from '@/core/audio/views';
import { programmeLayout, wavChannels } from '@/core/audio/layout';
import type { SoundMeasurement } from '@/core/loudness/sound';
import type { Project } from '@/core/programme/model';
import type { ReadSound } from '@/core/signal/limiter/limitedReader';
import { Jobs } from './answer';
import { AudioShelf } from './audioShelf';
import { blobSource } from './blobSource';
import { BlobWriter } from './blobWriter';
import type { DeliverApi, Share, WriteFate, WriteTask } from './deliverProtocol';
import { toFailure } from './failure';

const shelf = new AudioShelf();
const jobs = new Jobs();
const dropped = new Set<string>();
let project: Project;

/** What was measured last of a mix that was kept: several targets ask for the same. */
let measured: { readonly key: string; readonly mix: Blob; readonly sound: SoundMeasurement } | null = null;

const MEDIA_TYPES: Readonly<Record<string, string>> = {
  ...{ aiff: 'audio/aiff', flac: 'audio/flac', mp3: 'audio/mpeg', opus: 'audio/ogg', mov: 'video/quicktime' },
  ...{ mp4: 'audio/mp4', mkv: 'audio/x-matroska' },
};

/** What of a treatment its measurement depends on. */
const keyOf = ({ layoutId, sampleRate }: Treatment): string => JSON.stringify([layoutId, sampleRate]);

async function openMix(mix: Blob) {
  const reader = await openPcm(blobSource(mix));
  return withLayout(reader, wavChannels(programmeLayout(project.layoutId)).layout);
}

/** A file that is being written, with what becomes its bytes. */
class Writing {
  readonly bytes = new BlobWriter();
  writer: SoundWriter | null = null;
  readonly sound: ReadSound;

  private readonly part: FramePart;
  private readonly sum: StemSum | null;

  constructor(
    readonly task: WriteTask,
    { sound, sum }: PassSound,
    { index, count }: Share,
  ) {
    this.sound = sound;
    this.sum = sum;
    const { frames } = this.sound.format;
    this.part = {
      from: Math.round((frames * index) / count),
      to: Math.round((frames * (index + 1)) / count),
    };
  }

  get fileTask(): FileTask {
    const { key, known } = this.task;
    const { sum } = this;
    const heard = sum ? (samples: readonly Float32Array[], at: number) => sum.take(samples, at) : undefined;
    return { key, known, sound: this.sound, open: this.open, part: this.part, heard };
  }

  readonly open = async (): Promise<SoundWriter> => {
    const { sampleRate, layout, frames } = this.sound.format;
    const file = { ...this.task.written, sampleRate, layout, frames, part: this.part };
    this.writer = await soundWriter(file, (bytes, at) => this.bytes.place(bytes, at));
    return this.writer;
  };

  fate(of: FileFate): WriteFate {
    if ('dropped' in of) return { cancelled: true };
    if ('error' in of) return { failure: toFailure(of.error) };
    const type = MEDIA_TYPES[this.task.written.format.kind] ?? 'audio/wav';
    const loudnessAt = this.writer?.loudnessAt ?? null;
    return { ok: { blob: this.bytes.finish(type), ...of.ok, sum: this.sum?.result ?? null, loudnessAt } };
  }
}

const api: DeliverApi = {
  putAudio: (audioKey, blob) => shelf.put(audioKey, blob),
  cancel: jobs.cancel,
  drop: (key) => void dropped.add(key),

  take(taken) {
    project = taken;
    measured = null;
    dropped.clear();
  },

  keepMix: (job, from, to, onProgress) =>
    jobs.answer(
      job,
      async (proceed) => {
        const [sound] = mixSounds(project, shelf.open, from, to, [WHOLE_MIX]);
        const bytes = new BlobWriter();
        const spec = { ...sound!.format, format: 'f32' as const };
        const done = await renderFile(
          spec,
          (start, count) => sound!.read(start, count),
          (piece, at) => bytes.place(piece, at),
          proceed,
        );
        return done && bytes.finish('audio/wav');
      },
      { onProgress },
    ),

  correct: (job, mix, treatment, target, way, spoken, onProgress) =>
    jobs.answer(
      job,
      async (proceed) => {
        const reader = await openMix(mix);
        const key = keyOf(treatment);
        if (measured?.mix !== mix || measured.key !== key) {
          const sound = await measureMix(reader, treatment, (done) => proceed(done / 2));
          if (!sound) return null;
          measured = { key, mix, sound };
        }
        const { sound } = measured;
        if (!target) return { before: sound.figures, correction: '' };
        const later = (done: number): Promise<boolean> => proceed(0.5 + done / 2);
        const correction = await correctMix(reader, treatment, sound, target, way, spoken, later);
        return correction === null ? null : { before: sound.figures, correction };
      },
      { onProgress },
    ),

  write: (job, tasks, mix, from, to, share, onFile) =>
    jobs.answer(job, async (proceed) => {
      const reader = mix && (await openMix(mix));
      const sounds = reader
        ? tasks.map(({ treatment, given }) => ({
            sound: deliveredSound(reader, treatment, given),
            sum: null,
          }))
        : passSounds(project, shelf.open, { from, to }, tasks);
      const writings = tasks.map((task, i) => new Writing(task, sounds[i]!, share));
      const told = new Map<string, number>();
      const fates = await produceFiles(
        writings.map(({ fileTask }) => fileTask),
        (key) => !dropped.has(key),
        (done) => {
          for (const [key, part] of done) {
            const percent = Math.floor(part * 100);
            if (percent !== told.get(key)) onFile(key, part);
            told.set(key, percent);
          }
          return proceed(0);
        },
      );
      return (
        fates &&
        new Map(writings.map((writing) => [writing.task.key, writing.fate(fates.get(writing.task.key)!)]))
      );
    }),
};

expose(api);
