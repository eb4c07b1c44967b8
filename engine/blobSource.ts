import type { ByteSource } from '@/core/audio/byteSource';
import { sliceOf } from '@/storage/blobSlices';

/** Reads that follow each other and bring at least so much are loaded one ahead: a slice costs a millisecond to open. */
const LOADED_AHEAD = 256 * 1024;

/** A slice that is on its way. */
interface Slice {
  readonly offset: number;
  readonly length: number;
  readonly bytes: Promise<Uint8Array>;
}

/**
 * A Blob read slice by slice; nothing of it stays in memory but the slice that is loaded ahead.
 */
class BlobSource implements ByteSource {
  readonly size: number;
  private next = -1;
  private ahead: Slice | null = null;

  constructor(private readonly blob: Blob) {
    this.size = blob.size;
  }

  private slice(offset: number, wanted: number): Slice {
    const length = Math.max(0, Math.min(wanted, this.size - offset));
    return { offset, length, bytes: sliceOf(this.blob, offset, length) };
  }

  read(offset: number, wanted: number): Promise<Uint8Array> {
    const { ahead } = this;
    const length = Math.max(0, Math.min(wanted, this.size - offset));
    const known = ahead !== null && ahead.offset === offset && ahead.length === length;
    const { bytes } = known ? ahead : this.slice(offset, length);
    const follows = offset === this.next && length >= LOADED_AHEAD;
    this.next = offset + length;
    this.ahead = follows && this.next < this.size ? this.slice(this.next, length) : null;
    // Whoever reads it hears of its failure; until then it is nobody's.
    this.ahead?.bytes.catch(() => undefined);
    return bytes;
  }
}

export const blobSource = (blob: Blob): ByteSource => new BlobSource(blob);

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
