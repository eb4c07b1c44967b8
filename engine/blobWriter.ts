/** Bytes gathered before they are handed to the browser as a Blob, which keeps large ones on disk. */
const GATHER = 16 * 1024 * 1024;

/** Bytes that were put over others. */
interface Patch {
  readonly at: number;
  readonly bytes: Uint8Array<ArrayBuffer>;
}

/** A Blob with some of its bytes replaced; none of it is read. @param patches within it; of two that overlap the later holds */
export function patched(blob: Blob, patches: readonly Patch[]): Blob {
  return patches.reduce(
    (whole, { at, bytes }) =>
      new Blob([whole.slice(0, at), bytes, whole.slice(at + bytes.length)], { type: blob.type }),
    blob,
  );
}

/** Bytes written one after the other, becoming a Blob without ever being in memory all at once. */
export class BlobWriter {
  private readonly finished: Blob[] = [];
  private parts: Uint8Array<ArrayBuffer>[] = [];
  private gathered = 0;
  private length = 0;
  private readonly patches: Patch[] = [];

  write(bytes: Uint8Array<ArrayBuffer>): void {
    this.parts.push(bytes);
    this.gathered += bytes.length;
    this.length += bytes.length;
    if (this.gathered >= GATHER) this.gather();
  }

  /** Writes at a place: behind all that was written, or over some of it. */
  place(bytes: Uint8Array<ArrayBuffer>, at: number): void {
    const over = Math.min(bytes.length, Math.max(0, this.length - at));
    if (over > 0) this.patches.push({ at, bytes: bytes.slice(0, over) });
    if (at > this.length) this.write(new Uint8Array(at - this.length));
    if (over < bytes.length) this.write(over === 0 ? bytes : bytes.slice(over));
  }

  private gather(): void {
    this.finished.push(new Blob(this.parts));
    this.parts = [];
    this.gathered = 0;
  }

  /** @param before what goes in front of all that was written */
  finish(type: string, before?: Uint8Array<ArrayBuffer>): Blob {
    this.gather();
    const whole = patched(new Blob(this.finished, { type }), this.patches);
    return before ? new Blob([before, whole], { type }) : whole;
  }
}
