import { registerFlacEncoder } from '@mediabunny/flac-encoder';
import { registerMp3Encoder } from '@mediabunny/mp3-encoder';
import { createMD5 } from 'hash-wasm';
import {
  AudioSample,
  AudioSampleSource,
  FlacOutputFormat,
  MkvOutputFormat,
  MovOutputFormat,
  Mp3OutputFormat,
  Mp4OutputFormat,
  OggOutputFormat,
  Output,
  StreamTarget,
  type AudioCodec,
  type MetadataTags,
  type OutputFormat,
} from 'mediabunny';
import { Dither } from '@/core/audio/dither';
import { wavChannels } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import type { PlacedSink, SoundWriter } from '@/core/audio/soundWriter';
import { coderOf, isLossy } from '@/core/deliver/fileKinds';
import type { FileFormat, FileKind } from '@/core/programme/delivery';
import { forCoder } from './forCoder';
import { Mp3Info } from './mp3Info';
import { OpusPackets, type OpusDelay } from './opus';
import type { WrittenFile } from './writtenFile';

let registered = false;

/** Coders are taken in once a file needs one. */
function register(): void {
  if (registered) return;
  registered = true;
  registerFlacEncoder();
  registerMp3Encoder();
}

const OUTPUTS: Readonly<Partial<Record<FileKind, () => OutputFormat>>> = {
  flac: () => new FlacOutputFormat(),
  // Its first frame, which says how long it is, is our own.
  mp3: () => new Mp3OutputFormat({ xingHeader: false }),
  opus: () => new OggOutputFormat(),
  // What stands in front is written last: nothing is held in memory for it.
  mp4: () => new Mp4OutputFormat({ fastStart: false }),
  mov: () => new MovOutputFormat({ fastStart: false }),
  mkv: () => new MkvOutputFormat(),
};

const codecOf = ({ kind, depth }: FileFormat): AudioCodec =>
  kind === 'flac' || kind === 'mp3' ? kind : depth === 's16' ? 'pcm-s16' : 'pcm-s24';

function tagsOf({ format, texts, saidLufs }: WrittenFile): MetadataTags {
  const { title, artist, description, language } = texts;
  const raw = {
    ...(language && { LANGUAGE: language }),
    // Gain that brings it to −23 LUFS, in 256ths of a dB. Source: RFC 7845, clause 5.2.1.
    ...(format.kind === 'opus' &&
      saidLufs !== null && { R128_TRACK_GAIN: String(Math.round((-23 - saidLufs) * 256)) }),
  };
  return {
    ...(title && { title }),
    ...(artist && { artist }),
    ...(description && { comment: description }),
    ...(Object.keys(raw).length > 0 && { raw }),
  };
}

/** How containers tell the delay of Opus. */
const DELAYS: Readonly<Partial<Record<FileKind, OpusDelay>>> = { opus: 'counted', mkv: 'untold' };

/** Where the checksum of the samples stands in a FLAC file, bytes. Source: RFC 9639, clause 8.2. */
const FLAC_MD5_AT = 26;

/**
 * What the MP3 coder multiplies all of the sound by, against clipping in decoders: it is taken back before, so that the file is as
 * loud as what went in. Found by coding a tone at every bit rate; the tests hold it.
 */
const mp3Scale = (kbps: number): number => (kbps < 192 ? 0.95 : kbps < 224 ? 0.97 : kbps < 256 ? 0.98 : 1);

/** A track of whole samples: plain, or coded by a package. */
async function sampleTrack({ format, sampleRate, layout }: WrittenFile) {
  const source = new AudioSampleSource({
    codec: codecOf(format),
    ...(isLossy(format) && { bitrate: format.kbps * 1000 }),
  });
  const depth = format.kind !== 'mp3' && format.depth === 's24' ? 's24' : 's16';
  const width = depth === 's24' ? 3 : 2;
  const dither = depth === 's16' && format.dither ? new Dither() : null;
  const md5 = format.kind === 'flac' ? await createMD5() : null;
  md5?.init();
  const gain = format.kind === 'mp3' ? 1 / mp3Scale(format.kbps) : 1;
  let frame = 0;
  let clippedSamples = 0;
  return {
    source,
    async write(samples: readonly Float32Array[], frames: number): Promise<void> {
      const scaled = gain === 1 ? samples : samples.map((channel) => channel.map((x) => x * gain));
      const { bytes, clipped } = encodePcm(scaled, frames, depth, dither);
      clippedSamples += clipped;
      md5?.update(bytes);
      const sample = new AudioSample({
        ...{ data: forCoder(bytes, width), format: width === 2 ? 's16' : 's32' },
        ...{ numberOfChannels: layout.labels.length, sampleRate, timestamp: frame / sampleRate },
      });
      try {
        await source.add(sample);
      } finally {
        sample.close();
      }
      frame += frames;
    },
    finish: (): void => source.close(),
    clipped: () => clippedSamples,
    md5: () => md5?.digest('binary') as Uint8Array<ArrayBuffer> | undefined,
  };
}

/** What codes the sound of a file. */
async function trackOf(file: WrittenFile) {
  const { format, sampleRate, layout, saidLufs } = file;
  if (!isLossy(format) || format.kind === 'mp3') return sampleTrack(file);
  const channels = layout.labels.length;
  if (format.kind === 'opus' || coderOf(format) === 'opus')
    return OpusPackets.open(channels, sampleRate, format.kbps, DELAYS[format.kind] ?? 'before');
  const { Ac3Packets } = await import('./ac3');
  return Ac3Packets.open(channels, sampleRate, format.kbps, saidLufs, format.kind !== 'mkv');
}

/** Writes a file whose container or codec comes from a package. @throws AudioFileError when the kind cannot hold it */
export async function mediaWriter(file: WrittenFile, sink: PlacedSink): Promise<SoundWriter> {
  register();
  const { format, layout } = file;
  const { order } = wavChannels(layout);
  const mp3 = format.kind === 'mp3' ? new Mp3Info(sink) : null;
  const put = mp3?.write ?? sink;
  const output = new Output({
    format: OUTPUTS[format.kind]!(),
    target: new StreamTarget(
      new WritableStream({
        write: ({ data, position }) => put(data.slice() as Uint8Array<ArrayBuffer>, position),
      }),
    ),
  });
  const track = await trackOf(file);
  const { language } = file.texts;
  output.addAudioTrack(track.source, /^[a-z]{3}$/.test(language) ? { languageCode: language } : {});
  output.setMetadataTags(tagsOf(file));
  await output.start();
  return {
    write: (samples, frames) =>
      track.write(
        order.map((channel) => samples[channel]!),
        frames,
      ),
    async finish() {
      await track.finish();
      await output.finalize();
      await mp3?.finish(file.frames);
      const md5 = 'md5' in track ? track.md5() : undefined;
      if (md5) await sink(md5, FLAC_MD5_AT);
      return { clippedSamples: 'clipped' in track ? track.clipped() : 0 };
    },
  };
}
