/** The bytes of a header, one field after the other; numbers with the least significant byte first. */
export class HeaderBytes {
  private readonly bytes: number[] = [];

  text(value: string): this {
    for (const char of value) this.bytes.push(char.charCodeAt(0));
    return this;
  }

  /** A text of so many bytes: cut off, or filled up with zeros. */
  field(value: string, length: number): this {
    return this.text(value.slice(0, length).padEnd(length, '\0'));
  }

  u8(value: number): this {
    this.bytes.push(value & 0xff);
    return this;
  }

  u16(value: number): this {
    return this.u8(value).u8(value >> 8);
  }

  u32(value: number): this {
    return this.u16(value % 65536).u16(Math.floor(value / 65536) % 65536);
  }

  u64(value: number): this {
    return this.u32(value % 2 ** 32).u32(Math.floor(value / 2 ** 32));
  }

  /** The most significant byte first. */
  u16be(value: number): this {
    return this.u8(value >> 8).u8(value);
  }

  u32be(value: number): this {
    return this.u16be(Math.floor(value / 65536) % 65536).u16be(value % 65536);
  }

  raw(values: Iterable<number>): this {
    for (const value of values) this.bytes.push(value);
    return this;
  }

  get length(): number {
    return this.bytes.length;
  }

  done(): Uint8Array<ArrayBuffer> {
    return new Uint8Array(this.bytes);
  }
}

/** A text in plain ASCII, for fields that hold nothing else: letters lose their accents, all else becomes “?”. */
export const asciiOf = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^\x20-\x7e\r\n]/g, '?');

/** A text as UTF-8. Source: RFC 3629, clause 3. */
export function utf8Of(text: string): Uint8Array<ArrayBuffer> {
  const out = new HeaderBytes();
  for (const char of text) {
    const code = char.codePointAt(0)!;
    if (code < 0x80) out.u8(code);
    else if (code < 0x800) out.u8(0xc0 | (code >> 6)).u8(0x80 | (code & 63));
    else if (code < 0x10000)
      out
        .u8(0xe0 | (code >> 12))
        .u8(0x80 | ((code >> 6) & 63))
        .u8(0x80 | (code & 63));
    else
      out
        .u8(0xf0 | (code >> 18))
        .u8(0x80 | ((code >> 12) & 63))
        .u8(0x80 | ((code >> 6) & 63))
        .u8(0x80 | (code & 63));
  }
  return out.done();
}
