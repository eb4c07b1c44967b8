import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { MovOutputFormat } from 'mediabunny';
import { describe, expect, it } from 'vitest';
import { packetsOf, testFilm } from '@/codecs/testing/film';
import { tones } from '@/core/testing/signals';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('film');
const before = await testFilm(new MovOutputFormat({ fastStart: 'in-memory' }), 2);
writeFileSync(join(folder, 'reel 2.mov'), before);
write('mix.wav', tones([{ dbfs: -23, seconds: 4 }], 48_000, 2));

describe('dengung film', () => {
  it('puts a finished sound into a copy, measures that, and leaves the picture as it is', async () => {
    const { code, out, err } = dengung('film', '--sound', 'mix.wav', '--out', 'out.mov', 'reel 2.mov');
    expect(code).toBe(0);
    expect(out).toMatch(/^out\.mov: −23\.0 LUFS, true peak −23\.0 dBTP, measured from the film\.\n$/);
    expect(err).toContain('75 packets of it; the sound is PCM 24-bit now, 1 more is copied.');
    expect(err).toContain('The sound is 1.00 s longer than the picture; both begin together.');
    const after = new Uint8Array(readFileSync(join(folder, 'out.mov')));
    expect(await packetsOf(after)).toEqual(await packetsOf(before));
    const { out: data } = dengung('measure', '--json', 'out.mov');
    expect(Number(/"integratedLufs": ?(-[\d.]+)/.exec(data)![1])).toBeCloseTo(-23, 1);
  });

  it('writes nothing where there is no such sound, no film, or what is read would be lost', () => {
    const refused = (...args: string[]): unknown => {
      const { code, err } = dengung('film', '--out', 'x.mov', ...args);
      return [code, existsSync(join(folder, 'x.mov')), err];
    };
    expect(refused('--sound', 'mix.wav', '--track', '5', 'reel 2.mov')).toEqual([
      ...[1, false, expect.stringContaining('The sound that is to be replaced is not there.')],
    ]);
    expect(refused('--sound', 'reel 2.mov', 'mix.wav')).toEqual([1, false, expect.any(String)]);
    expect(refused('--sound', 'nothing.wav', 'reel 2.mov')).toEqual([1, false, expect.any(String)]);
    expect(refused('reel 2.mov')).toEqual([2, false, expect.stringContaining('--sound')]);
    expect(dengung('film', '--sound', 'mix.wav', '--out', 'mix.wav', 'reel 2.mov').code).toBe(1);
  });
});
