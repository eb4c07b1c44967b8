import { HeaderBytes } from '@/core/formats/headerBytes';
import type { PlacedSink } from '@/core/audio/soundWriter';

/** Samples of a frame of MPEG-1 Layer III. */
const FRAME = 1152;
/** What the coder puts in front of the sound. */
const ENCODER_DELAY = 576;
/** Bit rates of MPEG-1 Layer III by their index, kbit/s. */
const KBPS = [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320];
const RATES = [44_100, 48_000, 32_000];
/** Fields of the frame behind its head and side information. */
const TAG_BYTES = 156;

/** CRC-16 with the polynomial x¹⁶ + x¹⁵ + x² + 1, reflected. */
function crc16(bytes: Uint8Array, from = 0): number {
  let crc = from;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xa001 : crc >>> 1;
  }
  return crc;
}

/** Length of the ID3v2 tag at the start; 0 where there is none. */
const id3Length = (bytes: Uint8Array): number =>
  bytes[0] === 0x49 && bytes[1] === 0x44 && bytes[2] === 0x33
    ? 10 + ((bytes[6]! << 21) | (bytes[7]! << 14) | (bytes[8]! << 7) | bytes[9]!)
    : 0;

/** What a first frame says: how long frames are, where the next begins, and where its side information ends. */
function headOf(bytes: Uint8Array) {
  const rate = RATES[(bytes[2]! >> 2) & 3]!;
  const mono = bytes[3]! >> 6 === 3;
  const length = (kbps: number): number => Math.floor((144_000 * kbps) / rate);
  const side = 4 + (mono ? 17 : 32);
  const index = KBPS.findIndex((kbps, i) => i > 0 && length(kbps) >= side + TAG_BYTES);
  return { side, index, length: length(KBPS[index]!), kbps: KBPS[bytes[2]! >> 4]! };
}

/**
 * Puts a frame of silence in front of an MP3 stream that says how long it is and what of it is not sound: the delay of the coder
 * and the padding at its end. Players and decoders that know it play exactly the sound that went in.
 * Source: the Xing and LAME information frame, as described with the LAME encoder (“Mp3 Info Tag rev 1”).
 */
export class Mp3Info {
  private tag = new Uint8Array(0);
  private tagEnd: number | null = null;
  private info: ReturnType<typeof headOf> | null = null;
  private first: Uint8Array | null = null;
  private musicBytes = 0;
  private musicCrc = 0;
  private frames = 0;
  private left = 0;
  private pending = new Uint8Array(0);

  constructor(private readonly sink: PlacedSink) {}

  /** Takes the bytes of a stream that has no such frame, in order. */
  write: PlacedSink = async (bytes, at) => {
    if (this.tagEnd !== null && at >= this.tagEnd) return this.music(bytes, at);
    // Within the tag in front; what follows it is music already.
    const joined = new Uint8Array(Math.max(this.tag.length, at + bytes.length));
    joined.set(this.tag);
    joined.set(bytes, at);
    this.tag = joined;
    const end = id3Length(joined);
    if (joined.length < Math.max(10, end)) return;
    this.tagEnd = end;
    await this.sink(joined.slice(0, end), 0);
    if (joined.length > end) await this.music(joined.slice(end), end);
  };

  private async music(bytes: Uint8Array<ArrayBuffer>, at: number): Promise<void> {
    this.musicBytes += bytes.length;
    this.musicCrc = crc16(bytes, this.musicCrc);
    this.count(bytes);
    if (!this.info) {
      if (!this.first) return;
      this.info = headOf(this.first);
      await this.sink(new Uint8Array(this.info.length), this.tagEnd!);
    }
    await this.sink(bytes, at + this.info.length);
  }

  /** Counts frames by their heads. */
  private count(bytes: Uint8Array): void {
    const all = new Uint8Array(this.pending.length + bytes.length);
    all.set(this.pending);
    all.set(bytes, this.pending.length);
    let at = this.left;
    while (at + 4 <= all.length) {
      const head = all.subarray(at, at + 4);
      this.first ??= head.slice();
      const kbps = KBPS[head[2]! >> 4]!;
      at += Math.floor((144_000 * kbps) / RATES[(head[2]! >> 2) & 3]!) + ((head[2]! >> 1) & 1);
      this.frames++;
    }
    this.pending = all.slice(Math.min(at, all.length));
    this.left = Math.max(0, at - all.length);
  }

  /** @param samples how many of each channel went in */
  async finish(samples: number): Promise<void> {
    if (!this.info || !this.first) return;
    const { side, index, length, kbps } = this.info;
    const padding = Math.max(0, this.frames * FRAME - ENCODER_DELAY - samples);
    const total = length + this.musicBytes;
    const out = new HeaderBytes()
      .raw([this.first[0]!, this.first[1]! | 1, (index << 4) | (this.first[2]! & 0x0c), this.first[3]!])
      .raw(new Uint8Array(side - 4))
      // Coded at one bit rate throughout.
      .text('Info')
      .u32be(0x0f)
      .u32be(this.frames)
      .u32be(total)
      .raw(Array.from({ length: 100 }, (_, i) => Math.floor((256 * i) / 100)))
      .u32be(0)
      .text('LAME3.100')
      .u8(0x01)
      .u8(0)
      .u32be(0)
      .u16be(0)
      .u16be(0)
      .u8(0)
      .u8(Math.min(255, kbps))
      .u8(ENCODER_DELAY >> 4)
      .u8(((ENCODER_DELAY & 15) << 4) | ((padding >> 8) & 15))
      .u8(padding)
      .u8(0)
      .u8(0)
      .u16be(0)
      .u32be(total)
      .u16be(this.musicCrc);
    out.u16be(crc16(out.done()));
    const frame = new Uint8Array(length);
    frame.set(out.done());
    await this.sink(frame, this.tagEnd!);
  }
}
