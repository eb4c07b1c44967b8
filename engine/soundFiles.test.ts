import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ByteSource } from '@/core/audio/byteSource';
import { storeSoundFile } from '@/storage/soundFiles';
import { blobSource } from './blobSource';
import { CopiedSource, settleStored } from './copiedSource';
import { soundSource } from './soundSource';
import { SoundFolder } from './testing/soundFolder';

const SIZE = 5_000_000;
const bytes = Uint8Array.from({ length: SIZE }, (_, i) => (i * 31 + (i >> 11)) % 251);
const blob = new Blob([bytes]);
const same = (a: Uint8Array, b: Uint8Array): boolean => Buffer.compare(a, b) === 0;

let folder: SoundFolder;
let takeAway: () => void;
beforeEach(() => {
  folder = new SoundFolder();
  takeAway = folder.install();
});
afterEach(() => takeAway());

/** Reads a span as a measurement does: the header, what filters settle on, then piece by piece. */
async function readOn(source: ByteSource, from: number, to: number, piece: number): Promise<void> {
  await source.read(0, 4_096);
  await source.read(Math.max(0, SIZE - 100), 100);
  await source.read(Math.max(0, from - 300_000), Math.min(from, 300_000));
  for (let at = from; at < to; at += piece)
    expect(
      same(await source.read(at, Math.min(piece, to - at)), bytes.subarray(at, Math.min(to, at + piece))),
    ).toBe(true);
}

describe('a file that is stored while it is measured', () => {
  it('is stored whole by those who read a part of it each, wherever the parts begin and end', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 0, max: 200_000 }),
        fc.integer({ min: 270_000, max: 1_500_000 }),
        async (parts, shift, piece) => {
          const key = `${parts}-${shift}-${piece}`;
          const at = (i: number): number => Math.round((SIZE * i) / parts);
          const stored = await Promise.all(
            Array.from({ length: parts }, async (_, i) => {
              const source = await CopiedSource.open(blobSource(blob), {
                audioKey: key,
                span: { from: at(i), to: at(i + 1) },
              });
              // What is read lies a little beside what is to be stored.
              await readOn(
                source,
                Math.min(SIZE, at(i) + shift),
                Math.max(at(i) + shift, at(i + 1) - 30_000),
                piece,
              );
              return source.finish();
            }),
          );
          expect(stored.every(Boolean)).toBe(true);
          expect(await settleStored(key, SIZE)).toBe(true);
          expect(same(folder.files.get(key)!, bytes)).toBe(true);
          expect(folder.open).toBe(0);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('is measured all the same where there is no room for it, and is not said to be stored', async () => {
    folder.room = 2_000_000;
    const source = await CopiedSource.open(blobSource(blob), {
      audioKey: 'full',
      span: { from: 0, to: SIZE },
    });
    await readOn(source, 0, SIZE, 1_000_000);
    expect(await source.finish()).toBe(false);
    expect(folder.open).toBe(0);
  });

  it('is measured all the same where there are no such files', async () => {
    takeAway();
    const source = await CopiedSource.open(blobSource(blob), {
      audioKey: 'none',
      span: { from: 0, to: SIZE },
    });
    await readOn(source, 0, SIZE, 1_000_000);
    expect(await source.finish()).toBe(false);
    expect(await settleStored('none', SIZE)).toBe(false);
  });
});

describe('a stored sound', () => {
  it('is stored from a Blob whole, or not at all', async () => {
    const told: number[] = [];
    await storeSoundFile('whole', blob, (done) => told.push(done));
    expect(same(folder.files.get('whole')!, bytes)).toBe(true);
    expect(told.at(-1)).toBe(1);
    folder.room = 1_000_000;
    await expect(storeSoundFile('part', blob)).rejects.toMatchObject({ name: 'QuotaExceededError' });
    expect(folder.files.has('part')).toBe(false);
    expect(folder.open).toBe(0);
  });

  it('is read by its file, the same bytes as through its Blob, into room that is given', async () => {
    folder.files.set('key', bytes);
    const source = soundSource('key', new File([bytes], 'key'));
    const room = new Uint8Array(3_000_000);
    await fc.assert(
      fc.asyncProperty(
        fc.nat(SIZE + 1_000),
        fc.nat(3_000_000),
        fc.boolean(),
        async (offset, length, given) => {
          const read = await source.read(offset, length, given ? room : undefined);
          expect(same(read, bytes.subarray(offset, offset + length))).toBe(true);
          if (given && read.length > 0) expect(read.buffer).toBe(room.buffer);
        },
      ),
      { numRuns: 60 },
    );
    expect(folder.open).toBeGreaterThan(0);
  });

  it('whose file cannot be opened is read through its Blob', async () => {
    const source = soundSource('gone', new File([bytes], 'gone'));
    expect(same(await source.read(1_000, 500_000), bytes.subarray(1_000, 501_000))).toBe(true);
  });

  it('keeps few files open, however many there are', async () => {
    for (let i = 0; i < 200; i++) {
      folder.files.set(`many-${i}`, bytes.subarray(i, i + 10));
      const source = soundSource(`many-${i}`, new File([bytes.subarray(i, i + 10)], `many-${i}`));
      expect([...(await source.read(0, 10))]).toEqual([...bytes.subarray(i, i + 10)]);
    }
    await Promise.resolve();
    expect(folder.open).toBeLessThan(60);
    const first = soundSource('many-0', new File([bytes.subarray(0, 10)], 'many-0'));
    expect([...(await first.read(2, 4))]).toEqual([...bytes.subarray(2, 6)]);
  });
});

describe('a Blob read piece by piece', () => {
  it('gives the same bytes whether reads follow each other or jump', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.boolean(), fc.nat(SIZE), fc.integer({ min: 1, max: 900_000 })), {
          minLength: 2,
          maxLength: 12,
        }),
        async (reads) => {
          const source = blobSource(blob);
          let next = 0;
          for (const [goesOn, place, length] of reads) {
            const at = goesOn ? next : place;
            expect(same(await source.read(at, length), bytes.subarray(at, at + length))).toBe(true);
            next = Math.min(SIZE, at + length);
          }
        },
      ),
      { numRuns: 40 },
    );
  });

  it('may be asked for the next piece before the last has come', async () => {
    const source = blobSource(blob);
    const all = await Promise.all(Array.from({ length: 10 }, (_, i) => source.read(i * 500_000, 500_000)));
    expect(same(Buffer.concat(all), bytes)).toBe(true);
  });
});
