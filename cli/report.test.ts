import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { extractText, getDocumentProxy } from 'unpdf';
import { describe, expect, it } from 'vitest';
import type { ProgrammeReport } from '@/core/deliver/report/report';
import { tones } from '@/core/testing/signals';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('report');
write('loud.wav', tones([{ dbfs: -16, seconds: 4 }], 48_000));
writeFileSync(join(folder, 'broken.wav'), 'RIFF this is no sound');
const made = (name: string): Buffer => readFileSync(join(folder, name));

describe('dengung report', () => {
  it('writes one report as data, page, paper and table, and all say the same', async () => {
    const forms = ['json', 'html', 'pdf', 'csv'].map((ending) =>
      dengung('report', '--target', 'ebu-r128,podcast-stereo', '--out', `loud.${ending}`, 'loud.wav'),
    );
    for (const { code, out } of forms) {
      expect(code).toBe(1);
      expect(out).toContain('misses  EBU R 128: integrated −16.0 LUFS (+7.0 LU)');
    }
    const report = JSON.parse(made('loud.json').toString()) as ProgrammeReport;
    const sha256 = createHash('sha256').update(made('loud.wav')).digest('hex');
    expect(report.file).toMatchObject({ sha256, bytes: made('loud.wav').length });
    expect(report.targets.map(({ meets }) => meets)).toEqual([false, true]);
    expect(report.findings![0]!.fix).toMatch(/−7\.0\d dB/);
    const pdf = await getDocumentProxy(new Uint8Array(made('loud.pdf')));
    const paper = (await extractText(pdf, { mergePages: true })).text.replace(/\s+/g, '');
    const page = made('loud.html').toString();
    for (const words of [sha256, '−16.0 LUFS', '7.0 LU over', report.findings![0]!.fix!]) {
      expect(page).toContain(words);
      expect(paper).toContain(words.replace(/\s+/g, ''));
    }
    expect(made('loud.csv').toString()).toContain(String(report.figures.integratedLufs));
  });

  it('says what is wrong, and writes nothing then', () => {
    const wrong = dengung('report', '--target', 'ebu-r128', '--out', 'x.pdf', 'broken.wav');
    expect([wrong.code, existsSync(join(folder, 'x.pdf'))]).toEqual([1, false]);
    expect(dengung('report', '--target', 'ebu-r128', '--out', 'x.doc', 'loud.wav')).toMatchObject({
      code: 2,
    });
    expect(dengung('report', '--target', 'nobody', '--out', 'x.pdf', 'loud.wav')).toMatchObject({ code: 2 });
    const itself = dengung(
      'report',
      '--target',
      'ebu-r128',
      '--out',
      'loud.json',
      '--no-clobber',
      'loud.wav',
    );
    expect(itself.code).toBe(1);
    expect(itself.err).toContain('loud.json');
  });
});
