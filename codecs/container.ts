import {
  ADTS,
  AudioSampleSink,
  CustomSource,
  EncodedPacketSink,
  Input,
  MATROSKA,
  MP4,
  MPEG_TS,
  QTFF,
  WEBM,
  type InputAudioTrack,
} from 'mediabunny';
import type { ByteSource } from '@/core/audio/byteSource';
import { fileLayout, layoutFor } from '@/core/audio/layout';
import { encodingName } from '@/core/audio/pcm';
import type { AudioStream, SoundTrack, StreamEnd, StreamFormat } from '@/core/audio/stream';
import { AudioFileError } from '@/core/formats/errors';
import { checkSound, CONVERT, endsEarly, EXPORT_AGAIN } from '@/core/formats/limits';
import { KIND_NAMES, type FileKind } from '@/core/formats/probe';
import { asksForCompression } from './ac3Frame';
import { damage, Filler, silence, type Damage } from './damage';
import { release, type ByteDecoder, type Decoded } from './decoders';
import { bearable } from './matroska';
import { checkTables } from './mp4Tables';
import { packetDecoder, pcmCodec } from './packets';

const CODEC_NAMES: Readonly<Record<string, string>> = {
  aac: 'AAC',
  opus: 'Opus',
  mp3: 'MP3',
  vorbis: 'Vorbis',
  flac: 'FLAC',
  ac3: 'AC-3',
  eac3: 'E-AC-3',
  ulaw: 'µ-law',
  alaw: 'A-law',
};

function codecName(codec: string | null): string {
  if (codec === null) return 'an unknown codec';
  const pcm = pcmCodec(codec);
  return pcm ? encodingName(pcm) : (CODEC_NAMES[codec] ?? codec);
}

async function describe(track: InputAudioTrack, index: number): Promise<SoundTrack> {
  const language = await track.getLanguageCode();
  const parts = [
    language === 'und' ? null : language,
    codecName(await track.getCodec()),
    layoutFor(Math.max(1, await track.getNumberOfChannels())).name,
  ];
  return { index, label: parts.filter(Boolean).join(', ') };
}

/** Containers round times to a millisecond or so; what is missing beyond this is lost, seconds. */
const GAP_SECONDS = 0.025;
/** Packets of Opus are of 20 ms mostly, and each says exactly how long it is: one that is lost is seen. */
const OPUS_GAP_SECONDS = 0.008;

interface Piece {
  /** First frame, counted from the start of what is to be presented; what lies before 0 is the encoder's delay. */
  readonly frame: number;
  readonly samples: Float32Array[];
}

/** So many packets are looked at for what they ask of decoders: some ten seconds. */
const PACKETS_LOOKED_AT = 300;

/** Says that what is heard, and measured, is compressed as the stream asks. */
async function lookForCompression(track: InputAudioTrack, damaged: Damage): Promise<void> {
  let left = PACKETS_LOOKED_AT;
  for await (const { data } of new EncodedPacketSink(track).packets()) {
    if (asksForCompression(data))
      return damaged.alter(
        'This AC-3 asks decoders for dynamic range compression; it is measured with it, as it is heard.',
      );
    if (--left === 0) return;
  }
}

/** What the platform decodes, or a decoder that mediabunny was given. */
async function* platformPieces(
  track: InputAudioTrack,
  codec: string,
  sampleRate: number,
  damaged: Damage,
): AsyncGenerator<Piece> {
  if (codec === 'ac3') await lookForCompression(track, damaged);
  for await (const sample of new AudioSampleSink(track).samples(-Infinity)) {
    const samples = Array.from({ length: sample.numberOfChannels }, (_, planeIndex) => {
      const plane = new Float32Array(sample.numberOfFrames);
      sample.copyTo(plane, { planeIndex, format: 'f32-planar' });
      return plane;
    });
    const frame = Math.round(sample.timestamp * sampleRate);
    sample.close();
    yield { frame, samples };
  }
}

/** A decoder that breaks off is begun anew so many times. */
const MOST_DECODERS = 200;

/** What our own decoders do, packet by packet; where one breaks off, a new one goes on with the next packet. */
async function* packetPieces(
  track: InputAudioTrack,
  codec: string,
  sampleRate: number,
  damaged: Damage,
): AsyncGenerator<Piece> {
  const config = await track.getDecoderConfig();
  const channels = await track.getNumberOfChannels();
  const begin = (): Promise<ByteDecoder | null> => packetDecoder(codec, config, channels);
  let decoder = await begin();
  let decoders = 1;
  /** Nothing has come out of this decoder yet. */
  let first = true;
  const drop = (): void => {
    release(decoder);
    decoder = null;
    first = true;
  };
  try {
    for await (const packet of new EncodedPacketSink(track).packets()) {
      decoder ??= await begin();
      if (!decoder) return;
      let decoded: Decoded;
      try {
        decoded = await decoder.decode(packet.data.slice());
      } catch (error) {
        damaged.note([{ message: String(error) }]);
        drop();
        if (++decoders > MOST_DECODERS) return damaged.say(BROKE_OFF);
        continue;
      }
      damaged.note(decoded.errors);
      if (decoded.samplesDecoded === 0) continue;
      const samples = decoded.channelData.map((channel) => channel.slice(0, decoded.samplesDecoded));
      // The decoder takes the delay of Opus off its first packet: what comes out of it begins later.
      const short =
        codec === 'opus' && first ? Math.round(packet.duration * sampleRate) - samples[0]!.length : 0;
      first = false;
      yield { frame: Math.round(packet.timestamp * sampleRate) + Math.max(0, short), samples };
    }
  } finally {
    drop();
  }
}

const BROKE_OFF = 'The decoder broke off too often; the rest of the file was not read.';

class ContainerStream implements AudioStream {
  private position = 0;

  constructor(
    private readonly input: Input,
    private readonly source: InputAudioTrack,
    private readonly codec: string,
    readonly format: StreamFormat,
    readonly tracks: readonly SoundTrack[],
    readonly track: number,
    private readonly ours: boolean,
    /** What comes after this part of the file makes no sense. */
    private readonly torn: boolean,
    /** Of the file, bytes. */
    private readonly size: number,
  ) {}

  get done(): number {
    return this.format.frames ? Math.min(1, this.position / this.format.frames) : 0;
  }

  async *chunks(): AsyncGenerator<Float32Array[], StreamEnd, undefined> {
    const { sampleRate, layout, frames } = this.format;
    const damaged = damage();
    const pieces = this.ours
      ? packetPieces(this.source, this.codec, sampleRate, damaged)
      : platformPieces(this.source, this.codec, sampleRate, damaged);
    const filler = new Filler(damaged, sampleRate, this.size);
    const channels = layout.labels.length;
    // Timestamps are rounded by containers, so where a piece stands is taken from them only where much is missing.
    const gap = Math.round(sampleRate * (this.codec === 'opus' ? OPUS_GAP_SECONDS : GAP_SECONDS));
    let skip: number | null = null;
    /** Frame at which the next piece should begin, counted as the container does. */
    let next: number | null = null;
    try {
      for await (const { frame, samples } of pieces) {
        if (samples.length !== layout.labels.length) {
          damaged.note([{ message: 'the number of channels changes' }]);
          continue;
        }
        skip ??= Math.max(0, -frame);
        const length = samples[0]!.length;
        const lost: number = next === null ? 0 : frame - next;
        if (lost > gap) {
          let silent = filler.fill(this.position, lost);
          if (frames !== null) silent = Math.min(silent, frames - this.position);
          for (; silent > 0; silent -= Math.min(silent, sampleRate)) {
            const count = Math.min(silent, sampleRate);
            this.position += count;
            yield silence(channels, count);
          }
        }
        next = (next === null || lost > gap ? frame : next) + length;
        const from = Math.min(skip, length);
        skip -= from;
        const to = frames === null ? length : Math.min(length, from + Math.max(0, frames - this.position));
        if (to <= from) continue;
        this.position += to - from;
        yield samples.map((channel) => channel.subarray(from, to));
      }
    } catch (error) {
      // What could be decoded stands; that it is not all must be said.
      if (this.position === 0) {
        throw new AudioFileError(
          'noSound',
          `No ${codecName(this.codec)} sound could be decoded from this file.`,
          EXPORT_AGAIN,
        );
      }
      damaged.note([{ message: String(error) }]);
    }
    this.close();
    // Containers round lengths to their own clock; a tenth of a second is more than that.
    const short = frames !== null && this.position < frames - sampleRate / 10;
    return damaged.end(
      this.torn
        ? [
            {
              kind: 'damaged',
              sentence: 'The file is damaged after what was read; what comes before was read.',
            },
          ]
        : short
          ? [endsEarly((frames - this.position) / sampleRate)]
          : [],
    );
  }

  close(): void {
    this.input.dispose();
  }
}

/**
 * Opens the sound of an MP4, MOV, Matroska, WebM or transport-stream file.
 * @param index which of its sounds
 * @throws AudioFileError when there is none, or nothing here decodes it
 */
export async function openContainer(source: ByteSource, kind: FileKind, index: number): Promise<AudioStream> {
  if (kind === 'mp4') await checkTables(source);
  const file = kind === 'matroska' ? await bearable(source) : { source, torn: false };
  const input = new Input({
    formats: [MP4, QTFF, MATROSKA, WEBM, MPEG_TS, ADTS],
    source: new CustomSource({
      getSize: () => file.source.size,
      read: (start, end) => file.source.read(start, end - start),
      prefetchProfile: 'fileSystem',
    }),
  });
  try {
    const all = await input.getAudioTracks();
    if (all.length === 0) {
      throw new AudioFileError('noSound', `This ${KIND_NAMES[kind]} file holds no sound.`, EXPORT_AGAIN);
    }
    const track = all[index];
    const tracks = await Promise.all(all.map(describe));
    if (!track) {
      throw new AudioFileError(
        'noSuchTrack',
        `The file has no sound number ${index + 1}; it has ${tracks.map(({ label }, i) => `${i + 1}: ${label}`).join('; ')}.`,
        'Select one of these.',
      );
    }
    const codec = await track.getCodec();
    const channels = await track.getNumberOfChannels();
    const sampleRate = await track.getSampleRate();
    checkSound(channels, sampleRate);
    const pcm = codec ? pcmCodec(codec) : null;
    const ours = codec !== null && (await packetDecoder.knows(codec));
    if (!ours && !(await canDecode(track, codec))) {
      throw new AudioFileError(
        'noDecoder',
        `The sound is ${codecName(codec)}, and there is no decoder for it here.`,
        typeof AudioDecoder === 'undefined' ? `Open the file in the browser, or convert it to WAV.` : CONVERT,
      );
    }
    const told = await track.getDurationFromMetadata();
    // Matroska counts in milliseconds: plain samples, which say themselves how many they are, are not cut off by that.
    const seconds = told !== null && kind === 'matroska' && pcm ? told + 0.001 : told;
    // What compressed sound has of channels is said by its codec.
    const layout = fileLayout(channels);
    return new ContainerStream(
      input,
      track,
      codec!,
      {
        container: KIND_NAMES[kind],
        codec: codecName(codec),
        bitDepth: pcm?.bits ?? 32,
        sampleRate,
        layout: layout.layout,
        layoutAssumed: pcm === null ? null : layout.assumed,
        frames: seconds !== null && Number.isFinite(seconds) ? Math.round(seconds * sampleRate) : null,
      },
      tracks,
      index,
      ours,
      file.torn,
      source.size,
    );
  } catch (error) {
    input.dispose();
    if (error instanceof AudioFileError) throw error;
    throw new AudioFileError(
      'damagedHeader',
      `This ${KIND_NAMES[kind]} file cannot be understood: ${error instanceof Error ? error.message : String(error)}.`,
      EXPORT_AGAIN,
    );
  }
}

async function canDecode(track: InputAudioTrack, codec: string | null): Promise<boolean> {
  if (codec === 'ac3' || codec === 'eac3') (await import('@mediabunny/ac3')).registerAc3Decoder();
  else if (typeof AudioDecoder === 'undefined') return false;
  return track.canDecode().catch(() => false);
}
