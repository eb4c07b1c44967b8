import type { ByteSource } from '@/core/audio/byteSource';

/** Reads that follow each other and bring at least so much are one stream of bytes: a slice costs a millisecond to open. */
const STREAMED = 256 * 1024;
/** Taken out of a stream at a time, bytes. */
const SIP = 512 * 1024;

const sliceOf = async (blob: Blob, offset: number, length: number): Promise<Uint8Array> =>
  new Uint8Array(await blob.slice(offset, offset + length).arrayBuffer());

/** A Blob being read from some place on to its end. */
class Stream {
  private scratch = new ArrayBuffer(SIP);
  private last: Promise<unknown> = Promise.resolve();
  private readonly reader: ReadableStreamBYOBReader;

  constructor(
    blob: Blob,
    /** Where the next read begins, once those asked for are done. */
    public place: number,
  ) {
    this.reader = blob.slice(place).stream().getReader({ mode: 'byob' });
  }

  /** The next bytes; fewer only at the end. Reads may be asked for before earlier ones are done. */
  read(length: number, into?: Uint8Array): Promise<Uint8Array> {
    this.place += length;
    const bytes = this.last.then(() => this.take(length, into));
    this.last = bytes.catch(() => undefined);
    return bytes;
  }

  private async take(length: number, into?: Uint8Array): Promise<Uint8Array> {
    const room = into && into.length >= length ? into.subarray(0, length) : new Uint8Array(length);
    let taken = 0;
    while (taken < length) {
      const most = Math.min(SIP, length - taken);
      const { value, done } = await this.reader.read(new Uint8Array(this.scratch, 0, most));
      if (value) {
        room.set(value, taken);
        taken += value.length;
        this.scratch = value.buffer;
      }
      if (done) break;
    }
    return room.subarray(0, taken);
  }

  end(): void {
    this.reader.cancel().catch(() => undefined);
  }
}

/** A Blob read piece by piece; nothing of it stays in memory. {@link close} lets it go before it is read to its end. */
export class BlobSource implements ByteSource {
  readonly size: number;
  private stream: Stream | null = null;
  private next = -1;

  constructor(private readonly blob: Blob) {
    this.size = blob.size;
  }

  async read(offset: number, wanted: number, into?: Uint8Array): Promise<Uint8Array> {
    const length = Math.max(0, Math.min(wanted, this.size - offset));
    const follows = offset === this.next && length >= STREAMED;
    this.next = offset + length;
    if (this.stream?.place !== offset) {
      if (!follows) return sliceOf(this.blob, offset, length);
      this.close();
      this.stream = new Stream(this.blob, offset);
    }
    try {
      return await this.stream.read(length, into);
    } catch (error) {
      this.close();
      throw error;
    }
  }

  close(): void {
    this.stream?.end();
    this.stream = null;
  }
}

export const blobSource = (blob: Blob): BlobSource => new BlobSource(blob);

const BLOCK = 1024 * 1024;
/** Blocks kept in all, over all Blobs of this worker: 48 MB. */
const MOST_BLOCKS = 48;

/** Recently read blocks of many Blobs, the least recently used given up first. */
class BlockCache {
  private readonly blocks = new Map<string, Promise<Uint8Array>>();

  get(key: string, load: () => Promise<Uint8Array>): Promise<Uint8Array> {
    const known = this.blocks.get(key);
    const block = known ?? load();
    this.blocks.delete(key);
    this.blocks.set(key, block);
    if (!known) {
      block.catch(() => this.blocks.delete(key));
      if (this.blocks.size > MOST_BLOCKS) this.blocks.delete(this.blocks.keys().next().value!);
    }
    return block;
  }
}

const cache = new BlockCache();

/** A Blob read through the block cache: for rendering, where neighbouring small reads follow each other. */
export function cachedBlobSource(key: string, blob: Blob): ByteSource {
  // In slices: there may be thousands of them, and each stream would hold on to its own memory.
  const blockAt = (index: number): Promise<Uint8Array> =>
    cache.get(`${key}/${index}`, () => sliceOf(blob, index * BLOCK, BLOCK));
  return {
    size: blob.size,
    async read(offset, length) {
      const end = Math.min(offset + length, blob.size);
      if (end <= offset) return new Uint8Array(0);
      const first = Math.floor(offset / BLOCK);
      const last = Math.floor((end - 1) / BLOCK);
      if (first === last) return (await blockAt(first)).subarray(offset - first * BLOCK, end - first * BLOCK);
      const out = new Uint8Array(end - offset);
      const blocks = await Promise.all(
        Array.from({ length: last - first + 1 }, (_, i) => blockAt(first + i)),
      );
      blocks.forEach((block, i) => {
        const start = (first + i) * BLOCK;
        const from = Math.max(offset, start);
        out.set(block.subarray(from - start, Math.min(end - start, BLOCK)), from - offset);
      });
      return out;
    },
  };
}
