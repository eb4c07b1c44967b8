import { MkvOutputFormat, MovOutputFormat, Mp4OutputFormat } from 'mediabunny';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { memoryReader, noise } from '@/core/testing/signals';
import { openSound } from '../open';
import { FILM_PACKETS, FILM_SECONDS, openedFilm, packetsOf, testFilm } from '../testing/film';
import { replaceSound } from './replaceSound';

const RATE = 48_000;

/** A file that is written at places. */
function target() {
  let bytes = new Uint8Array();
  return {
    sink: (data: Uint8Array, at = bytes.length): void => {
      const grown = new Uint8Array(Math.max(bytes.length, at + data.length));
      grown.set(bytes);
      grown.set(data, at);
      bytes = grown;
    },
    bytes: () => bytes,
  };
}

const NEW_SOUND = [noise(FILM_SECONDS * RATE, 0.05, 9)];

describe('a film with another sound', () => {
  it.each([
    ['MP4', () => new Mp4OutputFormat({ fastStart: 'in-memory' }), 'PCM 24-bit'],
    ['MOV', () => new MovOutputFormat({ fastStart: 'in-memory' }), 'PCM 24-bit'],
    ['Matroska', () => new MkvOutputFormat(), 'PCM 24-bit'],
  ] as const)(
    '%s keeps its picture packet by packet, and has the sound to the bit',
    async (_, make, codec) => {
      const before = await testFilm(make(), 2);
      const out = target();
      const done = await replaceSound(
        bytesSource(before),
        0,
        memoryReader(NEW_SOUND, RATE),
        out.sink,
        () => true,
      );
      expect(done).toMatchObject({
        codec,
        pictures: 1,
        packets: FILM_PACKETS,
        others: 1,
        clippedSamples: 0,
      });
      const after = out.bytes();
      expect(await packetsOf(after)).toEqual(await packetsOf(before));
      const input = openedFilm(after);
      expect((await input.getMetadataTags()).title).toBe('Frostline');
      const tracks = await input.getAudioTracks();
      expect(await Promise.all(tracks.map((track) => track.getLanguageCode()))).toEqual(['eng', 'nor']);
      // Read by our own readers: the new sound is what went in, rounded to 24 bits.
      const sound = await openSound(bytesSource(after));
      if (sound.kind !== 'stream') throw new Error('not read as a container');
      let at = 0;
      let most = 0;
      for await (const [chunk] of sound.stream.chunks()) {
        for (const x of chunk!) most = Math.max(most, Math.abs(x - NEW_SOUND[0]![at++]!));
      }
      expect(at).toBe(FILM_SECONDS * RATE);
      expect(most).toBeLessThanOrEqual(2 ** -23);
    },
  );

  it('that had none gets its first', async () => {
    const before = await testFilm(new MovOutputFormat({ fastStart: 'in-memory' }), 0);
    const out = target();
    const done = await replaceSound(
      bytesSource(before),
      0,
      memoryReader(NEW_SOUND, RATE),
      out.sink,
      () => true,
    );
    expect(done).toMatchObject({ packets: FILM_PACKETS, pictureSeconds: FILM_SECONDS, others: 0 });
    expect(await packetsOf(out.bytes())).toEqual(await packetsOf(before));
    expect(await openedFilm(out.bytes()).getAudioTracks()).toHaveLength(1);
  });

  it('is given up when somebody says so, and refused where there is no picture to keep', async () => {
    const before = await testFilm(new MovOutputFormat({ fastStart: 'in-memory' }));
    const sound = memoryReader(NEW_SOUND, RATE);
    expect(
      await replaceSound(
        bytesSource(before),
        0,
        sound,
        () => undefined,
        () => false,
      ),
    ).toBeNull();
    await expect(
      replaceSound(
        bytesSource(before),
        3,
        sound,
        () => undefined,
        () => true,
      ),
    ).rejects.toMatchObject({
      code: 'noSound',
    });
  });
});
