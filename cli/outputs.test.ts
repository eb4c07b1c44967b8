import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { once } from 'node:events';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { noise, tones } from '@/core/testing/signals';
import { checkOutput, checkRoom, WAV_ENDINGS, writeWhole } from './output';
import { ownerMark } from './owner';
import { clip, cutText } from './testing/cuts';
import { workplace } from './testing/workplace';

const { root, folder, write, dengung, start } = await workplace('outputs');
const at = (path: string): string => join(folder, path);
const bytes = (path: string): Buffer => readFileSync(at(path));
const hash = (path: string): string => createHash('sha256').update(bytes(path)).digest('hex');
const parts = (path = ''): string[] => readdirSync(at(path)).filter((name) => name.endsWith('.part'));

const tone = write('tone.wav', tones([{ dbfs: -30, seconds: 2 }], 48_000));
write('media/a.wav', tones([{ dbfs: -20, seconds: 4 }], 48_000));
write('media/b.wav', tones([{ dbfs: -20, seconds: 4 }], 48_000));
writeFileSync(at('cut.otio'), cutText([clip('a.wav', 0, 50)]));
symlinkSync('a.wav', at('media/linked.wav'));
linkSync(at('media/a.wav'), at('hard.wav'));
const level = ['level', '--target', 'ebu-r128'];

describe('no output is any input', () => {
  it.each([
    ['media that the cut uses', ['render', '--media', 'media', '--out', 'media/a.wav', 'cut.otio']],
    ['media that it does not use', ['render', '--media', 'media', '--out', 'media/b.wav', 'cut.otio']],
    ['the cut', ['render', '--media', 'media', '--out', 'cut.otio', 'cut.otio']],
    ['by a link', ['render', '--media', 'media', '--out', 'media/linked.wav', 'cut.otio']],
    ['by another name of the same file', ['render', '--media', 'media', '--out', 'hard.wav', 'cut.otio']],
    ['by another path', [...level, '--out', './media/../tone.wav', tone]],
    ['of many files', [...level, '--each', '--out', 'media', 'media/a.wav', 'media/b.wav']],
    ['the report', [...level, '--each', '--report', 'plan.json', '--plan', 'plan.json', tone]],
  ])('%s', (_name, args) => {
    writeFileSync(at('plan.json'), '{}');
    const files = ['media/a.wav', 'media/b.wav', 'cut.otio', 'hard.wav', 'tone.wav', 'plan.json'];
    const before = files.map(hash);
    const { code, out, err } = dengung(...args);
    expect(code).toBe(1);
    expect(out + err).toMatch(/which is being read; it would be lost/);
    expect(files.map(hash)).toEqual(before);
    expect(statSync(at('media/linked.wav')).ino).toBe(statSync(at('media/a.wav')).ino);
  });
});

describe('a file is written under a name that nobody has', () => {
  it('and touches nothing that ends in .part', () => {
    const source = write('mix.wav.part', tones([{ dbfs: -30, seconds: 2 }], 48_000));
    writeFileSync(at('o.wav.part'), 'somebody else’s');
    const before = bytes(source);
    expect(dengung(...level, '--out', 'mix.wav', source).code).toBe(0);
    expect(bytes(source).equals(before)).toBe(true);
    expect(dengung(...level, '--out', 'o.wav', tone).code).toBe(0);
    expect(bytes('o.wav.part').toString()).toBe('somebody else’s');
    expect(parts()).toEqual(['mix.wav.part', 'o.wav.part']);
  });

  it.each(['SIGINT', 'SIGTERM', 'SIGHUP', 'SIGQUIT'] as const)('nothing is left after %s', async (signal) => {
    mkdirSync(at(signal), { recursive: true });
    const long = existsSync(at('long.wav'))
      ? 'long.wav'
      : write('long.wav', [noise(48_000 * 400, 0.1, 3), noise(48_000 * 400, 0.1, 4)]);
    const running = start(...level, '--out', `${signal}/out.wav`, long);
    const ended = once(running, 'exit');
    while (parts(signal).length === 0 && running.exitCode === null)
      await new Promise((resolve) => setTimeout(resolve, 5));
    expect(parts(signal)).toHaveLength(1);
    running.kill(signal);
    expect((await ended)[1]).toBe(signal);
    expect(readdirSync(at(signal))).toEqual([]);
  });

  it('nor is decoded sound', async () => {
    const mp3 = readFileSync(join(root, 'codecs/fixtures/sound.mp3'));
    mkdirSync(at('compressed'));
    for (let i = 0; i < 8; i++) writeFileSync(at(`compressed/m${i}.mp3`), mp3);
    const clips = Array.from({ length: 8 }, (_, i) => clip(`m${i}.mp3`, 0, 50));
    writeFileSync(at('many.otio'), cutText(clips));
    mkdirSync(at('temporary'));
    const left = (): string[] => readdirSync(at('temporary'));
    process.env['TMPDIR'] = at('temporary');
    const running = start('render', '--media', 'compressed', '--out', 'm.wav', 'many.otio');
    delete process.env['TMPDIR'];
    const ended = once(running, 'exit');
    while (left().length === 0 && running.exitCode === null)
      await new Promise((resolve) => setTimeout(resolve, 2));
    expect(left().length).toBeGreaterThan(0);
    running.kill('SIGTERM');
    await ended;
    expect(left()).toEqual([]);
    expect(existsSync(at('m.wav'))).toBe(false);
  });

  it('a second writer of the same file is told', async () => {
    const rules = { inputs: [], keepExisting: false, endings: WAV_ENDINGS };
    const here = (path: string) => checkOutput(at(path), rules);
    const [first, second] = [await here('both.wav'), await here('both.wav')];
    const put = (output: typeof first, text: string) =>
      writeWhole(
        output,
        (sink) => sink(Buffer.from(text)),
        () => Promise.resolve(),
      );
    await put(first, 'first');
    await expect(put(second, 'second')).rejects.toMatchObject({ code: 'writtenMeanwhile' });
    expect(bytes('both.wav').toString()).toBe('first');
    const [third, fourth] = [await here('both.wav'), await here('both.wav')];
    await put(third, 'third');
    await expect(put(fourth, 'fourth')).rejects.toMatchObject({ code: 'writtenMeanwhile' });
    expect(bytes('both.wav').toString()).toBe('third');
    expect(parts().filter((name) => name.startsWith('.dengung'))).toEqual([]);
  });

  it('and one that comes while it is being written, at once', async () => {
    const running = start(...level, '--out', 'slow.wav', 'long.wav');
    const ended = once(running, 'exit');
    while (!parts().some((name) => name.startsWith('.dengung')))
      await new Promise((next) => setTimeout(next, 5));
    const { code, err } = dengung(...level, '--out', 'slow.wav', tone);
    expect(code).toBe(1);
    expect(err).toMatch(/Another run is writing slow\.wav \(process \d+,/);
    expect(err).toContain(parts().find((name) => name.startsWith('.dengung'))!);
    running.kill('SIGKILL');
    await ended;
    // What it left is gone with the next file that is written there, whatever its name.
    expect(parts().filter((name) => name.startsWith('.dengung'))).toHaveLength(1);
    expect(dengung(...level, '--out', 'other.wav', tone).code).toBe(0);
    expect(parts().filter((name) => name.startsWith('.dengung'))).toEqual([]);
  });

  it('the part of a killed run does not block its name once the number of its process is given again', async () => {
    const [pid, host] = ownerMark().split('-');
    const path = createHash('sha256').update(at('again.wav')).digest('hex').slice(0, 12);
    const left = `.dengung-${path}-${process.ppid}-${host}-0123456789-${'a'.repeat(24)}.part`;
    const elsewhere = `.dengung-${path}-${pid}-ffffff-0123456789-${'b'.repeat(24)}.part`;
    for (const name of [left, elsewhere]) writeFileSync(at(name), 'left');
    const output = await checkOutput(at('again.wav'), {
      inputs: [],
      keepExisting: false,
      endings: WAV_ENDINGS,
    });
    await writeWhole(
      output,
      (sink) => sink(Buffer.from('new')),
      () => Promise.resolve(),
    );
    expect(bytes('again.wav').toString()).toBe('new');
    // Of another machine nothing is known: what may be its work is left alone.
    expect(parts().filter((name) => name.startsWith('.dengung'))).toEqual([elsewhere]);
    rmSync(at(elsewhere));
  });

  it('what is not approved is not left', async () => {
    const output = await checkOutput(at('refused.wav'), {
      inputs: [],
      keepExisting: false,
      endings: WAV_ENDINGS,
    });
    const refuse = () => Promise.reject(new Error('no'));
    await expect(writeWhole(output, (sink) => sink(Buffer.from('x')), refuse)).rejects.toThrow('no');
    expect(existsSync(at('refused.wav'))).toBe(false);
  });
});

describe('where a file goes', () => {
  it('only ordinary files are replaced, and that is said', () => {
    execFileSync('mkfifo', [at('pipe')]);
    symlinkSync('nowhere/at/all', at('dangling.wav'));
    const refused: [string, RegExp][] = [
      ['/dev/null', /not an ordinary file/],
      ['pipe', /not an ordinary file/],
      ['media', /media is a folder/],
      ['dangling.wav', /a link to something that is not there/],
      ['no/such/place.wav', /There is no folder no\/such/],
      ['tone.wav/out.wav', /is a file, not a folder/],
      [`${'x'.repeat(300)}.wav`, /longer than the disk takes/],
    ];
    for (const [out, message] of refused) {
      const { code, err } = dengung(...level, '--out', out, tone);
      expect(err, out).toMatch(message);
      expect(code, out).toBe(1);
    }
    expect(statSync('/dev/null').isCharacterDevice()).toBe(true);
    expect(statSync(at('pipe')).isFIFO()).toBe(true);
    expect(dengung(...level, '--out', '', tone)).toMatchObject({ code: 2 });
  });

  it('through a link the file behind it is written', () => {
    writeFileSync(at('behind.wav'), 'old');
    symlinkSync('behind.wav', at('before.wav'));
    const { code, out } = dengung(...level, '--out', 'before.wav', tone);
    expect(code).toBe(0);
    expect(out).toMatch(/before\.wav was there before and has been replaced/);
    expect(bytes('behind.wav').subarray(0, 4).toString()).toBe('RIFF');
  });

  it('what is there is replaced with a word, or kept', () => {
    writeFileSync(at('there.wav'), 'old');
    const refused = dengung(...level, '--no-clobber', '--out', 'there.wav', tone);
    expect(refused).toMatchObject({ code: 1, err: expect.stringMatching(/there already/) as string });
    expect(bytes('there.wav').toString()).toBe('old');
    const { out } = dengung(...level, '--json', '--out', 'there.wav', tone);
    expect(JSON.parse(out)).toMatchObject({ replaced: true });
    expect(JSON.parse(dengung(...level, '--json', '--out', 'fresh.wav', tone).out)).toMatchObject({
      replaced: false,
    });
  });

  it('a name of 255 letters can be written', () => {
    const name = `${'n'.repeat(251)}.wav`;
    expect(dengung(...level, '--out', name, tone).code).toBe(0);
    expect(existsSync(at(name))).toBe(true);
  });

  it('what the disk has no room for is not begun', async () => {
    await expect(checkRoom(folder, 1e18)).rejects.toMatchObject({ code: 'diskFull' });
    await expect(checkRoom(folder, 1)).resolves.toBeUndefined();
  });

  it('equal names out of two folders keep their folders, equal stems their endings', () => {
    write('rushes/day1/take.wav', tones([{ dbfs: -30, seconds: 1 }], 48_000));
    write('rushes/day2/take.wav', tones([{ dbfs: -20, seconds: 1 }], 48_000));
    write('rushes/day2/only.wav', tones([{ dbfs: -20, seconds: 1 }], 48_000));
    writeFileSync(at('rushes/day2/only.flac'), readFileSync(join(root, 'codecs/fixtures/sound.flac')));
    const { code, out } = dengung(...level, '--each', '--json', '--out', 'each', 'rushes');
    expect(code).toBe(0);
    const rows = JSON.parse(out) as { file: string; out: string }[];
    expect(rows.map((row) => row.out)).toEqual([
      'each/day1/take.wav',
      'each/day2/only.flac.wav',
      'each/day2/only.wav.wav',
      'each/day2/take.wav',
    ]);
  });
});
