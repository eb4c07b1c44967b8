import type { ByteSource } from '@/core/audio/byteSource';
import { layoutFor, layoutOf, type Layout } from '@/core/audio/layout';
import type { AudioStream, StreamEnd, StreamFormat } from '@/core/audio/stream';
import { AudioFileError } from '@/core/formats/errors';
import { checkSound, EXPORT_AGAIN } from '@/core/formats/limits';
import {
  flacDecoder,
  mp3Decoder,
  oggOpusDecoder,
  vorbisDecoder,
  type ByteDecoder,
  type Decoded,
} from './decoders';
import { damage } from './damage';
import { flacFrames, mp3Frames } from './declaredLength';
import { oggFacts, type OggFacts } from './ogg';

/** Bytes given to a decoder at a time: a few seconds of sound at most, so that a cancel is heard soon. */
const SLICE = 64 * 1024;

type Codec = 'FLAC' | 'MP3' | 'Vorbis' | 'Opus';

const DECODERS: Readonly<Record<Codec, () => Promise<ByteDecoder>>> = {
  FLAC: flacDecoder,
  MP3: () => mp3Decoder(true),
  Vorbis: vorbisDecoder,
  Opus: oggOpusDecoder,
};

const SURROUND = 1.41;

/** Vorbis and Opus have an order of their own for surround. Sources: Vorbis I, clause 4.3.9; RFC 7845, clause 5.1.1.2. */
const XIPH_LAYOUTS: Readonly<Record<number, Layout>> = {
  3: layoutOf([
    ['L', 1],
    ['C', 1],
    ['R', 1],
  ]),
  5: layoutOf([
    ['L', 1],
    ['C', 1],
    ['R', 1],
    ['Ls', SURROUND],
    ['Rs', SURROUND],
  ]),
  6: layoutOf([
    ['L', 1],
    ['C', 1],
    ['R', 1],
    ['Ls', SURROUND],
    ['Rs', SURROUND],
    ['LFE', 0],
  ]),
};

/** The FLAC decoder divides by 2^(bits−1) − 1; full scale here is 2^(bits−1), as it is for every other format. */
function flacScale(bits: number): number {
  const full = 2 ** (bits - 1);
  return (full - 1) / full;
}

class ElementaryStream implements AudioStream {
  readonly track = 0;
  readonly tracks;
  private offset: number;
  private ended = false;

  constructor(
    private readonly source: ByteSource,
    private readonly decoder: ByteDecoder,
    readonly format: StreamFormat,
    private readonly first: readonly Decoded[],
    start: number,
    private readonly scale: number,
    private readonly ogg: OggFacts | null,
  ) {
    this.offset = start;
    this.tracks = [{ index: 0, label: `${format.codec}, ${format.layout.name}` }];
  }

  get done(): number {
    return Math.min(1, this.offset / this.source.size);
  }

  private samplesOf({ channelData, samplesDecoded }: Decoded, most: number): Float32Array[] | null {
    const count = Math.min(samplesDecoded, most);
    if (count <= 0) return null;
    const { scale } = this;
    return channelData.map((channel) => {
      const samples = channel.subarray(0, count);
      return scale === 1 ? samples : samples.map((x) => x * scale);
    });
  }

  /** What the decoder makes of the file, slice by slice; a decoder that gives up ends it. */
  private async *decoded(note: (message: string) => void): AsyncGenerator<Decoded> {
    yield* this.first;
    try {
      while (this.offset < this.source.size) {
        const bytes = await this.source.read(this.offset, SLICE);
        if (bytes.length === 0) break;
        this.offset += bytes.length;
        yield await this.decoder.decode(bytes.slice());
      }
      const last = await this.decoder.flush();
      if (last) yield last;
    } catch (error) {
      note(String(error));
    }
  }

  async *chunks(): AsyncGenerator<Float32Array[], StreamEnd, undefined> {
    const damaged = damage();
    const channels = this.format.layout.labels.length;
    // When the last page is torn, nothing after the last whole one can be believed.
    const torn = this.ogg !== null && !this.ogg.complete;
    const most = torn ? (this.ogg.frames ?? 0) : Infinity;
    let frames = 0;
    for await (const decoded of this.decoded((message) => damaged.note([{ message }]))) {
      damaged.note(decoded.errors);
      if (decoded.samplesDecoded > 0 && decoded.channelData.length !== channels) {
        damaged.note([{ message: 'the number of channels changes' }]);
        continue;
      }
      const samples = this.samplesOf(decoded, most - frames);
      if (!samples) continue;
      frames += samples[0]!.length;
      yield samples;
    }
    this.close();
    const { frames: declared, sampleRate } = this.format;
    const short = declared !== null && frames < declared;
    return damaged.end(
      torn
        ? ['The file ends before it should; what is there was read.']
        : short
          ? [
              `The file ends ${((declared - frames) / sampleRate).toFixed(2)} s before it should; what is there was read.`,
            ]
          : [],
    );
  }

  close(): void {
    if (!this.ended) this.decoder.free();
    this.ended = true;
  }
}

/** Opens FLAC, MP3 or Ogg; decodes far enough to know its format. */
export async function openElementary(source: ByteSource, kind: 'flac' | 'mp3' | 'ogg'): Promise<AudioStream> {
  const ogg = kind === 'ogg' ? await oggFacts(source) : null;
  const codec: Codec = ogg?.codec ?? (kind === 'flac' ? 'FLAC' : 'MP3');
  const decoder = await DECODERS[codec]();
  try {
    const first: Decoded[] = [];
    let offset = 0;
    let found: Decoded | undefined;
    while (!found && offset < source.size) {
      const bytes = await source.read(offset, SLICE);
      if (bytes.length === 0) break;
      offset += bytes.length;
      const decoded = await decoder.decode(bytes.slice());
      first.push(decoded);
      if (decoded.samplesDecoded > 0) found = decoded;
    }
    if (!found) {
      const rest = await decoder.flush();
      if (rest && rest.samplesDecoded > 0) first.push((found = rest));
    }
    if (!found) {
      throw new AudioFileError('noSound', `No ${codec} sound could be decoded from this file.`, EXPORT_AGAIN);
    }
    const channels = found.channelData.length;
    checkSound(channels, found.sampleRate);
    const bits = codec === 'FLAC' ? (found.bitDepth ?? 24) : 32;
    const format: StreamFormat = {
      container: kind === 'ogg' ? 'Ogg' : codec,
      codec: codec === 'FLAC' ? `FLAC ${bits}-bit` : codec,
      bitDepth: bits,
      sampleRate: found.sampleRate,
      layout: (kind === 'ogg' && codec !== 'FLAC' && XIPH_LAYOUTS[channels]) || layoutFor(channels),
      frames:
        codec === 'FLAC' && !ogg
          ? await flacFrames(source)
          : codec === 'MP3'
            ? await mp3Frames(source)
            : null,
    };
    return new ElementaryStream(
      source,
      decoder,
      format,
      first,
      offset,
      codec === 'FLAC' ? flacScale(bits) : 1,
      ogg,
    );
  } catch (error) {
    decoder.free();
    if (error instanceof AudioFileError) throw error;
    // Decoders stumble over damage in ways of their own.
    throw new AudioFileError('noSound', `No ${codec} sound could be decoded from this file.`, EXPORT_AGAIN);
  }
}
