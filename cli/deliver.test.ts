import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { openSound } from '@/codecs/open';
import { bytesSource } from '@/core/audio/byteSource';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { asKind } from '@/core/deliver/fileKinds';
import { writeDeliveries } from '@/core/deliver/deliverySet';
import { plainDelivery, WAV_24, type Delivery } from '@/core/programme/delivery';
import { noise } from '@/core/testing/signals';
import { clip, cutText } from './testing/cuts';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('deliver');
const RATE = 48_000;
const at = (path: string): string => join(folder, path);
const stereo = (seconds: number, level: number, seed: number): Float32Array[] => {
  const x = noise(seconds * RATE, level, seed);
  return [x, x];
};
write('media/voice.wav', stereo(8, 0.02, 5));
write('media/theme.wav', stereo(8, 0.01, 6));
writeFileSync(
  at('cut.otio'),
  cutText([clip('voice.wav', 0, 200, 0, 200)], [clip('theme.wav', 0, 200, 0, 200)]),
);
mkdirSync(at('out'));

const web = SHIPPED_TARGETS.find(({ id }) => id === 'web-video')!;
const delivery = (id: string, change: Partial<Delivery>): Delivery => ({
  ...plainDelivery(id, EBU_R128),
  ...change,
});
const deliveries = [
  delivery('a', {
    ...{ pattern: '{project} {target}', correction: 'gain', format: asKind(WAV_24, 'bwf') },
    texts: { title: 'Reel', artist: 'Hut 4', description: 'Reel of the night', language: 'en' },
  }),
  delivery('b', { pattern: '{project} {target}', target: web, correction: 'gain' }),
  delivery('c', { pattern: '{project}', target: null, format: asKind(WAV_24, 'flac') }),
  delivery('d', {
    ...{ pattern: '{project} {role}', target: null, what: { kind: 'roles' } },
    format: { ...WAV_24, depth: 'f32' },
  }),
];
const list = (name: string, all: readonly Delivery[]): string => {
  writeFileSync(at(name), writeDeliveries({ name: 'Set', deliveries: all }));
  return name;
};
const deliver = (file: string, ...more: string[]) =>
  dengung(
    ...['deliver', '--media', 'media', '--deliveries', file, '--out', 'out', '--roles', 'Music=music'],
    ...[...more, 'cut.otio'],
  );

interface Report {
  readonly files: readonly {
    readonly file: string;
    readonly sha256: string;
    readonly figures: { readonly integratedLufs: number; readonly truePeakDbtp: number };
    readonly verdict: { readonly meets: boolean } | null;
    readonly sum: string | null;
    readonly notes: readonly string[];
  }[];
}

describe('deliver', () => {
  it('writes two targets, a FLAC and stems in one go, each as it says', async () => {
    const { code, out, err } = deliver(list('set.json', deliveries), '--json');
    expect(err).toBe('');
    const { files } = JSON.parse(out) as Report;
    expect(files.map(({ file, notes }) => [file, notes])).toEqual(
      ['Reel EBU R 128.wav', 'Reel Web video.wav', 'Reel.flac', 'Reel dialogue.wav', 'Reel music.wav'].map(
        (name) => [join('out', name), []],
      ),
    );
    expect(code).toBe(0);
    for (const { file, sum } of files)
      if (/dialogue|music/.test(file)) expect(sum).toMatch(/^The 2 stems add up to the mix/);
      else expect(sum).toBeNull();
    for (const { file, sha256 } of files)
      expect(
        createHash('sha256')
          .update(readFileSync(at(file)))
          .digest('hex'),
      ).toBe(sha256);
    expect(files[0]!.figures.integratedLufs).toBeCloseTo(-23, 2);
    expect(files[1]!.figures.integratedLufs).toBeCloseTo(web.integratedLufs, 2);
    const read = async (name: string) => {
      const sound = await openSound(bytesSource(readFileSync(at(name))));
      if (sound.kind !== 'pcm') throw new Error(name);
      const { reader } = sound;
      return { reader, samples: await reader.read(0, reader.format.frames) };
    };
    const { metadata } = (await read(files[0]!.file)).reader.format;
    expect(metadata).toMatchObject({ description: 'Reel of the night', originator: 'Hut 4' });
    expect(metadata!.loudness!.integratedLufs).toBeCloseTo(-23, 2);
    const [voice, theme] = [await read('out/Reel dialogue.wav'), await read('out/Reel music.wav')];
    const [source] = (await read('media/voice.wav')).samples;
    const [music] = (await read('media/theme.wav')).samples;
    voice.samples[0]!.forEach((x, i) => {
      if (Math.abs(x - source![i]!) > 1e-7 || Math.abs(theme.samples[0]![i]! - music![i]!) > 1e-7)
        throw new Error(`stems differ at ${i}`);
    });
  });

  it('says so where a file misses its target, and leaves no part of one that fails', () => {
    const quiet = list('quiet.json', [delivery('a', { pattern: 'as it is' })]);
    const missed = deliver(quiet);
    expect(missed.code).toBe(1);
    expect(missed.out).toMatch(/as it is\.wav {2}misses: /);
    // A folder stands where the file is to go.
    mkdirSync(at('out/taken.wav'));
    const taken = deliver(list('taken.json', [delivery('a', { pattern: 'taken' })]));
    expect(taken.code).toBe(1);
    expect(taken.err).toMatch(/taken\.wav is a folder/);
    expect(readdirSync(at('out')).filter((name) => name.startsWith('.'))).toEqual([]);
  });

  it('is refused with a reason where the list or a delivery makes no sense', () => {
    writeFileSync(at('none.json'), '{"format": "dengung-deliveries-1", "name": "x", "deliveries": []}');
    expect(deliver('none.json').err).toMatch(/there is no delivery in it/);
    // A list that is missing is not put down to the cut.
    expect(deliver('gone.json').err).toMatch(/gone\.json: There is no such file/);
    expect(deliver(list('fields.json', [delivery('a', { pattern: '{reel}' })])).err).toMatch(
      /\{reel\} is no field/,
    );
    const twice = list('twice.json', [delivery('a', {}), delivery('b', {})]);
    expect(deliver(twice).err).toMatch(/Two files would be called Reel\.wav/);
    expect(existsSync(at('out/Reel.wav'))).toBe(false);
    expect(dengung('deliver', '--media', 'media', '--out', 'out', 'cut.otio').code).toBe(2);
  });
});
