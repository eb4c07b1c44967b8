import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { MONO } from '@/core/audio/layout';
import { NO_METADATA } from '@/core/audio/metadata';
import { encodePcm } from '@/core/audio/pcm';
import { openPcm } from '@/core/formats/openPcm';
import { wavFrame } from '@/core/formats/wav/write';
import { noise, tones } from '@/core/testing/signals';
import { clip, cutText } from './testing/cuts';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('written');
const at = (path: string): string => join(folder, path);
const put = (path: string, text: string): string => {
  writeFileSync(at(path), text);
  return path;
};
const tone = write('tone.wav', tones([{ dbfs: -30, seconds: 2 }], 48_000));
const level = ['level', '--target', 'ebu-r128'];
interface Report {
  readonly warnings: readonly string[];
  readonly clippedSamples: number;
  readonly clips: readonly { readonly warnings: readonly string[] }[];
  readonly programme: { readonly truePeakDbtp: number };
}
const render = (cut: string, ...args: string[]) => {
  const ran = dengung('render', '--out', 'out.wav', '--json', ...args, cut);
  return { ...ran, report: JSON.parse(ran.out) as Report };
};

describe('nothing is cut off or damaged in silence', () => {
  write('hot/a.wav', tones([{ dbfs: -1, seconds: 4 }], 48_000));

  it('a mix over full scale is not left as if it were right; float has room for it', () => {
    const cut = put('hot.otio', cutText([clip('a.wav', 0, 100, 6)]));
    const { code, out } = dengung('render', '--media', 'hot', '--out', 'hot.wav', '--json', cut);
    expect(code).toBe(1);
    const { error } = JSON.parse(out) as { error: { code: string; message: string; hint: string } };
    expect(error.code).toBe('clipped');
    expect(error.message).toMatch(
      /^[\d,]+ samples went past full scale and were cut off there\. .*predicted/,
    );
    expect(error.hint).toMatch(/--format float/);
    const float = dengung('render', '--media', 'hot', '--out', 'hot.wav', '--format', 'float', '--json', cut);
    expect(float.code).toBe(0);
    expect((JSON.parse(float.out) as Report).programme.truePeakDbtp).toBeCloseTo(5, 1);
  });

  it('a few samples are counted', () => {
    const [x] = tones([{ dbfs: -20, seconds: 4 }], 48_000, 1);
    x![100_000] = 1.005;
    write('spike/a.wav', [x!], 'f32');
    const { code, report } = render(
      put('spike.otio', cutText([clip('a.wav', 0, 100, 3.02)])),
      '--media',
      'spike',
    );
    expect(code).toBe(0);
    // In the middle of a stereo programme it lies 3.01 dB lower on each side.
    expect(report.clippedSamples).toBe(2);
    expect(report.warnings.join()).toMatch(/2 samples went past full scale/);
  });

  it('a goal past full scale needs float', () => {
    const args = [
      ...level,
      '--each',
      '--by',
      'truePeak',
      '--goal',
      '3',
      '--ceiling',
      '3',
      '--out',
      'past',
      '--json',
      tone,
    ];
    const { code, out } = dengung(...args);
    expect(code).toBe(1);
    expect(JSON.parse(out)).toMatchObject([{ error: { code: 'clipped' }, measured: null, out: null }]);
    expect(readdirSync(at('past'))).toEqual([]);
    const float = dengung(...args, '--format', 'float');
    expect(float.code).toBe(0);
    const [row] = JSON.parse(float.out) as { measured: { truePeakDbtp: number } }[];
    expect(row!.measured.truePeakDbtp).toBeCloseTo(3, 2);
  });

  it('media that are cut short are said to be so wherever a figure rests on them', () => {
    write('torn/a.wav', tones([{ dbfs: -20, seconds: 8 }], 48_000));
    const whole = readFileSync(at('torn/a.wav'));
    writeFileSync(at('torn/a.wav'), whole.subarray(0, whole.length - 500_000));
    const ends = /The file ends 1\.74 s before it should/;
    const { report } = render(put('torn.otio', cutText([clip('a.wav', 0, 50)])), '--media', 'torn');
    expect(report.warnings.join()).toMatch(ends);
    expect(report.clips[0]!.warnings.join()).toMatch(ends);
    const { out } = dengung(...level, '--each', '--report', 'torn.csv', '--json', 'torn/a.wav');
    expect((JSON.parse(out) as { warnings: string[] }[])[0]!.warnings.join()).toMatch(ends);
    expect(readFileSync(at('torn.csv'), 'utf8')).toMatch(ends);
    expect(dengung(...level, 'torn/a.wav').out).toMatch(ends);
  });

  it('a short file is short, not quiet', () => {
    const short = write('short.wav', tones([{ dbfs: -20, seconds: 0.1 }], 48_000));
    expect(dengung(...level, short).err).toMatch(/shorter than the 0\.4 s/);
    expect(dengung(...level, '--by', 'truePeak', short).code).toBe(0);
  });
});

describe('what a file says of itself', () => {
  it('is said again, with the loudness that it has now', async () => {
    const samples = tones([{ dbfs: -30, seconds: 5 }], 48_000, 1);
    const frames = samples[0]!.length;
    const metadata = {
      ...NO_METADATA,
      ...{ description: 'Reel 2', timeReference: 172_800, ixml: '<BWFXML/>' },
      markers: [{ frame: 480, label: 'cold' }],
      loudness: {
        ...{ integratedLufs: -30, loudnessRangeLu: null, maxTruePeakDbtp: null },
        ...{ maxMomentaryLufs: null, maxShortTermLufs: null },
      },
    };
    const { header } = wavFrame({ sampleRate: 48_000, layout: MONO, format: 's24', frames, metadata });
    writeFileSync(at('said.wav'), Buffer.concat([header, encodePcm(samples, frames, 's24').bytes]));
    const { code } = dengung('level', '--target', 'ebu-r128', '--out', 'again.wav', 'said.wav');
    expect(code).toBe(0);
    const { format } = await openPcm(bytesSource(readFileSync(at('again.wav'))));
    expect(format.metadata).toMatchObject({ ...metadata, loudness: { integratedLufs: -23 } });
  });
});

describe('layouts', () => {
  it.each([
    ['L/R/LFE', ['L', 'R', 'LFE'], [1, 1, 0]],
    ['LCRS', ['L', 'R', 'C', 'Cs'], [1, 1, 1, 1]],
    ['4.1', ['L', 'R', 'LFE', 'Ls', 'Rs'], [1, 1, 0, 1.41, 1.41]],
    ['5.1.2', ['L', 'R', 'C', 'LFE', 'Ls', 'Rs', 'Ltf', 'Rtf'], [1, 1, 1, 0, 1.41, 1.41, 1, 1]],
    ['mask 0x9', ['L', 'LFE'], [1, 0]],
    ['mask 0x30', ['Ls', 'Rs'], [1.41, 1.41]],
  ] as const)('%s is still that when it has been levelled', (name, labels, weights) => {
    const layout = { id: 'mask', name, labels, weights };
    const file = `layout ${labels.join('')}.wav`;
    write(
      file,
      labels.map((_, c) => noise(48_000 * 3, 0.05, c + 1)),
      's24',
      layout,
    );
    const { code, out } = dengung(...level, '--json', '--out', 'laid.wav', file);
    expect(code).toBe(0);
    expect((JSON.parse(out) as { after: { integratedLufs: number } }).after.integratedLufs).toBeCloseTo(
      -23,
      2,
    );
    // What the file says of itself, without a word from outside.
    const [again] = JSON.parse(dengung('measure', '--json', 'laid.wav').out) as {
      integratedLufs: number;
      channelPeaks: { label: string }[];
    }[];
    expect(again!.channelPeaks.map(({ label }) => label)).toEqual([...labels]);
    expect(again!.integratedLufs).toBeCloseTo(-23, 2);
  });

  it('mono for two loudspeakers is measured as declared, and it is said that the file cannot say so', () => {
    const mono = write('mono.wav', tones([{ dbfs: -30, seconds: 3 }], 48_000, 1));
    const { code, out } = dengung(
      'level',
      '--target',
      'podcast-stereo',
      '--layout',
      'dual-mono',
      '--json',
      '--out',
      'two.wav',
      mono,
    );
    expect(code).toBe(0);
    const { after, notes } = JSON.parse(out) as { after: { integratedLufs: number }; notes: string[] };
    expect(after.integratedLufs).toBeCloseTo(-16, 2);
    expect(notes.join()).toMatch(/no words for mono for two loudspeakers/);
  });
});

describe('the ceiling', () => {
  it('is kept by the exact true peak too, where the standard reads too little', () => {
    // Full-scale samples at random, the hardest there is for a short filter.
    const x = noise(48_000 * 2, 1, 5).map((v) => (v > 0 ? 1 : -1));
    const hard = write('hard.wav', [x, x.slice()], 's24');
    for (const args of [
      ['--by', 'truePeak'],
      ['--each', '--by', 'truePeak'],
    ]) {
      const { code, out } = dengung(
        ...level,
        ...args,
        '--json',
        '--out',
        args.includes('--each') ? 'soft' : 'soft.wav',
        hard,
      );
      expect(code).toBe(0);
      expect(out).toMatch(/exactTruePeak/);
    }
    const levelled = dengung(...level, '--by', 'truePeak', '--out', 'kept.wav', hard);
    expect(levelled.out).toMatch(/Exactly {5}−1\.00 dBTP/);
    const [again] = JSON.parse(dengung('measure', '--exact-peak', '--json', 'kept.wav').out) as {
      exactTruePeak: { truePeakDbtp: number };
      truePeakDbtp: number;
    }[];
    expect(again!.exactTruePeak.truePeakDbtp).toBeLessThanOrEqual(-1 + 1e-3);
    expect(again!.truePeakDbtp).toBeLessThan(-1.1);
  });
});
