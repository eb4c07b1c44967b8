/** Samples as a coder takes them: 16 bits as they are, 24 bits in the upper three bytes of four. */
export function forCoder(bytes: Uint8Array<ArrayBuffer>, width: number): ArrayBuffer {
  if (width === 2) return bytes.buffer;
  const wide = new Int32Array(bytes.length / 3);
  for (let i = 0, o = 0; i < wide.length; i++, o += 3)
    wide[i] = (bytes[o]! << 8) | (bytes[o + 1]! << 16) | (bytes[o + 2]! << 24);
  return wide.buffer;
}
