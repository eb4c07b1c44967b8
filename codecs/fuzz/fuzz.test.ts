import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { beginSound } from '../measureSound';
import { attempt } from './attempt';
import { compressedSpecimens, plainSpecimens } from './corpus';
import { fuzzCuts } from './cuts';
import { Dice, mutate } from './mutate';
import { fuzz } from './run';
import { fuzzTexts, textReaders } from './texts';

/** Files in all; a twentieth of them compressed, which take ten times as long. */
const CASES = 20_000;
const COMPRESSED = CASES / 20;
const LARGEST_GROWTH = 500_000_000;

describe('damaged files of every format', () => {
  // Decoders complain on the console of what they are given; that is thousands of lines.
  const quiet = (['error', 'warn', 'log'] as const).map(
    (name) => () => vi.spyOn(console, name).mockReturnValue(),
  );
  beforeAll(() => quiet.forEach((start) => start()));
  afterAll(() => void vi.restoreAllMocks());

  it.each([
    ['plain', plainSpecimens(), Math.ceil(CASES - COMPRESSED), 1],
    ['compressed', compressedSpecimens(), Math.ceil(COMPRESSED), 100_001],
  ] as const)(
    '%s: are measured, measured in part or refused with a reason; nothing crashes, hangs or swells',
    async (_name, specimens, count, seed) => {
      const { fates, harm, growth } = await fuzz(specimens, count, seed);
      expect(harm).toEqual([]);
      expect(fates.measured + fates.partial + fates.refused).toBe(count);
      for (const fate of Object.values(fates)) expect(fate).toBeGreaterThan(count / 100);
      expect(growth).toBeLessThan(LARGEST_GROWTH);
    },
    600_000,
  );

  it('cuts are read or refused with a reason', () => {
    const { read, refused, harm } = fuzzCuts(4_000, 1);
    expect(harm).toEqual([]);
    expect(read).toBeGreaterThan(400);
    expect(refused).toBeGreaterThan(400);
  });

  it('projects, project files, plans, targets, deliveries, recipients and the like are read or refused with a reason', async () => {
    const readers = textReaders();
    for (const { name, bytes, read } of readers) expect(await read(bytes), name).toBe('read');
    const { read, refused, harm } = await fuzzTexts(readers, 8_000, 1);
    expect(harm).toEqual([]);
    expect(read).toBeGreaterThan(800);
    expect(refused).toBeGreaterThan(800);
  });

  it('before they are damaged, all of them are whole, but for what has no decoder here', async () => {
    for (const { name, bytes } of [...plainSpecimens(), ...compressedSpecimens()]) {
      const expected = /m4a|m2t|aac/.test(name) ? 'refused' : 'measured';
      expect(await attempt(bytes), name).toBe(expected);
    }
  });

  it('cut short, none claims to be whole', async () => {
    const wholeAt: string[] = [];
    for (const { name, bytes } of [...plainSpecimens(), ...compressedSpecimens()]) {
      // What is left of the last block of bytes may be padding.
      for (let part = 1; part < 12; part++) {
        const cut = bytes.subarray(0, Math.floor((bytes.length * part) / 12));
        if ((await attempt(cut)) === 'measured') wholeAt.push(`${name} at ${part}/12`);
      }
    }
    expect(wholeAt).toEqual([]);
  });

  it('a sound of declared length is never longer than its bytes', async () => {
    for (const { bytes } of plainSpecimens()) {
      for (let seed = 1; seed < 120; seed++) {
        const damaged = mutate(bytes, new Dice(seed));
        const begun = await beginSound(bytesSource(damaged), WHOLE_FIRST_SOUND, () => true).catch(() => null);
        if (!begun) continue;
        const { frames, bitDepth, layout } = begun.format;
        expect(
          (frames * layout.labels.length * Math.ceil(bitDepth / 8)) / damaged.length,
        ).toBeLessThanOrEqual(1);
      }
    }
  });

  it('the same seed makes the same damage', () => {
    const bytes = Uint8Array.from({ length: 300 }, (_, i) => i);
    expect(mutate(bytes, new Dice(7))).toEqual(mutate(bytes, new Dice(7)));
    expect(mutate(bytes, new Dice(7))).not.toEqual(mutate(bytes, new Dice(8)));
    expect(bytes[5]).toBe(5);
  });
});
