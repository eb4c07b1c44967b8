import type { ByteSource } from '@/core/audio/byteSource';

/** A Blob read slice by slice; nothing of it stays in memory. */
export function blobSource(blob: Blob): ByteSource {
  return {
    size: blob.size,
    async read(offset, length) {
      return new Uint8Array(await blob.slice(offset, offset + length).arrayBuffer());
    },
  };
}

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
  const direct = blobSource(blob);
  const blockAt = (index: number): Promise<Uint8Array> =>
    cache.get(`${key}/${index}`, () => direct.read(index * BLOCK, BLOCK));
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
