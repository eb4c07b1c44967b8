import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { convert } from 'xmlbuilder2';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { writeTargets } from '@/core/check/targetFile';
import { tones } from '@/core/testing/signals';
import type { CheckReport } from '@/core/deliver/checkReport';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('check');

/** A sine whose loudness is its level, both channels alike. */
const tone = (path: string, dbfs: number, seconds = 4): string =>
  write(path, tones([{ dbfs, seconds }], 48_000));
tone('good.wav', -23);
tone('loud.wav', -16);
const clicking = tones([{ dbfs: -23, seconds: 8 }], 48_000);
clicking[0]![4 * 48_000]! += 0.3;
write('clicking.wav', clicking);
writeFileSync(join(folder, 'broken.wav'), 'RIFF this is no sound');

/** A sine in the centre of six channels, whose loudness is its level. */
function sixChannels(): Float32Array[] {
  const [centre] = tones([{ dbfs: -20, seconds: 4 }], 48_000, 1);
  return Array.from({ length: 6 }, (_, c) => (c === 2 ? centre! : new Float32Array(centre!.length)));
}

/** Besides that both channels are alike, as they are here. */
const others = ({ findings }: CheckReport) => findings.filter(({ kind }) => kind !== 'mono');
const reports = (...args: string[]): CheckReport[] =>
  JSON.parse(dengung('check', '--json', ...args).out) as CheckReport[];

describe('dengung check', () => {
  it('tells a line a file and target, and ends with whether all meet', () => {
    const good = dengung('check', '--target', 'ebu-r128', 'good.wav');
    expect([good.code, good.out.trim()]).toEqual([0, 'good.wav  EBU R 128: meets: −23.0 LUFS, −23.0 dBTP']);
    const both = dengung('check', '--target', 'ebu-r128,aes-td1008-music', 'good.wav', 'loud.wav');
    expect(both.code).toBe(1);
    expect(both.out.trim().split('\n')).toEqual([
      'good.wav  EBU R 128: meets: −23.0 LUFS, −23.0 dBTP',
      'good.wav  AES TD1008, music: misses: integrated −23.0 LUFS (−7.0 LU)',
      'loud.wav  EBU R 128: misses: integrated −16.0 LUFS (+7.0 LU)',
      'loud.wav  AES TD1008, music: meets: −16.0 LUFS, −16.0 dBTP',
    ]);
  });

  it('tells all of it as data: verdicts, findings with what mends them, services', () => {
    const [one] = reports('--target', 'ebu-r128', 'loud.wav');
    const [verdict] = one!.verdicts;
    expect([verdict!.target, verdict!.meets]).toEqual(['ebu-r128', false]);
    const [integrated] = verdict!.figures;
    expect(integrated).toMatchObject({
      figure: 'integrated',
      goal: -23,
      tolerance: 0.5,
      unit: 'LUFS',
      state: 'over',
    });
    expect(integrated!.deviation).toBeCloseTo(7, 1);
    expect(one!.findings).toContainEqual(expect.objectContaining({ kind: 'mono', weight: 'look' }));
    expect(others(one!)).toHaveLength(1);
    expect(others(one!)[0]).toMatchObject({ kind: 'integrated', from: 0, to: 4, weight: 'breaks' });
    expect(others(one!)[0]!.fix!.gainDb).toBeCloseTo(-7, 1);
    const video = one!.services.find(({ id }) => id === 'video-down-14');
    expect(video).toMatchObject({ gainDb: 0, percent: 100 });
    expect(one!.services).toHaveLength(5);
    expect(
      reports('--target', 'ebu-r128', '--service', 'podcast-none', 'loud.wav')[0]!.services,
    ).toHaveLength(1);
  });

  it('names the target that a finding breaks where there are several, with what mends it for that', () => {
    const [one] = reports('--target', 'ebu-r128,aes-td1008-music', 'good.wav', 'loud.wav').slice(1);
    // −16 LUFS: right for one, 7 LU over the other.
    expect(others(one!).map(({ kind, targets }) => [kind, targets])).toEqual([['integrated', ['ebu-r128']]]);
    expect(others(one!)[0]!.sentence).toMatch(/^EBU R 128: /);
    expect(others(one!)[0]!.fix!.gainDb).toBeCloseTo(-7, 1);
    const [quiet] = reports('--target', 'aes-td1008-music,ebu-r128', 'good.wav');
    expect(others(quiet!).map(({ targets, fix }) => [targets, Math.round(fix!.gainDb!)])).toEqual([
      [['aes-td1008-music'], 7],
    ]);
  });

  it('finds what is wrong in a file at its place, and nothing in a good one', () => {
    const [clean, bad] = reports('--target', 'ebu-r128', 'good.wav', 'clicking.wav');
    expect(others(clean!)).toEqual([]);
    expect(others(bad!).map(({ kind, weight }) => [kind, weight])).toEqual([['click', 'look']]);
    expect(others(bad!)[0]!.from).toBeCloseTo(4, 2);
    const told = dengung('check', '--target', 'ebu-r128', '--findings', 'clicking.wav');
    // Worth a look is no miss.
    expect(told.code).toBe(0);
    expect(told.out).toMatch(/2 findings:[^]*\n {2}· 0:04\.0 {2}Click: A click: −\d+\.\d dBFS/);
  });

  it('a file that cannot be read fails, and stops no other', () => {
    const { code, out } = dengung('check', '--json', '--target', 'ebu-r128', 'broken.wav', 'good.wav');
    const [broken, good] = JSON.parse(out) as [{ error: { message: string } }, CheckReport];
    expect([code, good.verdicts[0]!.meets]).toEqual([1, true]);
    expect(broken.error.message).toMatch(/\w/);
    expect(dengung('check', '--target', 'ebu-r128', 'nowhere.wav').code).toBe(1);
  });

  it('writes a test case a file and target for build servers, and a table', () => {
    const args = ['--target', 'ebu-r128', '--report', 'out.xml', '--report', 'out.csv'];
    expect(dengung('check', ...args, 'good.wav', 'loud.wav', 'broken.wav').code).toBe(1);
    interface Suites {
      readonly testsuites: {
        readonly '@tests': string;
        readonly '@failures': string;
        readonly '@errors': string;
        readonly testsuite: {
          readonly '@name': string;
          readonly testcase: readonly Readonly<Record<string, unknown>>[];
        };
      };
    }
    const xml = readFileSync(join(folder, 'out.xml'), 'utf8');
    const { testsuites } = convert(xml, { format: 'object' }) as unknown as Suites;
    expect([testsuites['@tests'], testsuites['@failures'], testsuites['@errors']]).toEqual(['3', '1', '1']);
    // What the common schema asks of every case: a name, a class, and at most one outcome with a type.
    for (const one of testsuites.testsuite.testcase) {
      expect(
        Object.keys(one).filter((key) => !['@classname', '@name', '@time', 'failure', 'error'].includes(key)),
      ).toEqual([]);
      expect(one['@name']).toMatch(/\w/);
      expect(one['@classname']).toMatch(/wav$/);
    }
    expect(testsuites.testsuite.testcase.map((one) => ['failure' in one, 'error' in one])).toEqual([
      [false, false],
      [true, false],
      [false, true],
    ]);
    const table = papa.parse<Record<string, string>>(readFileSync(join(folder, 'out.csv'), 'utf8').trim(), {
      header: true,
    });
    expect(table.data.map(({ file, outcome }) => [file, outcome])).toEqual([
      ['good.wav', 'meets'],
      ['loud.wav', 'misses'],
      ['broken.wav', ''],
    ]);
    expect(Number(table.data[1]!['integratedLufs'])).toBeCloseTo(-16, 1);
  });

  it('takes targets of one’s own, with limits of all kinds', () => {
    const own = {
      ...EBU_R128,
      id: 'house',
      name: 'House',
      source: 'your own',
      sampleRates: [96_000],
      maxSeconds: 3,
    };
    writeFileSync(join(folder, 'own.json'), writeTargets([own]));
    const { code, out } = dengung('check', '--targets', 'own.json', '--target', 'house', 'good.wav');
    expect([code, out.trim()]).toEqual([
      1,
      'good.wav  House: misses: length 4.0 s (+1.0 s), sample rate 48000, not 96000',
    ]);
    writeFileSync(
      join(folder, 'bad.json'),
      JSON.stringify({ format: 'dengung-targets-1', targets: [{ ...own, toleranceLu: -1 }] }),
    );
    const bad = dengung('check', '--targets', 'bad.json', '--target', 'house', 'good.wav');
    expect([bad.code, bad.err]).toEqual([1, expect.stringMatching(/These are not targets: .*toleranceLu/)]);
  });

  it('says what is wrong with a call, and touches no file then', () => {
    const wrong = (...args: string[]) => dengung('check', ...args);
    expect([wrong('good.wav').code, wrong('good.wav').err]).toEqual([2, expect.stringMatching(/--target/)]);
    expect(wrong('--target', 'nothing', 'good.wav').code).toBe(2);
    expect(wrong('--target', 'ebu-r128', '--service', 'nobody', 'good.wav').code).toBe(2);
    expect(wrong('--target', 'ebu-r128', '--json', '--csv', 'good.wav').code).toBe(2);
    const twice = ['--report', 'one.csv', '--report', 'one.csv'];
    expect(wrong('--target', 'ebu-r128', ...twice, 'good.wav').code).toBe(2);
    const over = wrong('--target', 'ebu-r128', '--report', 'good.wav', 'good.wav');
    expect([over.code, over.err]).toEqual([1, expect.stringMatching(/being read; it would be lost/)]);
    expect(existsSync(join(folder, 'one.csv'))).toBe(false);
    const { out } = wrong('--help');
    expect(SHIPPED_TARGETS.filter(({ id }) => !out.includes(id))).toEqual([]);
  });
});

describe('one option means the same everywhere', () => {
  it('--csv and --junit print, and whatever follows them is a file to be checked', () => {
    const before = readFileSync(join(folder, 'loud.wav'));
    const table = dengung('check', '--target', 'ebu-r128', '--csv', 'loud.wav', 'good.wav');
    expect(table.out.split('\r\n').length + table.out.split('\n').length).toBeGreaterThan(3);
    expect(table.out).toMatch(/^file,target,outcome/);
    expect(dengung('check', '--target', 'ebu-r128', '--junit', 'loud.wav').out).toMatch(/^<\?xml/);
    expect(readFileSync(join(folder, 'loud.wav')).equals(before)).toBe(true);
  });

  it.each([
    ['check', '--target', 'ebu-r128', '--report', 'spare.wav', 'good.wav'],
    ['check', '--target', 'ebu-r128', '--report', 'sound.csv', 'good.wav'],
    ['report', '--target', 'ebu-r128', '--out', 'sound.pdf', 'good.wav'],
    [
      'level',
      '--target',
      'ebu-r128',
      '--each',
      '--out',
      '.',
      '--report',
      'sound.json',
      'good.wav',
      'loud.wav',
    ],
    ['level', '--target', 'ebu-r128', '--out', 'notes.txt', 'good.wav'],
  ])(
    '%s %s %s %s %s: no option that writes replaces sound by something else, or a file of another kind',
    (...args) => {
      const files = ['spare.wav', 'sound.csv', 'sound.pdf', 'sound.json', 'notes.txt'];
      const sound = readFileSync(join(folder, 'good.wav'));
      for (const file of files) writeFileSync(join(folder, file), file === 'notes.txt' ? 'notes' : sound);
      expect(dengung(...args).code).toBe(1);
      for (const file of files.slice(0, 4)) expect(readFileSync(join(folder, file)).equals(sound)).toBe(true);
      expect(readFileSync(join(folder, 'notes.txt'), 'utf8')).toBe('notes');
    },
  );
});

describe('a file that is not whole', () => {
  const whole = readFileSync(join(folder, 'good.wav'));
  const cut = whole.subarray(0, Math.round(whole.length / 2));
  writeFileSync(join(folder, 'cut.wav'), cut);
  const args = ['--target', 'ebu-r128', 'good.wav', 'cut.wav'];
  const why = /Cannot be certified: The file ends .* before it should/i;

  it('never meets a target, in any output form', () => {
    const people = dengung('check', ...args);
    expect([people.code, people.out]).toEqual([1, expect.stringMatching(why)]);
    expect(people.out).not.toMatch(/cut\.wav.*meets/);
    const [good, bad] = reports(...args);
    expect(good!.verdicts[0]).toMatchObject({ outcome: 'meets', meets: true, reason: null });
    expect(bad!.verdicts[0]).toMatchObject({ outcome: 'notWhole', meets: null });
    expect(bad!.verdicts[0]!.reason).toMatch(/ends .* before it should/);
    expect(bad!.findings[0]).toMatchObject({ kind: 'integrity', weight: 'breaks' });
    dengung('check', ...args, '--report', 'whole.xml', '--report', 'whole.csv');
    const xml = readFileSync(join(folder, 'whole.xml'), 'utf8');
    expect(xml).toMatch(/tests="2" failures="0" errors="1"/);
    expect(xml).toMatch(why);
    const { data } = papa.parse<Record<string, string>>(readFileSync(join(folder, 'whole.csv'), 'utf8'), {
      header: true,
    });
    expect(data.slice(0, 2).map(({ outcome }) => outcome)).toEqual(['meets', 'notWhole']);
    const report = dengung('report', '--target', 'ebu-r128', '--out', 'whole.html', 'cut.wav');
    expect([report.code, report.out]).toEqual([1, expect.stringMatching(/^cannot be certified/)]);
    expect(readFileSync(join(folder, 'whole.html'), 'utf8')).toMatch(/Cannot be certified/);
  });

  it('is not levelled without a word either', () => {
    const { code, out } = dengung('level', '--target', 'ebu-r128', 'cut.wav');
    expect([code, out]).toEqual([1, expect.stringMatching(/ends .* before it should/)]);
  });

  it('a file without speech cannot be judged by a dialogue target, which is an error', () => {
    const { code, out } = dengung('check', '--target', 'drama-dialogue', 'good.wav');
    expect([code, out]).toEqual([1, expect.stringMatching(/cannot be judged: No dialogue found/)]);
    dengung('check', '--target', 'drama-dialogue', '--report', 'spoken.xml', 'good.wav');
    expect(readFileSync(join(folder, 'spoken.xml'), 'utf8')).toMatch(/errors="1"/);
  });

  it('one that does not say what its channels are is certified once that is declared', () => {
    const plain = Buffer.from(readFileSync(join(folder, write('five.wav', sixChannels()))));
    // The mask of its loudspeakers, which is all that tells 5.1 from six channels.
    plain.writeUInt32LE(0, plain.indexOf('fmt ') + 8 + 20);
    writeFileSync(join(folder, 'six.wav'), plain);
    const target = ['--target', 'ebu-r128'];
    const said = dengung('check', ...target, 'six.wav');
    expect([said.code, said.out]).toEqual([
      1,
      expect.stringMatching(/cannot be certified: The file does not say what its 6 channels are/),
    ]);
    expect(dengung('check', ...target, '--layout', '5.1', 'six.wav').out).toMatch(/meets: −23/);
    expect(dengung('check', ...target, '--layout', 'quad-ish', 'six.wav').code).toBe(2);
  });
});
