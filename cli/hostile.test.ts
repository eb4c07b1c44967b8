import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, renameSync, symlinkSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { describe, expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { nameOf, osPath, typedPath } from './names';
import { shown } from './say';
import { fromStandardInput } from './standardInput';
import { clip, cutText, gap } from './testing/cuts';
import { workplace } from './testing/workplace';

const { folder, write, dengung, shell } = await workplace('hostile');
const at = (path: string): string => join(folder, path);
const put = (path: string, text: string): string => {
  writeFileSync(at(path), text);
  return path;
};
const tone = write('tone.wav', tones([{ dbfs: -30, seconds: 2 }], 48_000));
const level = ['level', '--target', 'ebu-r128'];
interface Report {
  readonly missing: readonly string[];
  readonly ambiguous: readonly { readonly name: string; readonly files: readonly string[] }[];
  readonly warnings: readonly string[];
  readonly clippedSamples: number;
  readonly clips: readonly {
    readonly media: string;
    readonly warnings: readonly string[];
    readonly gainDb: number;
  }[];
  readonly programme: { readonly integratedLufs: number; readonly truePeakDbtp: number };
}
const render = (cut: string, ...args: string[]) => {
  const ran = dengung('render', '--out', 'out.wav', '--json', ...args, cut);
  return { ...ran, report: JSON.parse(ran.out) as Report };
};

describe('what never ends is refused at once', () => {
  execFileSync('mkfifo', [at('pipe.wav')]);
  it.each([
    ['a pipe', ['measure', 'pipe.wav']],
    ['a device', ['measure', '/dev/zero']],
    ['a cut', ['render', '--media', '.', '--out', 'x.wav', 'pipe.wav']],
    ['subtitles', ['measure', '--dialogue', 'pipe.wav', tone]],
    ['a plan', [...level, '--plan', '/dev/zero', tone]],
  ])('%s', (_name, args) => {
    const { code, err } = dengung(...args);
    expect(code).toBe(1);
    expect(err).toMatch(/not an ordinary file/);
  });

  it('a pipe or a loop of links among the files of a folder', () => {
    mkdirSync(at('loops/inner'), { recursive: true });
    symlinkSync('..', at('loops/inner/up'));
    symlinkSync('self.wav', at('loops/self.wav'));
    execFileSync('mkfifo', [at('loops/pipe.wav')]);
    copyFileSync(at(tone), at('loops/one.wav'));
    const { code, out } = dengung('measure', '--json', 'loops');
    const files = JSON.parse(out) as { file: string; error?: { code: string } }[];
    expect(files.map(({ file, error }) => [file, error?.code])).toEqual([
      ['loops/one.wav', undefined],
      ['loops/self.wav', 'linkLoop'],
    ]);
    expect(code).toBe(1);
  });

  it('cuts that are endless, too long or have too many clips', () => {
    write('media/a.wav', tones([{ dbfs: -20, seconds: 4 }], 48_000));
    const event = '001  a A C 00:00:00:00 00:00:00:01 00:00:00:00 00:00:00:01';
    const channels = Array.from({ length: 300 }, (_, i) => `A${i + 1}`).join('/');
    const many = Array.from(
      { length: 399 },
      (_, i) =>
        `${String(i).padStart(3, '0')}  a ${channels} C 00:00:00:00 00:00:00:01 00:00:${String(i % 60).padStart(2, '0')}:00 00:00:${String(i % 60).padStart(2, '0')}:01`,
    );
    const cases: [string, string, string][] = [
      ['spaces.edl', `TITLE: X\n${event}\n* FROM CLIP NAME: a${' '.repeat(120_000)}b\n`, 'damaged'],
      ['many.edl', `TITLE: X\n${many.join('\n')}\n`, 'tooLarge'],
      ['long.otio', cutText([gap(1e9 * 25), clip('a.wav', 0, 25)]), 'tooLong'],
    ];
    for (const [name, text, code] of cases) {
      const ran = dengung('render', '--media', 'media', '--out', 'x.wav', '--json', put(name, text));
      expect(JSON.parse(ran.out), name).toMatchObject({ error: { code } });
      expect(ran.code).toBe(1);
    }
    const long = put('day.otio', cutText([gap(25 * 3600 * 25), clip('a.wav', 0, 25)]));
    expect(dengung('render', '--media', 'media', '--out', 'x.wav', long).err).toMatch(/up to 24 are read/);
    expect(
      dengung('render', '--media', 'media', '--out', 'x.wav', '--range', '0-1', '--most-hours', '26', long)
        .code,
    ).toBe(0);
  });
});

describe('media of a cut', () => {
  const tree = 'reels';
  write(`${tree}/day1/take.wav`, tones([{ dbfs: -20, seconds: 4 }], 48_000));
  write(`${tree}/day2/take.wav`, tones([{ dbfs: -30, seconds: 4 }], 48_000));
  write(`${tree}/day3/long.wav`, tones([{ dbfs: -20, seconds: 8 }], 48_000));
  write(`${tree}/day4/long.wav`, tones([{ dbfs: -20, seconds: 4 }], 48_000));
  write(`${tree}/day5/same.wav`, tones([{ dbfs: -20, seconds: 4 }], 48_000));
  write(`${tree}/day6/same.wav`, tones([{ dbfs: -20, seconds: 4 }], 48_000));

  it('are told apart by their folders', () => {
    const cut = put(
      'two.otio',
      cutText([clip('media/day1/take.wav', 0, 100), clip('media/day2/take.wav', 0, 100)]),
    );
    const { report, code } = render(cut, '--media', tree);
    expect(code).toBe(0);
    expect(report.missing).toEqual([]);
    // One second of each would stand 10 LU apart.
    const halves = ['0-4', '4-8'].map((range) => {
      const [one] = JSON.parse(dengung('measure', '--json', '--range', range, 'out.wav').out) as {
        integratedLufs: number;
      }[];
      return one!.integratedLufs;
    });
    expect(halves[0]).toBeCloseTo(-20, 1);
    expect(halves[1]).toBeCloseTo(-30, 1);
  });

  it('then by their length, then by their content; what is not decided is listed and left out', () => {
    const cut = put(
      'unsure.otio',
      cutText([
        clip('long.wav', 0, 25, 0, 200),
        clip('same.wav', 0, 25, 0, 100),
        clip('take.wav', 0, 25, 0, 100),
      ]),
    );
    const { report, code } = render(cut, '--media', tree);
    expect(code).toBe(1);
    expect(report.ambiguous).toEqual([
      { name: 'take.wav', files: ['reels/day1/take.wav', 'reels/day2/take.wav'] },
    ]);
    expect(report.missing).toEqual([]);
    expect(report.clips).toHaveLength(2);
    const only = put('only.otio', cutText([clip('take.wav', 0, 25, 0, 100)]));
    expect(dengung('render', '--media', tree, '--out', 'o.wav', only).err).toMatch(
      /Several files could be take\.wav: reels\/day1/,
    );
  });

  it('links that lead out of the folder are not followed', () => {
    mkdirSync(at('linked'));
    symlinkSync('../reels/day1/take.wav', at('linked/take.wav'));
    symlinkSync('../reels', at('linked/all'));
    const cut = put('linked.otio', cutText([clip('take.wav', 0, 25)]));
    const { code, out, err } = dengung('render', '--media', 'linked', '--out', 'l.wav', cut);
    expect(code).toBe(1);
    expect(out + err).toMatch(/None of the media of this cut is in linked: take\.wav/);
  });

  it('clips outside their media are said to be so', () => {
    const cut = put('outside.otio', cutText([clip('long.wav', 900, 25, 0, 2_000)]));
    const { out, err } = dengung('render', '--media', `${tree}/day3`, '--out', 'x.wav', cut);
    expect(out + err).toMatch(
      /Every clip lies outside its media\. “long” lies outside its media “long\.wav”/,
    );
  });

  it('a gain that no clip can have is said', () => {
    const cut = put('loud.otio', cutText([clip('long.wav', 0, 100, 300), clip('long.wav', 0, 100, 60)]));
    const { out } = dengung(
      'render',
      '--media',
      `${tree}/day3`,
      '--out',
      'loud.wav',
      '--format',
      'float',
      '--json',
      cut,
    );
    const { warnings } = JSON.parse(out) as Report;
    expect(warnings.join()).toMatch(
      /has a gain of 300\.0 dB in the cut.*it sounds with 84\.0 dB, the most there is/,
    );
    expect(warnings.join()).toMatch(/has a gain of 60\.0 dB in the cut.*the rest became its trim/);
  });

  it('foreign data thousands of levels deep do no harm', () => {
    let deep = '{"a":1}';
    for (let i = 0; i < 5_000; i++) deep = `{"in":${deep}}`;
    const text = cutText([clip('long.wav', 0, 25)]).replace('"effects"', `"metadata":${deep},"effects"`);
    const { code } = render(put('deep.otio', text), '--media', `${tree}/day3`);
    expect(code).toBe(0);
  });
});

describe('names', () => {
  it('that are no UTF-8 are held, found and opened', () => {
    const name = Buffer.from([0x66, 0xff, 0xfe, 0x2e, 0x77, 0x61, 0x76]);
    expect(Buffer.from(osPath(nameOf(name)))).toEqual(name);
    expect(shown(nameOf(name))).toBe('f\\xff\\xfe.wav');
    const path = nameOf(Buffer.concat([Buffer.from(at('names') + '/'), name]));
    mkdirSync(at('names'));
    copyFileSync(at(tone), osPath(path));
    expect(typedPath(Buffer.from(osPath(path)).toString('utf8'))).toBe(path);
    const { code, out } = dengung('measure', '--json', 'names');
    expect(code).toBe(0);
    expect(JSON.parse(out)).toMatchObject([{ file: nameOf(Buffer.from('names/')) + nameOf(name) }]);
    expect(shell("$DENGUNG measure names/f$'\\xff\\xfe'.wav").code).toBe(0);
  });

  it('with backslashes, and with what would steer a terminal', () => {
    mkdirSync(at('back\\slash'));
    copyFileSync(at(tone), at('back\\slash/\x1b[2Jred\nline.wav'));
    const { code, out } = dengung('measure', 'back\\slash');
    expect(code).toBe(0);
    expect(out).toContain('back\\slash/\\x1b[2Jred\\x0aline.wav');

    expect(out).not.toMatch(/\x1b/);

    expect(dengung('measure', '--csv', 'back\\slash').out).not.toMatch(/\x1b/);
    renameSync(at('back\\slash'), at('forward'));
  });
});

describe('contract', () => {
  it('with --json every failure is JSON', () => {
    const cases: string[][] = [
      ['measure', '--json', '--dialogue', 'gone.srt', tone],
      [...level, '--json', '--plan', 'gone.json', tone],
      [...level, '--each', '--json', '--report', 'no/such/list.csv', tone],
      [...level, '--each', '--json', '--out', tone, tone],
      [...level, '--json', '--out', 'no/such/x.wav', tone],
      ['render', '--json', '--media', '.', '--out', 'no/such/x.wav', 'gone.otio'],
    ];
    for (const args of cases) {
      const { code, out } = dengung(...args);
      expect(code, args.join(' ')).toBe(1);
      expect(JSON.parse(out), args.join(' ')).toMatchObject({
        error: { code: expect.any(String) as string, hint: expect.stringMatching(/\S/) as string },
      });
    }
  });

  it('what cannot be printed is an error, who stops reading is not', () => {
    expect(shell(`$DENGUNG measure ${tone} > /dev/full`)).toMatchObject({ code: 1 });
    const many = Array.from({ length: 40 }, () => 'tone.wav hostile').map((_, i) => {
      copyFileSync(at(tone), at(`many-${i}.wav`));
      return `many-${i}.wav`;
    });
    const { code, out, err } = shell(`set -o pipefail; $DENGUNG measure ${many.join(' ')} | head -1`);
    expect(out.split('\n')).toHaveLength(2);
    expect(err).toBe('');
    expect(code).toBe(0);
  });

  it('standard input is measured like a file, and is bounded', async () => {
    const { code, out } = shell(`cat ${tone} | $DENGUNG measure --json -`);
    expect(code).toBe(0);
    const [named] = JSON.parse(dengung('measure', '--json', tone).out) as Record<string, unknown>[];
    expect(JSON.parse(out)).toEqual([{ ...named, file: '-' }]);
    const endless = Readable.from(
      (function* () {
        for (;;) yield Buffer.alloc(1000);
      })(),
    );
    await expect(fromStandardInput(10_000, endless)).rejects.toMatchObject({ code: 'tooLarge' });
  });

  it('a folder that may not be read is named', () => {
    if (process.getuid?.() !== 0) return;
    mkdirSync(at('closed/inner'), { recursive: true });
    copyFileSync(at(tone), at('closed/one.wav'));
    // For root nothing is closed, so another user looks.
    const line = `chmod 0 closed/inner; chmod 755 .; setpriv --reuid=65534 --regid=65534 --clear-groups $DENGUNG measure --json closed`;
    const { code, out } = shell(line);
    shell('chmod 755 closed/inner');
    const files = JSON.parse(out) as { file: string; error?: { code: string } }[];
    expect(files.map(({ file, error }) => [file, error?.code])).toEqual([
      ['closed/one.wav', undefined],
      ['closed/inner', 'noAccess'],
    ]);
    expect(code).toBe(1);
  });

  it('a sound that a file does not have, and no name at all, are wrong usage', () => {
    const { code, err } = dengung('measure', '--track', '2', tone);
    expect(code).toBe(2);
    expect(err).toMatch(/one sound only/);
    expect(dengung(...level, '--track', '2', tone).code).toBe(2);
    expect(dengung('measure', '')).toMatchObject({ code: 2 });
  });

  it('no more at a time than there are cores', () => {
    const { err, code } = dengung('measure', '--jobs', '64', tone);
    expect(code).toBe(0);
    if (availableParallelism() < 64) expect(err).toMatch(new RegExp(`${availableParallelism()} at a time`));
  });
});
