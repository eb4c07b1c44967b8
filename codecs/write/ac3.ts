import { registerAc3Encoder } from '@mediabunny/ac3';
import {
  AudioSample,
  AudioSampleSource,
  EncodedAudioPacketSource,
  EncodedPacket,
  MkvOutputFormat,
  NullTarget,
  Output,
} from 'mediabunny';
import { DIALNORM_UNSAID, stateDialnorm } from '../ac3Frame';

/** What the coder puts in front of the sound, samples: half a block, by which blocks overlap. */
const DELAY = 256;
/** Samples of a packet. Source: ETSI TS 102 366, clause 4.1. */
const PACKET = 1_536;

/** What its frames state as the loudness of speech. @param lufs `null`: not said. Source: ETSI TS 102 366, clause 4.4.2.8 */
export const dialnormFor = (lufs: number | null): number =>
  lufs === null ? DIALNORM_UNSAID : Math.max(1, Math.min(31, Math.round(-lufs)));

/** Codes sound to packets of AC-3 for a container. */
export class Ac3Packets {
  readonly source = new EncodedAudioPacketSource('ac3');
  private readonly ready: EncodedPacket[] = [];
  private packets = 0;
  private frames = 0;

  private constructor(
    private readonly coder: AudioSampleSource,
    /** Takes what the coder makes to nowhere: packets are taken as they come out of it. */
    private readonly nowhere: Output,
    private readonly take: (into: EncodedPacket[]) => void,
    private readonly channels: number,
    private readonly sampleRate: number,
    private readonly dialnorm: number,
    /** Whether the container can tell that sound lies before its beginning. */
    private readonly tellsDelay: boolean,
  ) {}

  /**
   * @param channels 1, 2 or 6, in the order of WAV
   * @param lufs what its frames state as their loudness; `null`: nothing
   */
  static async open(
    channels: number,
    sampleRate: number,
    kbps: number,
    lufs: number | null,
    tellsDelay: boolean,
  ): Promise<Ac3Packets> {
    registerAc3Encoder();
    const made: EncodedPacket[] = [];
    const coder = new AudioSampleSource({
      ...{ codec: 'ac3', bitrate: kbps * 1_000 },
      onEncodedPacket: (packet) => void made.push(packet),
    });
    const nowhere = new Output({ format: new MkvOutputFormat(), target: new NullTarget() });
    nowhere.addAudioTrack(coder);
    await nowhere.start();
    const take = (into: EncodedPacket[]): void => void into.push(...made.splice(0));
    return new Ac3Packets(coder, nowhere, take, channels, sampleRate, dialnormFor(lufs), tellsDelay);
  }

  /** Hands on what has come out of the coder. @param last of the sound's own samples; `null` while more is to come */
  private async handOn(last: number | null): Promise<void> {
    this.take(this.ready);
    const before = this.tellsDelay ? DELAY : 0;
    for (const { data } of this.ready.splice(0)) {
      const begins = this.packets * PACKET - before;
      const lasts = last === null ? PACKET : Math.min(PACKET, last - begins);
      if (lasts <= 0) return;
      const stated = stateDialnorm(new Uint8Array(data), this.dialnorm);
      const packet = new EncodedPacket(stated, 'key', begins / this.sampleRate, lasts / this.sampleRate);
      await this.source.add(packet, {
        decoderConfig: { codec: 'ac-3', sampleRate: this.sampleRate, numberOfChannels: this.channels },
      });
      this.packets++;
    }
  }

  private async code(samples: readonly Float32Array[], frames: number): Promise<void> {
    const data = new Float32Array(frames * this.channels);
    for (let c = 0; c < this.channels; c++)
      for (let i = 0; i < frames; i++) data[i * this.channels + c] = samples[c]![i]!;
    const sample = new AudioSample({
      ...{ data, format: 'f32', numberOfChannels: this.channels, sampleRate: this.sampleRate },
      timestamp: this.frames / this.sampleRate,
    });
    try {
      await this.coder.add(sample);
    } finally {
      sample.close();
    }
    this.frames += frames;
  }

  async write(samples: readonly Float32Array[], frames: number): Promise<void> {
    await this.code(samples, frames);
    await this.handOn(null);
  }

  /** What the coder still holds back comes out; the last packet says how much of it belongs to the sound. */
  async finish(): Promise<void> {
    const sound = this.frames;
    const rest = Array.from({ length: this.channels }, () => new Float32Array(DELAY));
    await this.code(rest, DELAY);
    this.coder.close();
    await this.nowhere.finalize();
    await this.handOn(this.tellsDelay ? sound : sound + DELAY);
    this.source.close();
  }
}
