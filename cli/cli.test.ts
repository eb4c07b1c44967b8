import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { writePlan } from '@/core/proposals/planFile';
import { SPEECH_FIRST } from '@/core/programme/plan';
import { noise, tones } from '@/core/testing/signals';
import { clip, cutText } from './testing/cuts';
import { workplace } from './testing/workplace';

const { root, folder, write, dengung } = await workplace('cli');

const json = (...args: string[]): Record<string, unknown>[] =>
  JSON.parse(dengung('measure', '--json', ...args).out) as Record<string, unknown>[];

const tone = write('tone.wav', tones([{ dbfs: -30, seconds: 5 }], 48_000));
const peaky = write(
  'peaky.wav',
  (() => {
    const [x] = tones([{ dbfs: -40, seconds: 5 }], 48_000, 1);
    x![120_000] = 0.5;
    return [x!];
  })(),
  'f32',
);
const silence = write('silence.wav', [new Float32Array(48_000)]);
writeFileSync(join(folder, 'letter.wav'), 'Dear diary, it is cold up here.');

it('starts from any folder as `dengung`, with paths of that folder', () => {
  const { status, stdout } = spawnSync(process.execPath, [join(root, 'bin/dengung.mjs'), 'measure', tone], {
    cwd: folder,
    encoding: 'utf8',
  });
  expect([status, stdout.split('\n')[0]]).toEqual([0, expect.stringContaining('tone.wav')]);
});

describe('measure', () => {
  it('prints one array, an object per file in order, null where there is no value', () => {
    const { code, out } = dengung('measure', '--json', tone, silence);
    expect(code).toBe(0);
    const [first, second] = JSON.parse(out) as Record<string, unknown>[];
    expect(Object.keys(first!)).toEqual(
      expect.arrayContaining([
        'file',
        'sampleRate',
        'channels',
        'layout',
        'durationSeconds',
        'integratedLufs',
        'relativeGateLufs',
        'maxMomentaryLufs',
        'maxShortTermLufs',
        'loudnessRangeLu',
        'truePeakDbtp',
        'samplePeakDbfs',
        'channelPeaks',
      ]),
    );
    expect(first).toMatchObject({
      file: 'tone.wav',
      sampleRate: 48_000,
      channels: 2,
      layout: 'stereo',
      durationSeconds: 5,
    });
    expect(first!['integratedLufs']).toBeCloseTo(-30, 1);
    expect(first!['channelPeaks']).toMatchObject([{ label: 'L' }, { label: 'R' }]);
    expect(second).toMatchObject({ file: 'silence.wav', integratedLufs: null, truePeakDbtp: null });
  });

  it('a file that fails has its error, stops nothing else, and makes exit 1', () => {
    mkdirSync(join(folder, 'bare'), { recursive: true });
    const { code, out } = dengung('measure', '--json', 'letter.wav', 'gone.wav', 'bare', tone);
    expect(code).toBe(1);
    const list = JSON.parse(out) as { error?: { code: string; message: string } }[];
    expect(list.map((entry) => entry.error?.code)).toEqual([
      'notAudio',
      'notFound',
      'noSoundInFolder',
      undefined,
    ]);
  });

  it('tells where things are, what is wrong, and what the file says of itself', () => {
    const x = noise(6 * 48_000, 0.1, 4).map((v, i) =>
      i >= 96_000 && i < 96_012 ? 1 : (i < 240_000 ? v : v / 1_000) + 0.01,
    );
    x.fill(0, 150_000, 150_480);
    const [report] = json(write('faults.wav', [x, x.map((v) => -v)], 'f32'));
    expect(report).toMatchObject({
      format: 'WAV',
      codec: 'float 32-bit',
      bitDepth: 32,
      frames: 6 * 48_000,
      partial: false,
      metadata: null,
      clippedRunCount: 2,
      exactTruePeak: null,
      dialogue: null,
    });
    expect(report!['clippedRuns']).toContainEqual({
      startSeconds: 2,
      lengthSeconds: 12 / 48_000,
      channel: 'L',
    });
    expect(report!['dropOuts']).toHaveLength(2);
    expect(report!['correlation']).toBeCloseTo(-1, 6);
    expect((report!['dcOffset'] as number[])[0]).toBeCloseTo(0.01, 2);
    expect(report!['noiseFloorLufs']).toBeLessThan(report!['integratedLufs'] as number);
    const { truePeak } = report!['positions'] as { truePeak: number };
    expect(truePeak).toBeCloseTo(2, 2);
  });

  it('--series adds loudness and peaks every 100 ms', () => {
    const [plain] = json(tone);
    expect(plain).not.toHaveProperty('series');
    const [report] = json('--series', tone);
    const series = report!['series'] as {
      stepSeconds: number;
      momentaryLufs: number[];
      shortTermLufs: number[];
      channels: { label: string; truePeakDbtp: number[]; samplePeakDbfs: number[] }[];
    };
    expect(series.stepSeconds).toBe(0.1);
    expect(series.momentaryLufs).toHaveLength(47);
    expect(series.shortTermLufs).toHaveLength(21);
    expect(series.channels.map(({ label }) => label)).toEqual(['L', 'R']);
    expect(series.channels[0]!.truePeakDbtp).toHaveLength(50);
    // The maximum is looked for every 20 ms, so no value of the series passes it.
    const most = Math.max(...series.momentaryLufs);
    expect(most).toBeLessThanOrEqual(report!['maxMomentaryLufs'] as number);
    expect(most).toBeCloseTo(-30, 1);
  });

  it('--range measures a part as if it were all there is', () => {
    const halves = write(
      'halves.wav',
      tones(
        [
          { dbfs: -40, seconds: 4 },
          { dbfs: -20, seconds: 4 },
        ],
        48_000,
      ),
    );
    const second = write('second.wav', tones([{ dbfs: -20, seconds: 4 }], 48_000));
    const [part] = json('--range', '0:04-', halves);
    const [alone] = json(second);
    expect(part!['durationSeconds']).toBe(4);
    expect(part!['integratedLufs']).toBeCloseTo(alone!['integratedLufs'] as number, 6);
    expect(json('--range', '9-12', halves)[0]).toMatchObject({ error: { code: 'rangeOutside' } });
  });

  it('--layout weighs the channels as declared', () => {
    const mono = write('mono.wav', tones([{ dbfs: -20, seconds: 3 }], 48_000, 1));
    const plain = json(mono)[0]!['integratedLufs'] as number;
    const two = json('--layout', 'dual-mono', mono)[0]!['integratedLufs'] as number;
    expect(two - plain).toBeCloseTo(10 * Math.log10(2), 6);
    expect(json('--layout', '5.1', mono)[0]).toMatchObject({ error: { code: 'layoutDoesNotFit' } });
  });

  it('--as-one takes mono files as the channels of one sound', () => {
    const left = noise(3 * 48_000, 0.2, 1);
    const right = noise(3 * 48_000, 0.1, 2);
    const together = write('together.wav', [left, right]);
    const parts = [write('part.L.wav', [left]), write('part.R.wav', [right])];
    const [one] = json('--as-one', 'stereo', ...parts);
    const [whole] = json(together);
    for (const key of ['integratedLufs', 'truePeakDbtp', 'channelPeaks', 'layout'])
      expect(one![key]).toEqual(whole![key]);
    expect(json('--as-one', '5.1', ...parts)[0]).toMatchObject({ error: { code: 'layoutDoesNotFit' } });
  });

  it('--exact-peak and --dialogue add their figures', () => {
    const parts = [
      { dbfs: -40, seconds: 3 },
      { dbfs: -24, seconds: 3 },
    ];
    const file = write('spoken.wav', tones(parts, 48_000));
    writeFileSync(join(folder, 'spoken.srt'), '1\n00:00:03,500 --> 00:00:05,500\nListen.\n');
    const [report] = json('--exact-peak', '--dialogue', 'spoken.srt', file);
    expect(report!['dialogue']).toMatchObject({
      integratedLufs: expect.closeTo(-24, 1) as number,
      seconds: 2,
      from: 'spoken.srt',
    });
    expect(report!['exactTruePeak']).toMatchObject({ truePeakDbtp: expect.closeTo(-24, 1) as number });
    const { code, err } = dengung('measure', '--dialogue', 'letter.wav', file);
    expect(code).toBe(1);
    expect(err).toMatch(/not a subtitle file/);
  });

  it('takes folders and patterns, several at a time, and keeps the order', () => {
    mkdirSync(join(folder, 'takes/deep'), { recursive: true });
    for (const [i, name] of ['takes/a.wav', 'takes/b [1].wav', 'takes/deep/c.WAV'].entries())
      write(name, tones([{ dbfs: -20 - i, seconds: 1 }], 48_000));
    writeFileSync(join(folder, 'takes/notes.txt'), 'cold');
    const names = (...args: string[]) => json(...args).map((report) => report['file']);
    const all = ['takes/a.wav', 'takes/b [1].wav', 'takes/deep/c.WAV'];
    expect(names('--jobs', '3', 'takes')).toEqual(all);
    expect(names('takes/*.wav', 'takes/a.wav')).toEqual(all.slice(0, 2));
    expect(names('takes/b [1].wav')).toEqual([all[1]]);
    expect(json('nothing/*.wav')[0]).toMatchObject({ error: { code: 'notFound' } });
  });

  it('a long file measures the same in one slice after the other and side by side', () => {
    const long = write('long.wav', [noise(48_000 * 600, 0.2, 7)], 's16');
    const [alone, together] = ['1', '2'].map((jobs) => json('--jobs', jobs, long)[0]!);
    expect(together).toEqual(alone);
    expect(together!['frames']).toBe(48_000 * 600);
  });

  it('reads compressed sound, and says so where there is no decoder', () => {
    const fixtures = ['sound.flac', 'sound.mp3', 'sound.opus', 'sound.aac'].map((name) =>
      join(root, 'codecs/fixtures', name),
    );
    const [flac, mp3, opus, aac] = json(...fixtures);
    for (const other of [mp3, opus])
      expect(
        Math.abs((other!['integratedLufs'] as number) - (flac!['integratedLufs'] as number)),
      ).toBeLessThan(0.01);
    expect(aac).toMatchObject({ error: { code: 'noDecoder' } });
    expect(json('--exact-peak', fixtures[1]!)[0]!['exactTruePeak']).toMatchObject({
      truePeakDbtp: expect.closeTo(mp3!['truePeakDbtp'] as number, 0) as number,
    });
    const part = json('--range', '1-3', fixtures[0]!, fixtures[1]!);
    expect(part[1]!['integratedLufs']).toBeCloseTo(part[0]!['integratedLufs'] as number, 1);
    const levelled = dengung(
      'level',
      '--target',
      'ebu-r128',
      '--json',
      '--out',
      'from-mp3.wav',
      fixtures[1]!,
    );
    expect(
      (JSON.parse(levelled.out) as { after: { integratedLufs: number } }).after.integratedLufs,
    ).toBeCloseTo(-23, 3);
  });

  it('--csv is one line a file that a spreadsheet reads', () => {
    write('=odd, "name".wav', tones([{ dbfs: -20, seconds: 1 }], 48_000));
    const { out, code } = dengung('measure', '--csv', '=odd, "name".wav', 'letter.wav');
    const [head, first, second] = out.split('\n');
    expect(head).toMatch(/^file,format,codec,.*integratedLufs.*,error$/);
    expect(first).toMatch(
      /^"'=odd, ""name"".wav",WAV,PCM 24-bit,24,48000,2,stereo,1,false,-(19\.99|20\.0)\d+/,
    );
    expect(second).toMatch(/^letter\.wav,,.*"?This is not an audio file/);
    expect(code).toBe(1);
  });

  it('speaks to people without --json', () => {
    const { out } = dengung('measure', tone);
    expect(out).toMatch(/tone\.wav {2}0:05\.0, stereo, 48000 Hz, PCM 24-bit\n {2}Integrated {6}−30\.0 LUFS/);
  });
});

describe('level', () => {
  it('writes the file with the gain and measures what was written', () => {
    const { code, out } = dengung('level', '--target', 'ebu-r128', '--json', '--out', 'levelled.wav', tone);
    expect(code).toBe(0);
    const report = JSON.parse(out) as {
      gainDb: number;
      limitedBy: null;
      before: { integratedLufs: number };
      after: { integratedLufs: number };
      out: string;
      target: string;
    };
    expect(report).toMatchObject({
      file: 'tone.wav',
      target: 'ebu-r128',
      limitedBy: null,
      out: 'levelled.wav',
    });
    expect(report.gainDb).toBeCloseTo(-23 - report.before.integratedLufs, 9);
    expect(report.after.integratedLufs).toBeCloseTo(-23, 3);
    expect(JSON.parse(dengung('measure', '--json', 'levelled.wav').out)).toMatchObject([
      { integratedLufs: report.after.integratedLufs },
    ]);
  });

  it('is held by the ceiling and says so; a float file stays float', () => {
    const { out } = dengung('level', '--target', 'ebu-r128', '--json', '--out', 'held.wav', peaky);
    const report = JSON.parse(out) as { limitedBy: string; after: { truePeakDbtp: number } };
    expect(report.limitedBy).toBe('ceiling');
    expect(report.after.truePeakDbtp).toBeCloseTo(-1, 3);
    expect(readFileSync(join(folder, 'held.wav')).readUInt16LE(20)).toBe(3);
  });

  it('by true peak goes to the ceiling', () => {
    const { out } = dengung('level', '--target', 'atsc-a85', '--by', 'truePeak', '--json', tone);
    expect(JSON.parse(out)).toMatchObject({
      after: null,
      out: null,
      predicted: { truePeakDbtp: expect.closeTo(-2, 6) as number },
    });
  });

  it('never writes over what it reads, nor leaves half a file', () => {
    const before = readFileSync(join(folder, tone));
    expect(dengung('level', '--target', 'ebu-r128', '--out', tone, tone).code).toBe(1);
    expect(readFileSync(join(folder, tone)).equals(before)).toBe(true);
    expect(dengung('level', '--target', 'ebu-r128', '--out', 'no/such/place.wav', tone).code).toBe(1);
    expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
  });

  it('has nothing to do with silence', () => {
    const { code, out } = dengung('level', '--target', 'ebu-r128', '--json', '--out', 'never.wav', silence);
    expect(code).toBe(1);
    expect(JSON.parse(out)).toMatchObject({ error: { code: 'nothingToMeasure' } });
    expect(existsSync(join(folder, 'never.wav'))).toBe(false);
  });
});

describe('level of many files', () => {
  const inFolder = (path: string, dbfs: number): string => {
    mkdirSync(join(folder, path, '..'), { recursive: true });
    return write(path, tones([{ dbfs, seconds: 4 }], 48_000, 2));
  };
  inFolder('batch/one.wav', -30);
  inFolder('batch/two.wav', -18);
  interface Row {
    readonly file: string;
    readonly before: number;
    readonly gainDb: number;
    readonly after: number;
    readonly sentence: string;
    readonly measured: { readonly integratedLufs: number } | null;
  }
  const level = (...args: string[]): { code: number; rows: Row[] } => {
    const { code, out } = dengung('level', '--target', 'ebu-r128', '--json', ...args);
    return { code, rows: JSON.parse(out) as Row[] };
  };

  it('each by itself, written to a folder and measured again, with a report', () => {
    const { code, rows } = level('--each', '--out', 'done', '--report', 'list.csv', 'batch');
    expect(code).toBe(0);
    expect(rows.map(({ file }) => file)).toEqual(['batch/one.wav', 'batch/two.wav']);
    for (const row of rows) {
      expect(row.after).toBeCloseTo(-23, 4);
      expect(row.measured!.integratedLufs).toBeCloseTo(-23, 3);
      expect(row.sentence).toMatch(/^−\d+\.\d LUFS, to −23\.0 LUFS: [+−]\d+\.\d dB\.$/);
    }
    const list = readFileSync(join(folder, 'list.csv'), 'utf8').split('\r\n');
    expect(list).toHaveLength(4);
    expect(list[0]).toMatch(/^file,before,gainDb,after/);
    // What is there already is replaced, and that is said; or it is kept.
    const again = level('--each', '--out', 'done', 'batch/one.wav');
    expect(again.rows[0]).toMatchObject({ replaced: true });
    const kept = level('--each', '--no-clobber', '--out', 'done', 'batch/one.wav');
    expect(kept.code).toBe(1);
    expect(kept.rows[0]).toMatchObject({ error: { code: 'exists' }, measured: null });
  });

  it('together by one gain; a dry run writes nothing', () => {
    const { rows } = level('--together', '--dry-run', '--out', 'never', 'batch');
    expect(rows[0]!.gainDb).toBeCloseTo(rows[1]!.gainDb, 9);
    // Two tones of equal length 12 dB apart, both over the relative gate: the mean of their powers stands at the goal.
    expect(rows[1]!.after).toBeCloseTo(-23 + 10 * Math.log10(2 / (1 + 10 ** -1.2)), 2);
    expect(existsSync(join(folder, 'never'))).toBe(false);
  });

  it('together by sets: of a folder, or by what names hold', () => {
    inFolder('sets/hut/loud inside.wav', -12);
    inFolder('sets/hut/soft inside.wav', -20);
    inFolder('sets/roof/outside.wav', -30);
    const gains = (...args: string[]): Map<string, number> =>
      new Map(level('--together', ...args, 'sets').rows.map(({ file, gainDb }) => [basename(file), gainDb]));
    const all = gains();
    const folders = gains('--sets', 'folder');
    const names = gains('--sets', 'loud*,soft*');
    expect(all.get('outside.wav')).toBeCloseTo(all.get('loud inside.wav')!, 9);
    expect(folders.get('soft inside.wav')).toBeCloseTo(folders.get('loud inside.wav')!, 9);
    expect(folders.get('outside.wav')).not.toBeCloseTo(folders.get('loud inside.wav')!, 3);
    expect(names.get('soft inside.wav')! - names.get('loud inside.wav')!).toBeCloseTo(8, 4);
    expect(names.get('outside.wav')).toBeCloseTo(folders.get('outside.wav')!, 9);
    // A set that no file is in would level each by itself without a word.
    const none = dengung(
      'level',
      '--target',
      'ebu-r128',
      '--together',
      '--sets',
      'indoors',
      '--dry-run',
      'sets',
    );
    expect([none.code, none.err]).toEqual([1, expect.stringMatching(/No file has “indoors” in its name/)]);
  });

  it('by another measure, goal and ceiling', () => {
    const { rows } = level('--each', '--by', 'truePeak', '--goal', '-6', '--ceiling', '-9', 'batch/one.wav');
    expect(rows[0]!.after).toBeCloseTo(-9, 6);
    expect(rows[0]!.sentence).toMatch(/wanted, .* given: the peak at .* reaches −9\.0 dBTP first/);
  });

  it('by a plan: the folder says what a file is', () => {
    inFolder('reel/Dialogue/said.wav', -31);
    inFolder('reel/music/theme.wav', -12);
    inFolder('reel/other/thing.wav', -12);
    writeFileSync(join(folder, 'radio.plan.json'), writePlan(SPEECH_FIRST));
    const { code, rows } = level('--plan', 'radio.plan.json', 'reel');
    expect(code).toBe(0);
    expect(rows.map(({ after }) => after && Math.round(after * 100) / 100)).toEqual([-23, -27, null]);
    expect(rows[2]!.sentence).toMatch(/^Skipped: its folder “other” is none of dialogue/);
    writeFileSync(join(folder, 'none.json'), '{}');
    expect(dengung('level', '--target', 'ebu-r128', '--plan', 'none.json', 'reel').err).toMatch(
      /This is not a plan/,
    );
  });
});

describe('render', () => {
  const otio = (name: string, children: object[]): string => {
    writeFileSync(join(folder, name), cutText(children));
    return name;
  };
  mkdirSync(join(folder, 'rushes'), { recursive: true });
  write('rushes/bell.wav', tones([{ dbfs: -20, seconds: 8 }], 48_000));

  interface Report {
    readonly programme: {
      readonly integratedLufs: number;
      readonly durationSeconds: number;
      readonly file: string;
    };
    readonly clips: readonly {
      readonly name: string;
      readonly startSeconds: number;
      readonly gainDb: number;
      readonly figures: { readonly integratedLufs: number };
    }[];
    readonly missing: readonly string[];
  }

  it('mixes a cut from its media and measures what was written, and every clip', () => {
    const cut = otio('reel.otio', [clip('bell.wav', 0, 100, -6), clip('bell.wav', 50, 100, -6)]);
    const args = ['render', '--media', 'rushes', '--out', 'reel.wav', '--json', cut];
    const { code, out } = dengung(...args);
    expect(code).toBe(0);
    const report = JSON.parse(out) as Report;
    expect(report.programme.durationSeconds).toBe(8);
    expect(report.programme.integratedLufs).toBeCloseTo(-26, 1);
    expect(report.clips.map(({ startSeconds, gainDb }) => [startSeconds, gainDb])).toEqual([
      [0, -6],
      [4, -6],
    ]);
    expect(report.clips[0]!.figures.integratedLufs).toBeCloseTo(-20, 1);
    const [again] = json('reel.wav');
    expect(again!['integratedLufs']).toBe(report.programme.integratedLufs);
  });

  it('renders a range, and takes a list with compressed media', () => {
    const edl =
      'TITLE: X\n001  blink A C 00:00:00:00 00:00:00:05 01:00:00:00 01:00:00:05\n002  bell A C 00:00:00:00 00:00:04:00 01:00:01:00 01:00:05:00\n';
    writeFileSync(join(folder, 'reel.edl'), edl);
    writeFileSync(join(folder, 'rushes/blink.mp3'), readFileSync(join(root, 'codecs/fixtures/blink.mp3')));
    const args = ['render', '--media', 'rushes', '--out', 'part.wav', '--range', '0-3', '--json', 'reel.edl'];
    const { code, out } = dengung(...args);
    const report = JSON.parse(out) as Report;
    expect(report.missing).toEqual([]);
    expect(code).toBe(0);
    expect(report.programme.durationSeconds).toBe(3);
    expect(report.clips.map(({ name }) => name)).toEqual(['blink', 'bell']);
  });

  it('says what is missing and ends with 1; a broken cut gets its line and writes nothing', () => {
    const cut = otio('torn.otio', [clip('bell.wav', 0, 50), clip('lost.wav', 0, 50)]);
    const { code, out } = dengung('render', '--media', 'rushes', '--out', 'torn.wav', cut);
    expect(code).toBe(1);
    expect(out).toMatch(/Missing: lost\.wav/);
    writeFileSync(join(folder, 'bad.edl'), 'TITLE: X\n001 what is this\n');
    const bad = dengung('render', '--media', 'rushes', '--out', 'bad.wav', 'bad.edl');
    expect(bad.code).toBe(1);
    expect(bad.err).toMatch(/bad\.edl\n {2}Line 2 of the list cannot be read/);
    expect(existsSync(join(folder, 'bad.wav'))).toBe(false);
    const none = dengung('render', '--media', 'nowhere', '--out', 'none.wav', cut);
    expect(none.err).toMatch(/None of the media of this cut is in nowhere: bell\.wav, lost\.wav\./);
  });
});
