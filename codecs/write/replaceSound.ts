import {
  AudioSample,
  AudioSampleSource,
  CustomSource,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  Input,
  MATROSKA,
  MkvOutputFormat,
  MovOutputFormat,
  MP4,
  Output,
  QTFF,
  StreamTarget,
  WEBM,
  type InputAudioTrack,
  type InputTrack,
  type InputVideoTrack,
  type OutputFormat,
} from 'mediabunny';
import type { ByteSource } from '@/core/audio/byteSource';
import { wavChannels } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import type { AudioReader } from '@/core/audio/reader';
import type { PlacedSink } from '@/core/audio/soundWriter';
import type { FilmFacts } from '@/core/deliver/filmWords';
import { AudioFileError } from '@/core/formats/errors';
import { handlersOf } from '../mp4Tables';
import { forCoder } from './forCoder';

/** The sound is written so many seconds at a time. */
const PIECE_SECONDS = 1;

/** What comes of it. */
export interface ReplacedSound extends FilmFacts {
  /** Tracks of picture. */
  readonly pictures: number;
  /** What the copy's name has to end in, where it is of another kind than the film; else `null`. */
  readonly ending: '.mov' | null;
}

/** How a kind of film is written. */
interface Film {
  readonly make: () => OutputFormat;
  /** Times are kept to the frame when it is told how many there are. */
  readonly snaps: boolean;
  readonly ending: ReplacedSound['ending'];
}

const FILMS: Readonly<Record<'MP4' | 'QuickTime' | 'Matroska', Film>> = {
  // Common decoders take 24-bit samples in MP4 for 16-bit ones: noise at full scale. MOV holds the same packets of picture.
  MP4: { make: () => new MovOutputFormat({ fastStart: false }), snaps: true, ending: '.mov' },
  QuickTime: { make: () => new MovOutputFormat({ fastStart: false }), snaps: true, ending: null },
  Matroska: { make: () => new MkvOutputFormat(), snaps: false, ending: null },
};

async function filmOf(input: Input): Promise<Film> {
  const format = await input.getFormat();
  if (format === MP4) return FILMS.MP4;
  if (format === QTFF) return FILMS.QuickTime;
  if (format === MATROSKA) return FILMS.Matroska;
  throw new AudioFileError(
    ...([
      'noFilm',
      format === WEBM
        ? 'WebM holds Opus and Vorbis only; the mended sound would lose again.'
        : 'The picture of this kind of file cannot be copied.',
    ] as const),
    'Make it MP4, MOV or Matroska first, or save the sound as WAV.',
  );
}

/** Copies a track packet for packet. @returns how many, and where the last ends, seconds; `null` when it was given up */
async function copyPackets(
  track: InputVideoTrack | InputAudioTrack,
  source: EncodedVideoPacketSource | EncodedAudioPacketSource,
  proceed: (seconds: number) => boolean | Promise<boolean>,
): Promise<{ readonly count: number; readonly ends: number } | null> {
  const decoderConfig = await track.getDecoderConfig();
  let count = 0;
  let ends = 0;
  for await (const packet of new EncodedPacketSink(track as InputTrack).packets()) {
    // The first says how the track is decoded.
    const meta = count === 0 && decoderConfig ? ({ decoderConfig } as never) : undefined;
    await source.add(packet, meta);
    ends = Math.max(ends, packet.timestamp + packet.duration);
    if (++count % 25 === 0 && !(await proceed(packet.timestamp))) return null;
  }
  source.close();
  return { count, ends };
}

const metadataOf = async (track: InputTrack) => {
  const [languageCode, name, disposition] = await Promise.all([
    track.getLanguageCode(),
    track.getName(),
    track.getDisposition(),
  ]);
  return { ...(languageCode !== 'und' && { languageCode }), ...(name && { name }), disposition };
};

/** What tracks besides picture and sound are called. */
const HANDLERS: Readonly<Record<string, string>> = {
  ...{ text: 'text or chapters', sbtl: 'subtitles', subt: 'subtitles', clcp: 'captions', tmcd: 'timecode' },
};

/** What of a film is not copied, full sentences. */
async function notCopied(film: ByteSource, input: Input): Promise<readonly string[]> {
  const format = await input.getFormat();
  if (format === MATROSKA)
    return ['Subtitles, chapters and attachments are not in the copy, if the film has any.'];
  const others = (await handlersOf(film)).filter((kind) => kind !== 'vide' && kind !== 'soun');
  const named = [...new Set(others.map((kind) => HANDLERS[kind] ?? `data (${kind})`))];
  return named.length > 0 ? [`Not in the copy: tracks of ${named.join(', ')}.`] : [];
}

/** Frames a second of a track, where every packet is as long as the others; else `null`. */
async function steadyRate(track: InputVideoTrack): Promise<number | null> {
  let first: number | null = null;
  let seen = 0;
  for await (const { duration } of new EncodedPacketSink(track).packets()) {
    if (duration <= 0 || (first !== null && Math.abs(duration - first) > 1e-4)) return null;
    first ??= duration;
    if (++seen === 200) break;
  }
  if (first === null) return null;
  const resolution = await track.getTimeResolution();
  const ticks = Math.round(first * resolution);
  return ticks > 0 ? resolution / ticks : 1 / first;
}

/**
 * Writes a copy of a film with another sound in the place of one of its own: packets of picture and of other sounds are copied as they
 * are, with their times; what cannot be copied is said.
 * @param which which of its sounds is replaced, from 0
 * @param sound the new one
 * @param proceed told the part done; `false` gives up
 * @returns `null` when it was given up
 * @throws AudioFileError when it is no film that can be copied
 */
export async function replaceSound(
  film: ByteSource,
  which: number,
  sound: AudioReader,
  sink: PlacedSink,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<ReplacedSound | null> {
  const input = new Input({
    formats: [MP4, QTFF, MATROSKA, WEBM],
    source: new CustomSource({
      getSize: () => film.size,
      read: async (start, end) => Uint8Array.from(await film.read(start, end - start)),
    }),
  });
  const { make, snaps, ending } = await filmOf(input);
  const pictures = await input.getVideoTracks();
  if (pictures.length === 0)
    throw new AudioFileError(
      'noPicture',
      'There is no picture in this file.',
      'Save the sound as WAV instead.',
    );
  const sounds = await input.getAudioTracks();
  const output = new Output({
    format: make(),
    target: new StreamTarget(
      new WritableStream({
        write: ({ data, position }) => sink(data.slice() as Uint8Array<ArrayBuffer>, position),
      }),
    ),
  });
  const seconds = sound.format.frames / sound.format.sampleRate;
  let done = 0;
  const far = (at: number): boolean | Promise<boolean> => {
    done = Math.max(done, at);
    return proceed(Math.min(1, done / Math.max(0.1, seconds)));
  };
  const lost: string[] = [];
  const copies: (() => ReturnType<typeof copyPackets>)[] = [];
  for (const track of pictures) {
    const of = await track.getCodec();
    if (!of) {
      lost.push('A track of picture in a codec that is not known.');
      continue;
    }
    const source = new EncodedVideoPacketSource(of);
    const frameRate = snaps ? await steadyRate(track) : null;
    output.addVideoTrack(source, {
      ...(await metadataOf(track)),
      transformationMatrix: await track.getTransformationMatrix(),
      ...(frameRate !== null && { frameRate }),
    });
    copies.push(() => copyPackets(track, source, far));
  }
  let others = 0;
  let own: AudioSampleSource | null = null;
  for (const [i, track] of sounds.entries()) {
    if (i === which) {
      own = new AudioSampleSource({ codec: 'pcm-s24' });
      output.addAudioTrack(own, await metadataOf(track));
      continue;
    }
    const of = await track.getCodec();
    if (!of) {
      lost.push(`Sound ${i + 1}: its codec is not known.`);
      continue;
    }
    const source = new EncodedAudioPacketSource(of);
    output.addAudioTrack(source, await metadataOf(track));
    others++;
    copies.push(() => copyPackets(track, source, far));
  }
  // A silent film gets its first sound.
  if (!own && sounds.length === 0 && which === 0) {
    own = new AudioSampleSource({ codec: 'pcm-s24' });
    output.addAudioTrack(own);
  }
  if (!own)
    throw new AudioFileError('noSound', 'The sound that is to be replaced is not there.', 'Select another.');
  lost.push(...(await notCopied(film, input)));
  output.setMetadataTags(await input.getMetadataTags());
  await output.start();
  const target = own;
  const writing = async (): Promise<number | null> => {
    let clipped = 0;
    const { sampleRate, layout, frames } = sound.format;
    const { order } = wavChannels(layout);
    const piece = Math.round(PIECE_SECONDS * sampleRate);
    for (let at = 0; at < frames; at += piece) {
      const count = Math.min(piece, frames - at);
      const samples = await sound.read(at, count);
      const encoded = encodePcm(
        order.map((channel) => samples[channel]!),
        count,
        's24',
      );
      clipped += encoded.clipped;
      const sample = new AudioSample({
        ...{
          data: forCoder(encoded.bytes, 3),
          format: 's32',
          numberOfChannels: layout.labels.length,
          sampleRate,
        },
        timestamp: at / sampleRate,
      });
      try {
        await target.add(sample);
      } finally {
        sample.close();
      }
      if (!(await far((at + count) / sampleRate))) return null;
    }
    target.close();
    return clipped;
  };
  // Side by side, so that the file is laid out in order of time.
  const [clippedSamples, ...copied] = await Promise.all([writing(), ...copies.map((copy) => copy())]);
  if (clippedSamples === null || clippedSamples === undefined || copied.includes(null)) {
    await output.cancel();
    return null;
  }
  await output.finalize();
  const shown = copied.slice(0, pictures.length).flatMap((one) => one ?? []);
  return {
    ...{ codec: 'PCM 24-bit', pictures: pictures.length, others, lost, clippedSamples, ending },
    packets: shown.reduce((sum, { count }) => sum + count, 0),
    pictureSeconds: shown.reduce((most, { ends }) => Math.max(most, ends), 0),
  };
}
