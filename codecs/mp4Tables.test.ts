import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { AudioFileError } from '@/core/formats/errors';
import { checkTables } from './mp4Tables';

const bytesOf = (name: string): Uint8Array =>
  new Uint8Array(readFileSync(join(import.meta.dirname, 'fixtures', name)));
const NAMES = [
  'blink.mp4',
  'sound-opus.mp4',
  'sound.m4a',
  'blink.mov',
  'sound.mov',
  'two-sounds.mp4',
  'sound-ac3.mp4',
];

/** Where a box's contents begin, the first of its kind. */
const boxIn = (bytes: Uint8Array, kind: string): number => Buffer.from(bytes).indexOf(kind, 0, 'latin1') + 4;

const changed = (name: string, kind: string, at: number, value: number): Uint8Array => {
  const bytes = bytesOf(name);
  new DataView(bytes.buffer).setUint32(boxIn(bytes, kind) + at, value);
  return bytes;
};

describe('the tables of MP4 and MOV', () => {
  it.each(NAMES)('of %s are as they should be', async (name) => {
    await expect(checkTables(bytesSource(bytesOf(name)))).resolves.toBeUndefined();
  });

  it.each([
    ['stsc', 'samples in a chunk', 12, 0x40000000],
    ['stsc', 'first chunk', 8, 0x7fffffff],
    ['stsc', 'entries', 4, 0x01000000],
    ['stts', 'entries', 4, 0xffffffff],
    ['stts', 'samples', 8, 0x7fffffff],
    ['stsz', 'sizes', 8, 0x7fffffff],
    ['stco', 'chunks', 4, 0x7fffffff],
  ] as const)('%s: so many %s are refused', async (kind, _what, at, value) => {
    const error = await checkTables(bytesSource(changed('blink.mp4', kind, at, value))).catch(
      (e: unknown) => e,
    );
    expect(error).toBeInstanceOf(AudioFileError);
    expect((error as AudioFileError).message).toMatch(/^The file’s table of its sound makes no sense: .+\.$/);
  });

  it('boxes without end are refused', async () => {
    const empty = Uint8Array.from(
      { length: 8 * 250_000 },
      (_, i) => [0, 0, 0, 8, 102, 114, 101, 101][i % 8]!,
    );
    await expect(checkTables(bytesSource(empty))).rejects.toThrow(/it has no end/);
  });
});
