import type { ByteSource } from '@/core/audio/byteSource';
import { layoutFor, layoutOf, wavChannels, type Layout, type WavChannels } from '@/core/audio/layout';
import type { AudioStream, StreamEnd, StreamFormat } from '@/core/audio/stream';
import { AudioFileError } from '@/core/formats/errors';
import { checkSound, endsEarly, EXPORT_AGAIN } from '@/core/formats/limits';
import {
  flacDecoder,
  mp3Decoder,
  oggOpusDecoder,
  release,
  vorbisDecoder,
  type ByteDecoder,
  type Decoded,
} from './decoders';
import { damage, silence, type Damage } from './damage';
import { flacFrames, flacHeadBytes, mp3Channels, mp3Frames } from './declaredLength';
import { oggFacts, type OggFacts } from './ogg';
import { OggDecode, type OggPiece as Piece } from './oggDecode';

/** Bytes given to a decoder at a time: a few seconds of sound at most, so that a cancel is heard soon. */
const SLICE = 64 * 1024;

type Codec = 'FLAC' | 'MP3' | 'Vorbis' | 'Opus';

const DECODERS: Readonly<Record<Codec, (source: ByteSource) => Promise<ByteDecoder>>> = {
  FLAC: flacDecoder,
  MP3: async (source) => mp3Decoder(true, await mp3Channels(source)),
  Vorbis: vorbisDecoder,
  Opus: oggOpusDecoder,
};

const SURROUND = 1.41;
const [L, R, C, LFE] = [
  ['L', 1],
  ['R', 1],
  ['C', 1],
  ['LFE', 0],
] as const;
const [Ls, Rs] = [
  ['Ls', SURROUND],
  ['Rs', SURROUND],
] as const;

/** Vorbis and Opus have an order of their own for surround. Sources: Vorbis I, clause 4.3.9; RFC 7845, clause 5.1.1.2. */
const XIPH_LAYOUTS: Readonly<Record<number, Layout>> = {
  3: layoutOf([L, C, R]),
  5: layoutOf([L, C, R, Ls, Rs]),
  6: layoutOf([L, C, R, Ls, Rs, LFE]),
  7: layoutOf([L, C, R, Ls, Rs, ['Cs', 1], LFE]),
  8: layoutOf([L, C, R, ['Lss', SURROUND], ['Rss', SURROUND], ['Lrs', 1], ['Rrs', 1], LFE]),
};

/** Seven channels of FLAC are 6.1. Source: RFC 9639, clause 9.1.3. */
const FLAC_LAYOUTS: Readonly<Record<number, Layout>> = { 7: layoutFor(7, 0x70f) };

/** How the channels of a decoder stand, in the order in which they are given on: that of WAV files. */
function channelsOf(codec: Codec, count: number): WavChannels {
  const known = codec === 'FLAC' ? FLAC_LAYOUTS : codec === 'MP3' ? {} : XIPH_LAYOUTS;
  return wavChannels(known[count] ?? layoutFor(count));
}

/** The FLAC decoder divides by 2^(bits−1) − 1; full scale here is 2^(bits−1), as it is for every other format. */
function flacScale(bits: number): number {
  const full = 2 ** (bits - 1);
  return (full - 1) / full;
}

const piece = (decoded: Decoded): Piece => ({ decoded, silent: 0, skip: 0, drop: 0 });

/** A file may have so much more sound than it states, seconds: what encoders write of MP3 counts whole frames. */
const longerSeconds = ({ codec }: StreamFormat): number => (codec === 'MP3' ? 0.1 : 0);

/** How many times a decoder that breaks off is begun anew. */
const MOST_DECODERS = 100;

/** What a decoder makes of a file, slice by slice; where it breaks off, a new one goes on with the next slice. */
class SliceDecode {
  private decoder: ByteDecoder | null = null;
  at = 0;

  constructor(
    private readonly source: ByteSource,
    private readonly codec: Codec,
    private readonly damaged: Damage,
  ) {}

  private async fresh(head: boolean): Promise<ByteDecoder> {
    const decoder = await DECODERS[this.codec](this.source);
    this.decoder = decoder;
    // Without what a FLAC file says at its start, nothing of it can be decoded.
    if (head && this.codec === 'FLAC')
      await decoder.decode(await this.source.read(0, await flacHeadBytes(this.source)));
    return decoder;
  }

  close(): void {
    release(this.decoder);
    this.decoder = null;
  }

  async *pieces(): AsyncGenerator<Piece> {
    let decoders = 1;
    let decoder = await this.fresh(false);
    while (this.at < this.source.size) {
      const bytes = await this.source.read(this.at, SLICE);
      if (bytes.length === 0) break;
      this.at += bytes.length;
      try {
        yield piece(await decoder.decode(bytes.slice()));
      } catch (error) {
        this.damaged.note([{ message: String(error) }]);
        this.close();
        if (++decoders > MOST_DECODERS) return;
        decoder = await this.fresh(true);
      }
    }
    try {
      const last = await decoder.flush();
      if (last) yield piece(last);
    } catch (error) {
      this.damaged.note([{ message: String(error) }]);
    }
  }
}

class ElementaryStream implements AudioStream {
  readonly track = 0;
  readonly tracks;

  constructor(
    private readonly source: ByteSource,
    private readonly decode: OggDecode | SliceDecode,
    private readonly pieces: AsyncGenerator<Piece>,
    readonly format: StreamFormat,
    private readonly first: readonly Piece[],
    private readonly channels: WavChannels,
    private readonly scale: number,
    private readonly damaged: Damage,
  ) {
    this.tracks = [{ index: 0, label: `${format.codec}, ${format.layout.name}` }];
  }

  get done(): number {
    return Math.min(1, this.decode.at / this.source.size);
  }

  private samplesOf({ decoded, skip, drop }: Piece): Float32Array[] | null {
    const { channelData, samplesDecoded } = decoded;
    if (samplesDecoded - drop <= skip) return null;
    const { scale } = this;
    return this.channels.order.map((channel) => {
      const samples = channelData[channel]!.subarray(skip, samplesDecoded - drop);
      return scale === 1 ? samples : samples.map((x) => x * scale);
    });
  }

  private async *all(): AsyncGenerator<Piece> {
    yield* this.first;
    yield* this.pieces;
  }

  async *chunks(): AsyncGenerator<Float32Array[], StreamEnd, undefined> {
    const { damaged } = this;
    const { sampleRate, layout, frames: declared } = this.format;
    const channels = layout.labels.length;
    let frames = 0;
    for await (const one of this.all()) {
      damaged.note(one.decoded.errors);
      for (let left = one.silent; left > 0; left -= sampleRate) {
        const count = Math.min(left, sampleRate);
        frames += count;
        yield silence(channels, count);
      }
      if (one.decoded.samplesDecoded > 0 && one.decoded.channelData.length !== channels) {
        damaged.note([{ message: 'the number of channels changes' }]);
        continue;
      }
      const samples = this.samplesOf(one);
      if (!samples) continue;
      frames += samples[0]!.length;
      yield samples;
    }
    const torn = this.decode instanceof OggDecode && !this.decode.complete;
    this.close();
    if (torn) return damaged.end([endsEarly(null)]);
    if (declared === null || declared === frames) return damaged.end();
    if (frames < declared) return damaged.end([endsEarly((declared - frames) / sampleRate)]);
    const more = (frames - declared) / sampleRate;
    return damaged.end(
      more > longerSeconds(this.format)
        ? [
            {
              kind: 'lengthUncertain',
              sentence: `The file has ${more.toFixed(2)} s more sound than it states; all of it was read.`,
            },
          ]
        : [],
    );
  }

  close(): void {
    this.decode.close();
  }
}

/** Frames that a file says it has; `null` where it does not. */
function declaredFrames(source: ByteSource, codec: Codec, ogg: OggFacts | null): Promise<number | null> {
  if (codec === 'FLAC' && !ogg) return flacFrames(source);
  return codec === 'MP3' ? mp3Frames(source) : Promise.resolve(null);
}

/** Opens FLAC, MP3 or Ogg; decodes far enough to know its format. */
export async function openElementary(source: ByteSource, kind: 'flac' | 'mp3' | 'ogg'): Promise<AudioStream> {
  const ogg = kind === 'ogg' ? await oggFacts(source) : null;
  const codec: Codec = ogg?.codec ?? (kind === 'flac' ? 'FLAC' : 'MP3');
  const damaged = damage();
  const decode = ogg
    ? new OggDecode(source, () => DECODERS[codec](source), damaged, ogg.delay)
    : new SliceDecode(source, codec, damaged);
  const nothing = (): AudioFileError =>
    new AudioFileError('noSound', `No ${codec} sound could be decoded from this file.`, EXPORT_AGAIN);
  try {
    const pieces: AsyncGenerator<Piece> = decode.pieces();
    const first: Piece[] = [];
    let found: Decoded | undefined;
    while (!found) {
      const next = await pieces.next();
      if (next.done) break;
      first.push(next.value);
      if (next.value.decoded.samplesDecoded > 0) found = next.value.decoded;
    }
    if (!found) throw nothing();
    const count = found.channelData.length;
    checkSound(count, found.sampleRate);
    const bits = codec === 'FLAC' ? (found.bitDepth ?? 24) : 32;
    const channels = channelsOf(codec, count);
    const format: StreamFormat = {
      container: kind === 'ogg' ? 'Ogg' : codec,
      codec: codec === 'FLAC' ? `FLAC ${bits}-bit` : codec,
      bitDepth: bits,
      sampleRate: found.sampleRate,
      layout: channels.layout,
      layoutAssumed: null,
      frames: await declaredFrames(source, codec, ogg),
    };
    const scale = codec === 'FLAC' ? flacScale(bits) : 1;
    return new ElementaryStream(source, decode, pieces, format, first, channels, scale, damaged);
  } catch (error) {
    decode.close();
    if (error instanceof AudioFileError) throw error;
    // Decoders stumble over damage in ways of their own.
    throw nothing();
  }
}
