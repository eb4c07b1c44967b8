/**
 * The text of a file by its byte-order mark: UTF-8, UTF-16 of either order; without one, UTF-8, or UTF-16 where every other byte of its
 * beginning is zero.
 */
export function textOf(bytes: Uint8Array): string {
  const [a, b, c, d] = bytes;
  const encoding =
    a === 0xff && b === 0xfe
      ? 'utf-16le'
      : a === 0xfe && b === 0xff
        ? 'utf-16be'
        : a !== 0 && b === 0 && c !== 0 && d === 0
          ? 'utf-16le'
          : a === 0 && b !== 0 && c === 0 && d !== 0
            ? 'utf-16be'
            : 'utf-8';
  // The mark itself is left out by the decoder.
  return new TextDecoder(encoding).decode(bytes);
}
