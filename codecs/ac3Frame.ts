/**
 * What is read and set in frames of AC-3 without decoding them.
 * Source: ETSI TS 102 366, clauses 4.3.1 (syncinfo), 4.3.2 (bsi), 4.3.3 (audblk), 6.1.7 (checksums).
 */

const SYNC = 0x0b77;
/** x¹⁶ + x¹⁵ + x² + 1. */
const POLYNOMIAL = 0x1_8005;
/** Bits before `bsid`. */
const BSI_AT = 40;
/** Full-scale minus so much, dB, is what a decoder takes for the loudness when nothing else is said. */
export const DIALNORM_UNSAID = 31;

class Bits {
  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
  ) {}

  take(count: number): number {
    let value = 0;
    for (let i = 0; i < count; i++, this.at++)
      value = (value << 1) | (((this.bytes[this.at >> 3] ?? 0) >> (7 - (this.at & 7))) & 1);
    return value;
  }

  /** Skips a field of so many bits where the bit in front of it is set. */
  optional(bits: number): void {
    if (this.take(1) === 1) this.at += bits;
  }
}

/** Bits up to `dialnorm`, and how many full-range channels there are. */
function toDialnorm(frame: Uint8Array): { readonly bits: Bits; readonly channels: number } {
  const bits = new Bits(frame, BSI_AT + 8);
  const mode = bits.take(3);
  if ((mode & 1) !== 0 && mode !== 1) bits.at += 2;
  if ((mode & 4) !== 0) bits.at += 2;
  if (mode === 2) bits.at += 2;
  bits.at += 1;
  return { bits, channels: [2, 1, 2, 3, 3, 4, 4, 5][mode]! };
}

/** Whether it begins as a frame of AC-3 does (E-AC-3 lies otherwise). */
const isAc3 = (frame: Uint8Array): boolean =>
  frame.length > 8 && ((frame[0]! << 8) | frame[1]!) === SYNC && frame[5]! >> 3 <= 10;

/** The loudness of speech that a frame states, dB under full scale (1 to 31); `null` where it is no AC-3. */
export const dialnormOf = (frame: Uint8Array): number | null =>
  isAc3(frame) ? toDialnorm(frame).bits.take(5) : null;

/** Whether a frame asks decoders to turn its first block up or down (its dynamic range word). */
export function asksForCompression(frame: Uint8Array): boolean {
  if (!isAc3(frame)) return false;
  const { bits, channels } = toDialnorm(frame);
  bits.at += 5;
  for (const length of [8, 8, 7]) bits.optional(length);
  bits.at += 2;
  bits.optional(14);
  bits.optional(14);
  if (bits.take(1) === 1) bits.at += (bits.take(6) + 1) * 8;
  bits.at += 2 * channels;
  return bits.take(1) === 1 && bits.take(8) !== 0;
}

/** The remainder of a message of bytes, shifted by the 16 bits of the checksum. */
function remainder(bytes: Uint8Array): number {
  let register = 0;
  for (const byte of bytes)
    for (let bit = 7; bit >= 0; bit--) {
      const out = (register >> 15) ^ ((byte >> bit) & 1);
      register = ((register << 1) & 0xffff) ^ (out === 1 ? POLYNOMIAL & 0xffff : 0);
    }
  return register;
}

/** The product of two polynomials, by the checksum's. */
function product(a: number, b: number): number {
  let sum = 0;
  for (let bit = 15; bit >= 0; bit--) {
    sum = (sum & 0x8000) !== 0 ? (sum << 1) ^ POLYNOMIAL : sum << 1;
    if (((b >> bit) & 1) === 1) sum ^= a;
  }
  return sum & 0xffff;
}

/** 1/x to the power of so many, by the checksum's polynomial. */
function inversePower(power: number): number {
  let value = 1;
  for (let i = 0; i < power; i++) value = ((value & 1) !== 0 ? value ^ POLYNOMIAL : value) >> 1;
  return value;
}

const inverses = new Map<number, number>();

/** Where the first checksum of a frame ends: five eighths of it, bytes. */
export const firstPart = (length: number): number => 2 * (Math.floor(length / 4) + Math.floor(length / 16));

/**
 * States the loudness of speech in a frame, and sets the checksum that covers it. The second checksum stays: what the first one
 * covers leaves no remainder, before as after.
 * @param dialnorm 1 to 31, dB under full scale
 * @returns the frame, changed in place
 */
export function stateDialnorm(frame: Uint8Array, dialnorm: number): Uint8Array {
  if (!isAc3(frame)) return frame;
  const { bits } = toDialnorm(frame);
  for (let bit = 4; bit >= 0; bit--, bits.at++) {
    const mask = 0x80 >> (bits.at & 7);
    const byte = bits.at >> 3;
    frame[byte] = ((dialnorm >> bit) & 1) === 1 ? frame[byte]! | mask : frame[byte]! & ~mask;
  }
  // The checksum stands in front of what it covers: it is what leaves no remainder with all that follows.
  const covered = frame.subarray(4, firstPart(frame.length));
  const power = 8 * covered.length + 16;
  const inverse = inverses.get(power) ?? inversePower(power);
  inverses.set(power, inverse);
  const checksum = product(remainder(covered), inverse);
  frame[2] = checksum >> 8;
  frame[3] = checksum & 0xff;
  return frame;
}
