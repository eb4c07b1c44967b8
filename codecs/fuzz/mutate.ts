/** Whole numbers that look random but are the same for the same seed. */
export class Dice {
  private state: number;

  constructor(seed: number) {
    this.state = (Math.imul(seed, 2654435761) ^ 0x9e3779b9) >>> 0 || 1;
  }

  /** From 0 to `sides` − 1. */
  roll(sides: number): number {
    this.state ^= this.state << 13;
    this.state ^= this.state >>> 17;
    this.state ^= this.state << 5;
    return (this.state >>> 0) % sides;
  }
}

/** Sizes and counts that software stumbles over. */
const ODD = [
  0, 1, 2, 3, 7, 8, 0x7f, 0x80, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xfffffffe, 0xffffffff,
];

/** Damage is mostly done where the structure is: near the start. */
function place(dice: Dice, length: number): number {
  const reach = dice.roll(4) === 0 ? length : Math.min(length, 128);
  return dice.roll(Math.max(1, reach));
}

function setNumber(bytes: Uint8Array, at: number, value: number, width: number, bigEndian: boolean): void {
  for (let i = 0; i < width && at + i < bytes.length; i++) {
    bytes[at + i] = Math.floor(value / 256 ** (bigEndian ? width - 1 - i : i)) % 256;
  }
}

type Damage = (bytes: Uint8Array, dice: Dice) => Uint8Array;

const DAMAGE: readonly Damage[] = [
  (bytes, dice) => {
    bytes[place(dice, bytes.length)]! ^= 1 << dice.roll(8);
    return bytes;
  },
  (bytes, dice) => {
    bytes[place(dice, bytes.length)] = dice.roll(256);
    return bytes;
  },
  (bytes, dice) => {
    const value = ODD[dice.roll(ODD.length)]!;
    setNumber(bytes, place(dice, bytes.length) & ~1, value, [2, 4, 8][dice.roll(3)]!, dice.roll(2) === 0);
    return bytes;
  },
  (bytes, dice) => bytes.slice(0, dice.roll(bytes.length)),
  (bytes, dice) => {
    const at = place(dice, bytes.length);
    const inserted = Uint8Array.from({ length: 1 + dice.roll(40) }, () => dice.roll(256));
    return Uint8Array.from([...bytes.subarray(0, at), ...inserted, ...bytes.subarray(at)]);
  },
  (bytes, dice) => {
    const at = place(dice, bytes.length);
    return Uint8Array.from([...bytes.subarray(0, at), ...bytes.subarray(at + 1 + dice.roll(40))]);
  },
  (bytes, dice) => {
    const from = place(dice, bytes.length);
    bytes.copyWithin(place(dice, bytes.length), from, from + 1 + dice.roll(64));
    return bytes;
  },
  (bytes, dice) => {
    const at = place(dice, bytes.length);
    bytes.fill(dice.roll(2) * 255, at, at + 1 + dice.roll(32));
    return bytes;
  },
];

/** A copy with one to four damages. */
export function mutate(bytes: Uint8Array, dice: Dice): Uint8Array {
  let damaged: Uint8Array = Uint8Array.from(bytes);
  for (let times = 1 + dice.roll(4); times > 0 && damaged.length > 0; times--) {
    damaged = DAMAGE[dice.roll(DAMAGE.length)]!(damaged, dice);
  }
  return damaged;
}
