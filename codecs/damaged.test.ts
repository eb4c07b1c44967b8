import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { playOut } from '@/core/loudness/measureStream';
import { FIXTURE_FRAMES, FIXTURE_RATE, fixtureSound } from './fixtures/sound';
import { flipBits } from './fuzz/flips';
import { oggPages, withoutContinued, type OggPage } from './oggPages';
import { openSound } from './open';

const bytesOf = (name: string): Uint8Array =>
  new Uint8Array(readFileSync(join(import.meta.dirname, 'fixtures', name)));
const twin = fixtureSound();

async function decoded(bytes: Uint8Array) {
  const sound = await openSound(bytesSource(bytes));
  if (sound.kind !== 'stream') throw new Error('Compressed sound expected');
  const pieces: Float32Array[] = [];
  const take = (chunk: Float32Array[]): void => void pieces.push(chunk[0]!.slice());
  const format = (await playOut(sound.stream, take, () => true))!;
  const left = new Float32Array(format.frames);
  let at = 0;
  for (const piece of pieces) {
    left.set(piece, at);
    at += piece.length;
  }
  return { format, left };
}

/** How alike two slices of sound are: 1 when they are the same but for their level. */
function likeness(a: Float32Array, b: Float32Array): number {
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    ab += a[i]! * b[i]!;
    aa += a[i]! * a[i]!;
    bb += b[i]! * b[i]!;
  }
  return ab / Math.sqrt(aa * bb);
}

async function pagesOf(bytes: Uint8Array): Promise<OggPage[]> {
  const pages: OggPage[] = [];
  for await (const page of oggPages(bytesSource(bytes))) pages.push(page);
  return pages;
}

// Decoders complain on the console of what they are given.
const quiet = (['error', 'warn', 'log'] as const).map(
  (name) => () => vi.spyOn(console, name).mockReturnValue(),
);
beforeAll(() => quiet.forEach((start) => start()));
afterAll(() => void vi.restoreAllMocks());

describe('Ogg pages', () => {
  it('are found with their checksums, whatever stands between them', async () => {
    const bytes = bytesOf('pages.ogg');
    const pages = await pagesOf(bytes);
    expect(pages.length).toBeGreaterThan(10);
    expect(pages.every(({ sound }) => sound)).toBe(true);
    expect(pages.map(({ sequence }) => sequence)).toEqual(pages.map((_, i) => i));
    expect(pages.at(-1)!.at + pages.at(-1)!.bytes.length).toBe(bytes.length);
    const cut = pages[3]!.at;
    const noisy = Uint8Array.from([
      ...bytes.subarray(0, cut),
      0x4f,
      0x67,
      0x67,
      0x53,
      0,
      9,
      ...bytes.subarray(cut),
    ]);
    expect((await pagesOf(noisy)).map(({ sequence }) => sequence)).toEqual(pages.map((_, i) => i));
  });

  it('whose checksum is wrong are passed over', async () => {
    const bytes = bytesOf('pages.ogg');
    const pages = await pagesOf(bytes);
    bytes[pages[5]!.at + 100]! ^= 4;
    expect((await pagesOf(bytes)).map(({ sequence }) => sequence)).not.toContain(5);
  });

  it('lose the end of a packet whose beginning is lost, and are whole again', async () => {
    for (const page of await pagesOf(bytesOf('pages.ogg'))) {
      const rest = withoutContinued(page);
      if (!rest || rest === page) continue;
      const [again] = await pagesOf(Uint8Array.from(rest.bytes));
      expect(again).toMatchObject({ sound: true, continued: false, granule: page.granule });
    }
  });
});

describe('damaged streams', () => {
  it.each(['pages.ogg', 'pages.opus'])(
    '%s with a tenth of it zeroed keeps its length, and says what is lost and where',
    async (name) => {
      const bytes = bytesOf(name);
      const from = Math.floor(bytes.length * 0.4);
      bytes.fill(0, from, from + bytes.length / 10);
      const { format, left } = await decoded(bytes);
      expect(format.partial).toBe(true);
      const [, seconds, at] = /^([\d.]+) s at 0:([\d.]+) of the file are damaged and silent/.exec(
        format.warnings[0]!,
      )!;
      expect(format.frames).toBe(FIXTURE_FRAMES);
      // Coded at a steady rate, a tenth of the bytes is about a tenth of the time.
      const length = FIXTURE_FRAMES / FIXTURE_RATE;
      expect(Number(seconds)).toBeGreaterThan(length / 20);
      expect(Number(seconds)).toBeLessThan(length / 4);
      expect(Number(at) / length).toBeGreaterThan(0.25);
      expect(Number(at) / length).toBeLessThan(0.5);
      // What comes after stands where it stood, and what is lost is silent.
      const after = Math.round((Number(at) + Number(seconds) + 0.3) * FIXTURE_RATE);
      expect(likeness(left.subarray(after), twin[0]!.subarray(after, FIXTURE_FRAMES))).toBeGreaterThan(0.99);
      const middle = Math.round((Number(at) + Number(seconds) / 2) * FIXTURE_RATE);
      expect(left.subarray(middle - 500, middle + 500).every((x) => x === 0)).toBe(true);
    },
  );

  it.each(['pages.ogg', 'pages.opus'])('%s without some of its pages says so', async (name) => {
    const bytes = bytesOf(name);
    const pages = await pagesOf(bytes);
    const [first, after] = [pages[6]!.at, pages[8]!.at];
    const { format } = await decoded(
      Uint8Array.from([...bytes.subarray(0, first), ...bytes.subarray(after)]),
    );
    expect(format.warnings.join()).toMatch(/ s at 0:[\d.]+ of the file are damaged and silent/);
    expect(format.frames).toBe(FIXTURE_FRAMES);
  });

  it('packets that no decoder can bear cost only themselves', async () => {
    const bytes = bytesOf('pages.opus');
    const pages = await pagesOf(bytes);
    const page = pages[5]!;
    // The packets of one page become noise, and its checksum is made to hold.
    const body = page.at + 27 + page.bytes[26]!;
    for (let at = body; at < page.at + page.bytes.length; at++) bytes[at] = (at * 73) & 255;
    const noise = bytes.slice(page.at, page.at + page.bytes.length);
    const held = withoutContinued({ ...page, bytes: noise, continued: false })!;
    expect(held.bytes).toEqual(noise);
    const { format } = await decoded(withSums(bytes, page));
    expect(format.partial).toBe(true);
    expect(Math.abs(format.frames - FIXTURE_FRAMES)).toBeLessThan(FIXTURE_RATE);
  });

  it.each(['sound-opus.mp4', 'sound.webm'])('Opus in %s that is zeroed for a tenth says so', async (name) => {
    const bytes = bytesOf(name);
    const from = Math.floor(bytes.length * 0.4);
    bytes.fill(0, from, from + bytes.length / 10);
    const { format, left } = await decoded(bytes);
    expect(format.partial).toBe(true);
    if (!name.endsWith('.mp4')) return;
    expect(format.warnings.join()).toMatch(/ of the file are damaged/);
    expect(Math.abs(format.frames - FIXTURE_FRAMES)).toBeLessThan(FIXTURE_RATE / 50);
    const last = Math.round(FIXTURE_FRAMES * 0.7);
    expect(
      likeness(left.subarray(last, last + 20_000), twin[0]!.subarray(last, last + 20_000)),
    ).toBeGreaterThan(0.9);
  });
});

/** The same with the checksum of one page made right. */
function withSums(bytes: Uint8Array, page: OggPage): Uint8Array {
  const view = new DataView(bytes.buffer);
  view.setUint32(page.at + 22, 0, true);
  let sum = 0;
  for (let i = page.at; i < page.at + page.bytes.length; i++) {
    sum ^= bytes[i]! << 24;
    for (let bit = 0; bit < 8; bit++) sum = (sum << 1) ^ (sum & 0x80000000 ? 0x04c11db7 : 0);
  }
  view.setUint32(page.at + 22, sum >>> 0, true);
  return bytes;
}

describe('one bit turned', () => {
  it.each(['sound.ogg', 'sound.opus', 'sound.flac', 'blink.ogg', 'blink.opus', 'blink.flac'])(
    'in %s is said, or changes no figure',
    async (name) => {
      const result = await flipBits([{ name, bytes: bytesOf(name) }], 24, 7_001);
      expect(result.silent).toEqual([]);
      expect(result.flagged + result.refused).toBeGreaterThan(0);
    },
    60_000,
  );
});
