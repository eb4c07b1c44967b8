import { createEncoder } from 'libopus-wasm';
import { EncodedAudioPacketSource, EncodedPacket } from 'mediabunny';
import { HeaderBytes } from '@/core/formats/headerBytes';
import { AudioFileError } from '@/core/formats/errors';

/** What Opus is coded at, Hz. Source: RFC 7845, clause 4. */
const OPUS_RATE = 48_000;
/** Samples of a packet: 20 ms. */
const PACKET = 960;

/** The identification header. Source: RFC 7845, clause 5.1. */
const opusHead = (channels: number, preSkip: number): Uint8Array<ArrayBuffer> =>
  new HeaderBytes().text('OpusHead').u8(1).u8(channels).u16(preSkip).u32(OPUS_RATE).u16(0).u8(0).done();

/**
 * How a container tells what the coder puts in front of the sound: as samples of its own (Ogg), by times before 0 (an edit list), or
 * not at all, as players know it from the header.
 */
export type OpusDelay = 'counted' | 'before' | 'untold';

/** Codes sound to packets of Opus for a container. */
export class OpusPackets {
  readonly source = new EncodedAudioPacketSource('opus');
  private waiting: Float32Array;
  private filled = 0;
  private packets = 0;
  private frames = 0;

  private constructor(
    private readonly encoder: Awaited<ReturnType<typeof createEncoder>>,
    private readonly channels: number,
    private readonly preSkip: number,
    private readonly delay: OpusDelay,
  ) {
    this.waiting = new Float32Array(PACKET * channels);
  }

  /**
   * @param channels 1 or 2
   * @param kbps of all channels together
   * @param delay see {@link OpusDelay}
   * @throws AudioFileError on another rate or more channels
   */
  static async open(
    channels: number,
    sampleRate: number,
    kbps: number,
    delay: OpusDelay,
  ): Promise<OpusPackets> {
    if (sampleRate !== OPUS_RATE || channels > 2)
      throw new AudioFileError(
        'cannotHold',
        'Opus is written at 48 kHz, in mono or stereo.',
        'Select another rate, layout or format.',
      );
    const encoder = await createEncoder({
      ...{ sampleRate: OPUS_RATE, channels: channels as 1 | 2, frameSize: PACKET },
      ...{ application: 2049, bitrate: kbps * 1000, complexity: 10 },
    });
    return new OpusPackets(encoder, channels, encoder.getLookahead(), delay);
  }

  private async packet(lasting: number): Promise<void> {
    const data = this.encoder.encodeFloat(this.waiting);
    const at = (this.packets * PACKET - (this.delay === 'before' ? this.preSkip : 0)) / OPUS_RATE;
    const packet = new EncodedPacket(new Uint8Array(data), 'key', at, lasting / OPUS_RATE);
    await this.source.add(packet, {
      decoderConfig: {
        ...{ codec: 'opus', sampleRate: OPUS_RATE, numberOfChannels: this.channels },
        description: opusHead(this.channels, this.preSkip),
      },
    });
    this.packets++;
    this.filled = 0;
    this.waiting.fill(0);
  }

  async write(samples: readonly Float32Array[], frames: number): Promise<void> {
    this.frames += frames;
    for (let i = 0; i < frames; i++) {
      for (let c = 0; c < this.channels; c++) this.waiting[this.filled * this.channels + c] = samples[c]![i]!;
      if (++this.filled === PACKET) await this.packet(PACKET);
    }
  }

  /** What the coder still holds back comes out; the last packet says how much of it belongs to the sound. */
  async finish(): Promise<void> {
    const begun = this.packets * PACKET;
    const told = this.frames + (this.delay === 'untold' ? 0 : this.preSkip) - begun;
    const left = this.frames + this.preSkip - begun;
    for (let done = 0; done < left; done += PACKET)
      await this.packet(Math.max(1, Math.min(PACKET, told - done)));
    this.source.close();
    this.encoder.free();
  }
}
