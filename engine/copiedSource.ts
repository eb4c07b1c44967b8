import type { ByteSource } from '@/core/audio/byteSource';
import { writeSoundFile, writeWhole, type SoundHandle } from '@/storage/soundFiles';
import type { StoreAs } from './protocol';

/** Copied at a time where nobody reads it anyway, bytes. */
const PIECE = 2 * 1024 * 1024;

/**
 * Stores a span of a file while it is read for another reason, so that it is read once. What goes wrong with the copy ends the copy,
 * not the reading.
 */
export class CopiedSource implements ByteSource {
  readonly size: number;
  private next: number;
  private handle: SoundHandle | null = null;

  private constructor(
    private readonly source: ByteSource,
    private readonly span: StoreAs['span'],
  ) {
    this.size = source.size;
    this.next = span.from;
  }

  /** @param store where it is stored; `null` stores nothing */
  static async open(source: ByteSource, store: StoreAs | null): Promise<CopiedSource> {
    const copied = new CopiedSource(source, store?.span ?? { from: 0, to: 0 });
    if (store) {
      try {
        const handle = await writeSoundFile(store.audioKey);
        copied.handle = handle;
        // Its length at once: a file that grows piece by piece is slower to write.
        if (handle.getSize() < source.size) handle.truncate(source.size);
      } catch {
        copied.close();
      }
    }
    return copied;
  }

  /** Ends the copy where it is. */
  close(): void {
    this.handle?.close();
    this.handle = null;
  }

  private store(bytes: Uint8Array, at: number): void {
    if (!this.handle) return;
    const end = Math.min(at + bytes.length, this.span.to);
    if (at > this.next || end <= this.next) return;
    try {
      writeWhole(this.handle, bytes.subarray(this.next - at, end - at), this.next);
      this.next = end;
    } catch {
      this.close();
    }
  }

  /** Stores what lies before a place and was never read. */
  private async catchUp(place: number): Promise<void> {
    const to = Math.min(place, this.span.to);
    while (this.handle && this.next < to) {
      const bytes = await this.source.read(this.next, Math.min(PIECE, to - this.next));
      if (bytes.length === 0) this.close();
      this.store(bytes, this.next);
    }
  }

  async read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array> {
    const bytes = await this.source.read(offset, length, into);
    // A look at a header, or at the very end, is not where reading goes on.
    if (bytes.length >= PIECE / 8 && offset < this.span.to) {
      if (offset > this.next) await this.catchUp(offset);
      this.store(bytes, offset);
    }
    return bytes;
  }

  /** Stores the rest of the span. @returns whether all of it is stored */
  async finish(): Promise<boolean> {
    await this.catchUp(this.span.to);
    const whole = this.handle !== null && this.next === this.span.to;
    this.close();
    return whole;
  }
}

/** Makes sure that a sound is on the disk. @returns whether it is there with so many bytes */
export async function settleStored(audioKey: string, size: number): Promise<boolean> {
  try {
    const handle = await writeSoundFile(audioKey);
    try {
      handle.flush();
      return handle.getSize() === size;
    } finally {
      handle.close();
    }
  } catch {
    return false;
  }
}
