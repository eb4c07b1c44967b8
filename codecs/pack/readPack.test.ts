import { downloadZip } from 'client-zip';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { MANIFEST, PackError, PROJECT, withAudioKeys, type PackManifest } from '@/core/programme/pack';
import { readPack } from './readPack';

const SOUND = Uint8Array.from({ length: 5_000 }, (_, i) => i % 251);
const manifest = (change: Partial<PackManifest> = {}): PackManifest => ({
  ...({
    format: 'dengung-project-1',
    software: 'Dengung 1',
    made: '2026-01-31 21:04:00',
    name: 'Reel',
  } as const),
  sounds: [
    { audioKey: 'k1', name: 'a.wav', bytes: SOUND.length, sha256: '0'.repeat(64), path: 'sounds/0001 a.wav' },
    { audioKey: 'k2', name: 'b.wav', bytes: 7, sha256: '1'.repeat(64), path: null },
  ],
  ...change,
});

interface Part {
  readonly name: string;
  readonly input: string | Uint8Array<ArrayBuffer>;
}

const parts = (list: unknown = manifest(), more: readonly Part[] = []): Part[] => [
  { name: MANIFEST, input: typeof list === 'string' ? list : JSON.stringify(list) },
  { name: PROJECT, input: '{"project": {"name": "Reel"}, "past": [], "future": []}' },
  { name: 'sounds/0001 a.wav', input: SOUND },
  ...more,
];

const zipped = async (all: readonly Part[]): Promise<Uint8Array> =>
  new Uint8Array(await downloadZip([...all]).arrayBuffer());
const problem = (bytes: Uint8Array): Promise<PackError> =>
  readPack(bytesSource(bytes)).then(
    () => {
      throw new Error('It was opened.');
    },
    (error: unknown) => error as PackError,
  );

describe('a project as one file', () => {
  it('says what it holds, and where its sound lies to the byte', async () => {
    const bytes = await zipped(parts());
    const pack = await readPack(bytesSource(bytes));
    expect(pack.manifest).toEqual(manifest());
    expect(pack.project).toEqual({ project: { name: 'Reel' }, past: [], future: [] });
    expect([...pack.sounds.keys()]).toEqual(['k1']);
    const { offset, bytes: length } = pack.sounds.get('k1')!;
    expect(bytes.subarray(offset, offset + length)).toEqual(SOUND);
  });

  it('opens when another program has put it together, as long as sound is stored as it is', async () => {
    const files = Object.fromEntries(
      parts().map(({ name, input }) => [
        name,
        typeof input === 'string' ? new TextEncoder().encode(input) : input,
      ]),
    );
    const stored = await readPack(bytesSource(zipSync(files, { level: 0 })));
    expect(stored.sounds.get('k1')!.bytes).toBe(SOUND.length);
    expect((await problem(zipSync(files, { level: 9 }))).message).toContain('compressed');
  });

  it.each([
    ['nothing', new Uint8Array(), 'notAPack'],
    ['no zip', new TextEncoder().encode('RIFF and so on'), 'notAPack'],
  ] as const)('that is %s is said to be none', async (_, bytes, code) => {
    expect((await problem(bytes)).code).toBe(code);
  });

  it.each([
    ['another list', {}, 'notAPack'],
    ['a list that is no JSON', '{', 'damaged'],
    ['a newer list', { ...manifest(), format: 'dengung-project-2' }, 'newer'],
    [
      'paths that leave the folder',
      manifest({ sounds: [{ ...manifest().sounds[0]!, path: '../../etc/passwd' }] }),
      'damaged',
    ],
    [
      'paths within paths',
      manifest({ sounds: [{ ...manifest().sounds[0]!, path: 'sounds/../x' }] }),
      'damaged',
    ],
    [
      'a sound that is missing',
      manifest({ sounds: [{ ...manifest().sounds[0]!, path: 'sounds/other' }] }),
      'damaged',
    ],
    ['a sound of another length', manifest({ sounds: [{ ...manifest().sounds[0]!, bytes: 12 }] }), 'damaged'],
    ['a sound listed twice', manifest({ sounds: [manifest().sounds[0]!, manifest().sounds[0]!] }), 'damaged'],
  ])('with %s is refused with a reason', async (_, list, code) => {
    const error = await problem(await zipped(parts(list)));
    expect(error.code).toBe(code);
    expect(error.hint.length).toBeGreaterThan(5);
  });

  it('that grows beyond all bounds when it is unpacked is given up', async () => {
    const bomb = zipSync({ [MANIFEST]: new Uint8Array(21_000_000).fill(32) }, { level: 1 });
    expect(bomb.length).toBeLessThan(300_000);
    expect((await problem(bomb)).code).toBe('tooLarge');
  });

  it('damaged anywhere gives a reason, never anything half-read', async () => {
    const whole = await zipped(parts());
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 12 }),
        fc.option(fc.nat(whole.length)),
        async (flips, cut) => {
          const bytes = Uint8Array.from(cut === null ? whole : whole.subarray(0, cut));
          for (const [at, value] of flips) if (at < bytes.length) bytes[at] = value;
          const opened = await readPack(bytesSource(bytes)).catch((error: unknown) => error);
          if (opened instanceof PackError) return;
          const { sounds } = opened as Awaited<ReturnType<typeof readPack>>;
          for (const { offset, bytes: length } of sounds.values())
            expect(offset + length).toBeLessThanOrEqual(bytes.length);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('audio keys', () => {
  it('are changed wherever they stand, and nothing else is', () => {
    const before = {
      audioKey: 'k1',
      past: [{ path: ['sources', 0, 'audioKey'], value: 'k1' }],
      name: 'k3',
      n: 1,
    };
    expect(withAudioKeys(before, new Map([['k1', 'new']]))).toEqual({
      ...{ audioKey: 'new', past: [{ path: ['sources', 0, 'audioKey'], value: 'new' }], name: 'k3', n: 1 },
    });
  });
});
