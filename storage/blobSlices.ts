import { shortRead } from '@/core/formats/errors';

/**
 * Blobs are read in slices, never as streams: several streams over large Blobs at a time stall for ever in some browsers
 * (Chromium 156).
 */

/** @throws AudioFileError when the Blob brings fewer bytes than it says it has */
export async function sliceOf(blob: Blob, offset: number, length: number): Promise<Uint8Array<ArrayBuffer>> {
  const bytes = new Uint8Array(await blob.slice(offset, offset + length).arrayBuffer());
  if (bytes.length < Math.min(length, blob.size - offset)) throw shortRead();
  return bytes;
}

/** Given at a time, bytes. */
const SLICE = 4 * 1024 * 1024;

/** All bytes of a Blob, slice by slice, the next one being loaded meanwhile. */
export async function* slicesOf(blob: Blob): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const load = (at: number) => (at < blob.size ? sliceOf(blob, at, SLICE) : null);
  let coming = load(0);
  for (let at = 0; coming !== null;) {
    const bytes = await coming;
    at += bytes.length;
    coming = load(at);
    // Whoever takes it hears of its failure; until then it is nobody's.
    coming?.catch(() => undefined);
    yield bytes;
  }
}

/** The same as a stream, for what takes nothing else. */
export function slicedStream(blob: Blob): ReadableStream<Uint8Array<ArrayBuffer>> {
  const slices = slicesOf(blob);
  return new ReadableStream({
    async pull(controller) {
      const { value, done } = await slices.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    async cancel() {
      await slices.return(undefined);
    },
  });
}
