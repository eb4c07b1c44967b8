import { encodePcm } from '@/core/audio/pcm';

const text = (value: string): number[] => [...value].map((char) => char.charCodeAt(0));
const u32 = (value: number): number[] => [value >>> 24, (value >> 16) & 255, (value >> 8) & 255, value & 255];

/** An AIFF file of 16 bits. @returns its bytes, and where its number of frames stands */
export function writeAiff(
  channels: readonly Float32Array[],
  sampleRate: number,
): { readonly bytes: Uint8Array; readonly framesAt: number } {
  const frames = channels[0]!.length;
  const { bytes: little } = encodePcm([...channels], frames, 's16');
  const big = little.map((_, i) => little[i ^ 1]!);
  // The rate as an 80-bit number: its exponent, and its bits from the highest one on.
  const exponent = Math.floor(Math.log2(sampleRate));
  const mantissa = sampleRate * 2 ** (31 - exponent);
  const common = [0, channels.length, ...u32(frames), 0, 16];
  const rate = [64, exponent - 1, ...u32(mantissa), 0, 0, 0, 0];
  const head = [
    ...text('FORM'),
    ...u32(4 + 8 + 18 + 16 + big.length),
    ...text('AIFF'),
    ...[...text('COMM'), ...u32(18), ...common, ...rate],
    ...[...text('SSND'), ...u32(8 + big.length), ...u32(0), ...u32(0)],
  ];
  const bytes = new Uint8Array(head.length + big.length);
  bytes.set(head);
  bytes.set(big, head.length);
  return { bytes, framesAt: 12 + 8 + 2 };
}
