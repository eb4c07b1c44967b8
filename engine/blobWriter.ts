/** Bytes gathered before they are handed to the browser as a Blob, which keeps large ones on disk. */
const GATHER = 16 * 1024 * 1024;

/** Bytes written one after the other, becoming a Blob without ever being in memory all at once. */
export class BlobWriter {
  private readonly finished: Blob[] = [];
  private parts: Uint8Array<ArrayBuffer>[] = [];
  private gathered = 0;

  write(bytes: Uint8Array<ArrayBuffer>): void {
    this.parts.push(bytes);
    this.gathered += bytes.length;
    if (this.gathered >= GATHER) this.gather();
  }

  private gather(): void {
    this.finished.push(new Blob(this.parts));
    this.parts = [];
    this.gathered = 0;
  }

  /** @param before what goes in front of all that was written */
  finish(type: string, before?: Uint8Array<ArrayBuffer>): Blob {
    this.gather();
    return new Blob([...(before ? [before] : []), ...this.finished], { type });
  }
}
