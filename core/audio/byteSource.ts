/** Bytes that can be read in slices: a Blob in the browser, a file in Node, an array in tests. */
export interface ByteSource {
  /** Bytes in all. */
  readonly size: number;
  /**
   * Reads up to `length` bytes from `offset`; fewer only at the end.
   * @param into room for them that may be used, so that reading much leaves nothing to be cleared away
   */
  read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array>;
}

/** Bytes that are already there. */
export function bytesSource(bytes: Uint8Array): ByteSource {
  return {
    size: bytes.length,
    read: (offset, length) => Promise.resolve(bytes.subarray(offset, offset + length)),
  };
}
