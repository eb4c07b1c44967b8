import type { ByteSource } from '@/core/audio/byteSource';
import { release, type ByteDecoder, type Decoded } from './decoders';
import { Filler, type Damage } from './damage';
import { oggPages, withoutContinued, type OggPage } from './oggPages';

/** Bytes of pages given to a decoder at a time: a few seconds of sound at most, so that a cancel is heard soon. */
const BATCH_BYTES = 64 * 1024;
/** Headers larger than this are no headers. */
const MOST_HEADER_BYTES = 16 * 2 ** 20;
/** A file that takes more decoders than this is not worth going on with. */
const MOST_DECODERS = 500;

/** Pages are as long as they say to this, seconds. */
const TOLERANCE_SECONDS = 0.005;

const MADE_ANEW = 'The decoder broke off too often; the rest of the file was not read.';

/** What every page begins with. */
const FIRST_BYTE = 0x4f;

/**
 * Pages as decoders are given them: one byte ahead, as they hold a page back until they have seen a byte of the next.
 * @param begun the decoder has had the first byte of these already
 */
function ahead(pages: readonly OggPage[], begun: boolean): Uint8Array {
  const bytes = new Uint8Array(pages.reduce((sum, page) => sum + page.bytes.length, 1));
  let at = 0;
  for (const page of pages) {
    bytes.set(page.bytes, at);
    at += page.bytes.length;
  }
  bytes[at] = FIRST_BYTE;
  return begun ? bytes.subarray(1) : bytes;
}

/** Sound out of Ogg pages: planar, and where in the file it ends. */
export interface OggPiece {
  readonly decoded: Decoded;
  /** Frames of silence that stand before it, for what is lost. */
  readonly silent: number;
  /** Frames of it to leave out at its start, as they are there already. */
  readonly skip: number;
  /** Frames of it to leave out at its end, as they are the encoder's padding. */
  readonly drop: number;
}

const EMPTY: Decoded = { channelData: [], samplesDecoded: 0, sampleRate: 0, errors: [] };

/**
 * Decodes an Ogg stream page by page. Only pages whose checksums hold reach the decoder; where some are missing, or the
 * decoder breaks off, a new one begins with the headers and what comes after, and granule positions say how much was lost.
 * Sources: RFC 3533 (pages, sequence numbers), RFC 7845, clause 4, and Vorbis I, clause A.2 (granule positions).
 */
export class OggDecode {
  private headers: OggPage[] = [];
  private headersDone = false;
  private decoder: ByteDecoder | null = null;
  private decoders = 0;
  private serial: number | null = null;
  private sequence = -1;
  /** Frames that have come out. */
  private position = 0;
  /** Granule position at which the first frame stands; `null` until the first page of sound has been decoded. */
  private base: number | null = null;
  /** Something is lost before the page that comes. */
  private torn = false;
  private ended = false;
  private stopped = false;
  private filler: Filler | null = null;
  /** Bytes up to the page in hand. */
  at = 0;

  constructor(
    private readonly source: ByteSource,
    private readonly newDecoder: () => Promise<ByteDecoder>,
    private readonly damaged: Damage,
    /** Granule position at which sound begins where nothing else says so: the encoder's delay. */
    private readonly delay: number,
  ) {}

  /** The file ends where it says that it does. */
  get complete(): boolean {
    return this.ended && !this.torn;
  }

  private async fresh(): Promise<ByteDecoder> {
    if (this.decoder) return this.decoder;
    if (++this.decoders > MOST_DECODERS) {
      this.stopped = true;
      this.damaged.say(MADE_ANEW);
      throw new Error(MADE_ANEW);
    }
    const decoder = await this.newDecoder();
    this.decoder = decoder;
    const began = await decoder.decode(ahead(this.headers, false));
    // Sound in what are taken for headers is sound all the same.
    if (began.samplesDecoded > 0) this.position += began.samplesDecoded;
    return decoder;
  }

  private drop(): void {
    release(this.decoder);
    this.decoder = null;
  }

  close(): void {
    this.drop();
    this.stopped = true;
  }

  /** What is left in the decoder when its pages have been given. */
  private async *rest(): AsyncGenerator<OggPiece> {
    try {
      const last = await this.decoder?.flush();
      if (last && last.samplesDecoded > 0) {
        this.position += last.samplesDecoded;
        yield { decoded: last, silent: 0, skip: 0, drop: 0 };
      }
    } catch (error) {
      this.damaged.note([{ message: String(error) }]);
    }
  }

  /** Where a page of sound stands after a loss: silence before it, or what of it has been already. */
  private placed(page: OggPage | undefined, decoded: Decoded): OggPiece {
    const frames = decoded.samplesDecoded;
    const anew = this.decoders > 1;
    let [silent, skip, drop] = [0, 0, 0];
    if (this.torn && frames > 0) {
      this.torn = false;
      this.filler ??= new Filler(this.damaged, decoded.sampleRate, this.source.size);
      this.base ??= this.delay;
      const end = page?.granule == null ? null : page.granule - this.base;
      const lost = end === null ? 0 : end - frames - this.position;
      silent = this.filler.fill(this.position, Math.max(0, lost));
      skip = Math.min(frames, Math.max(0, -lost));
      // What was not filled moves all that follows.
      this.base += Math.max(0, lost) - silent;
    }
    const end = this.position + silent + frames - skip;
    // Packets that are damaged though their page is whole give more, or less, than the page says.
    const said = page?.granule == null || page.last || this.base === null ? end : page.granule - this.base;
    if (Math.abs(said - end) > decoded.sampleRate * TOLERANCE_SECONDS) {
      this.damaged.note([{ message: 'the length of a page is not what it says' }]);
      drop = Math.min(frames - skip, Math.max(0, end - said));
      // What is too short is made up for before the next page.
      if (said > end) this.torn = true;
    }
    // A decoder that began in the middle does not know where the sound ends.
    if (anew && page?.last && page.granule !== null && this.base !== null)
      drop = Math.max(drop, Math.min(frames - skip, Math.max(0, end - (page.granule - this.base))));
    this.position = end - drop;
    if (this.base === null && page?.granule != null && !page.last) this.base = page.granule - this.position;
    return { decoded, silent, skip, drop };
  }

  private async decode(pages: readonly OggPage[]): Promise<OggPiece> {
    const decoder = await this.fresh();
    const decoded = await decoder.decode(ahead(pages, true));
    return this.placed(pages.at(-1), decoded);
  }

  /** Decodes pages; where the decoder breaks off, one by one, without those it breaks off at. */
  private async *careful(pages: readonly OggPage[]): AsyncGenerator<OggPiece> {
    if (pages.length === 0) return;
    try {
      // After a loss the first page shows where things stand.
      const first = this.torn ? 1 : pages.length;
      yield await this.decode(pages.slice(0, first));
      if (first < pages.length) yield await this.decode(pages.slice(first));
    } catch (error) {
      if (this.stopped) return;
      this.damaged.note([{ message: String(error) }]);
      this.drop();
      this.torn = true;
      for (const page of pages) {
        const alone = this.decoder ? page : withoutContinued(page);
        if (!alone) continue;
        try {
          yield await this.decode([alone]);
        } catch {
          if (this.stopped) return;
          this.drop();
          this.torn = true;
        }
      }
    }
  }

  /** Takes note of a page's place among the others. @returns whether it is one to decode */
  private follow(page: OggPage): 'take' | 'skip' | 'restart' {
    if (page.first && (this.serial === null || (this.ended && page.serial !== this.serial))) {
      const chained = this.serial !== null;
      this.serial = page.serial;
      this.sequence = page.sequence;
      this.headers = [];
      this.headersDone = false;
      this.ended = false;
      if (!page.sound) this.damaged.say('The head of the file is damaged; the figures may be wrong.');
      return chained ? 'restart' : 'take';
    }
    if (page.serial !== this.serial) return 'skip';
    const expected = (this.sequence + 1) >>> 0;
    if (page.sequence !== expected) {
      // What came already, or a page from somewhere else.
      if (page.sequence < expected) return 'skip';
      this.sequence = page.sequence;
      return 'restart';
    }
    this.sequence = page.sequence;
    return 'take';
  }

  async *pieces(): AsyncGenerator<OggPiece> {
    let batch: OggPage[] = [];
    let bytes = 0;
    for await (const page of oggPages(this.source)) {
      if (this.stopped) return;
      this.at = page.at + page.bytes.length;
      const what = this.follow(page);
      if (what === 'skip') continue;
      let given: OggPage | null = page;
      if (what === 'restart') {
        yield* this.careful(batch);
        yield* this.rest();
        [batch, bytes] = [[], 0];
        this.drop();
        if (page.first) this.base = null;
        else {
          this.torn = true;
          given = withoutContinued(page);
        }
      }
      if (page.last) this.ended = true;
      if (!this.headersDone && (page.granule ?? 0) === 0) {
        this.headers.push(page);
        if (this.torn) this.damaged.say('The head of the file is damaged; the figures may be wrong.');
        if (this.headers.reduce((sum, header) => sum + header.bytes.length, 0) > MOST_HEADER_BYTES) return;
        continue;
      }
      this.headersDone = true;
      if (!given) continue;
      batch.push(given);
      bytes += given.bytes.length;
      // The first page by itself shows at which position sound begins.
      if (bytes < BATCH_BYTES && !page.last && this.base !== null) continue;
      yield* this.careful(batch);
      [batch, bytes] = [[], 0];
    }
    yield* this.careful(batch);
    yield* this.rest();
    // Headers alone: the decoder may make something of them.
    if (this.position === 0 && this.headers.length > 0 && !this.headersDone && !this.stopped) {
      try {
        yield this.placed(undefined, (await this.fresh().then((decoder) => decoder.flush())) ?? EMPTY);
      } catch (error) {
        this.damaged.note([{ message: String(error) }]);
      }
    }
  }
}
