import type { SampleEncoding } from '@/core/audio/pcm';
import { WASM_BASE64 } from './generated/wasm';

/** Bytes of a page of memory, and to which places in it are aligned. */
const PAGE = 65_536;
export const ALIGN = 64;
/** Largest sample, bytes. */
export const WIDEST = 8;

/** @returns samples held at full scale */
type Encode = (src: number, stride: number, channels: number, frames: number, dst: number) => number;

type Decode = (src: number, channels: number, frames: number, dst: number, stride: number) => number;

export type Weigh = (
  left: number,
  right: number,
  ends: number,
  blocks: number,
  k: number,
  state: number,
  out: number,
) => void;

/** What `assembly/index.ts` exports. */
export interface Exports {
  readonly memory: WebAssembly.Memory;
  heapBase(): number;
  swapBytes(at: number, count: number, width: number): void;
  decodeS24: Decode;
  decodeS16: Decode;
  decodeS32: Decode;
  decodeF32: Decode;
  decodeF64: Decode;
  decode8(src: number, channels: number, frames: number, dst: number, stride: number, zero: number): void;
  encodeS24: Encode;
  encodeS16: Encode;
  encodeF32: Encode;
  weigh: Weigh;
  weighBoth: Weigh;
  peaks(
    x: number,
    ends: number,
    blocks: number,
    taps: number,
    gains: number,
    bounds: number,
    out: number,
  ): void;
  nearPeaks(
    x: number,
    count: number,
    least: number,
    before: number,
    bounds: number,
    standardTaps: number,
    edgeTaps: number,
    close: number,
    closeLength: number,
    closest: number,
    closestLength: number,
    others: number,
    scratch: number,
    out: number,
  ): void;
  blockPeaks(values: number, block: number, count: number, most: number): void;
  mix(src: number, dst: number, frames: number, gain: number): void;
  resample(
    src: number,
    table: number,
    taps: number,
    up: number,
    down: number,
    part: number,
    count: number,
    out: number,
  ): void;
  extremes(x: number, frames: number, first: number, bin: number, low: number, high: number): void;
  sums(a: number, b: number, frames: number, out: number): void;
  sharpestOf(x: number, first: number, ends: number, cells: number, out: number): void;
}

function fromBase64(text: string): Uint8Array<ArrayBuffer> {
  const codes = new Uint8Array(128);
  for (const [i, char] of [...'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'].entries())
    codes[char.charCodeAt(0)] = i;
  const plain = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((plain.length * 3) / 4));
  for (let i = 0, at = 0, bits = 0, held = 0; i < plain.length; i++) {
    held = ((held << 6) | codes[plain.charCodeAt(i)]!) & 0xffff;
    bits += 6;
    if (bits >= 8) bytes[at++] = (held >> (bits -= 8)) & 0xff;
  }
  return bytes;
}

let compiled: WebAssembly.Module | null | undefined;
let plain = false;

/** Has the plain kernels do all the work while `work` goes on, to compare with. */
export async function withPlainKernels<T>(work: () => Promise<T>): Promise<T> {
  plain = true;
  try {
    return await work();
  } finally {
    plain = false;
  }
}

/** The kernels, compiled once; `null` where WebAssembly or its vectors are missing. */
export function moduleOrNull(): WebAssembly.Module | null {
  if (compiled === undefined) {
    const bytes = fromBase64(WASM_BASE64);
    compiled =
      typeof WebAssembly === 'object' && WebAssembly.validate(bytes) ? new WebAssembly.Module(bytes) : null;
  }
  return plain ? null : compiled;
}

/** Instances given back: making one, and giving its memory to the system again, takes longer than a short sound. */
const spare: Exports[] = [];
const MOST_SPARE = 4;

/** An instance, perhaps one that was used before: what its memory holds is not to be relied on. */
export function takeInstance(module: WebAssembly.Module): Exports {
  const env = {
    abort: () => {
      throw new Error('A kernel stopped');
    },
  };
  return spare.pop() ?? (new WebAssembly.Instance(module, { env }).exports as unknown as Exports);
}

export const aligned = (bytes: number): number => Math.ceil(bytes / ALIGN) * ALIGN;

/** Has an instance's memory reach to a place; views of it from before are void when it grew. */
export function growTo({ memory }: Exports, end: number): void {
  const missing = end - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
}

/** Gives an instance back; nothing may hold on to its memory any more. */
export function giveInstance(exports: Exports): void {
  if (spare.length < MOST_SPARE) spare.push(exports);
}

/**
 * Decodes interleaved samples that lie in an instance's memory.
 * @param src may be read some bytes before and after, see the decoders
 * @param dst place of the first channel; the others follow every `stride` bytes
 * @returns how many samples were NaN or infinite; they become silence
 */
export function decodeWith(
  e: Exports,
  { kind, bits, bigEndian }: SampleEncoding,
  src: number,
  channels: number,
  frames: number,
  dst: number,
  stride: number,
): number {
  if (bigEndian && bits > 8) e.swapBytes(src, frames * channels, bits / 8);
  if (bits === 8) e.decode8(src, channels, frames, dst, stride, kind === 'unsigned' ? 128 : 0);
  else if (kind === 'float')
    return (bits === 32 ? e.decodeF32 : e.decodeF64)(src, channels, frames, dst, stride);
  else
    (bits === 16 ? e.decodeS16 : bits === 24 ? e.decodeS24 : e.decodeS32)(src, channels, frames, dst, stride);
  return 0;
}
