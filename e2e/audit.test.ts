import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { MovOutputFormat } from 'mediabunny';
import papa from 'papaparse';
import { extractText, getDocumentProxy } from 'unpdf';
import { describe, expect, it } from 'vitest';
import { packetsOf, testFilm } from '@/codecs/testing/film';
import { noise, tones } from '@/core/testing/signals';
import { figuresOfBytes } from './support/files';
import { setStage } from './support/setup';

const stage = setStage();

const advice = async (kind: string): Promise<string> => stage.page.text(`[data-mend=${kind}]`);

/** Swelling noise with nothing wrong in it, both channels alike for the most part. */
function clean(seconds: number, level: number, seed: number): Float32Array[] {
  const common = noise(48_000 * seconds, level, seed);
  return [1, 2].map((c) => {
    const own = noise(common.length, level / 4, seed + 100 * c);
    return common.map((x, i) => (x + own[i]!) * (0.85 + 0.15 * Math.sin(i / 40_000)));
  });
}

describe('auditing a finished file', () => {
  it('reads the verdict, mends it with one gain, and the saved file proves it', async () => {
    const { page, files } = stage;
    await page.open('/audit');
    await page.upload(files.wav('feature final.wav', tones([{ dbfs: -29.3, seconds: 6 }], 48_000, 2)));
    expect(await advice('gain')).toMatch(
      /\+6\.\d\d dB brings it to −23\.0 LUFS with a true peak of −\d+\.\d dBTP\./,
    );
    expect((await page.dial('integrated')).state).toBe('under');
    await page.press('Correct it');
    await page.find('section[aria-label="The corrected file"] [data-verdict=meets]');
    const name = (await page.text('section[aria-label="The corrected file"] h2')).trim();
    expect(name).toMatch(/^feature final \+6\.\d\d dB\.wav$/);
    await page.press('Save file');
    const figures = await figuresOfBytes(await page.saved(name));
    expect(figures.integratedLufs).toBeCloseTo(-23, 3);
  });

  it('judges against another target at once, and against several', async () => {
    const { page } = stage;
    await page.press('EBU R 128');
    await page.press('Web video');
    await page.until('the other verdict', async () => (await page.dial('integrated')).words.includes('15.'));
    await page.press('Add a target…');
    await page.press('EBU R 128 s1, short form');
    await page.press('Targets');
    await page.until('two rows', async () => (await page.all('tr[data-target]')).length === 2);
    await page.press('Take EBU R 128 s1, short form out');
    await page.until('one row', async () => (await page.all('tr[data-target]')).length === 1);
    await page.press('Findings');
  });

  it('says when gain alone cannot, and why; a limiter can', async () => {
    const { page, files } = stage;
    const x = noise(48_000 * 5, 0.1);
    for (let i = 100_000; i < 100_100; i++) x[i]! = 0.99;
    await page.upload(files.wav('one knock.wav', [x]));
    expect(await advice('cannot')).toMatch(
      /Gain alone cannot fix it\. .* the (exact )?true peak reaches −1\.0 dBTP; integrated would still be \d+\.\d LU under\./,
    );
    await page.press('Mend with a limiter');
    const section = 'section[aria-label="The corrected file"]';
    await page.find(`${section} [data-verdict=meets]`);
    const name = (await page.text(`${section} h2`)).trim();
    expect(name).toMatch(/ dB limited\.wav$/);
    await page.press('Save file');
    const figures = await figuresOfBytes(await page.saved(name));
    expect(figures.integratedLufs).toBeCloseTo(-14, 1);
    expect(figures.truePeakDbtp).toBeLessThanOrEqual(-0.95);
  });

  it('has nothing to say of silence, and no verdict on a file that cannot be read', async () => {
    const { page, files } = stage;
    await page.upload(files.wav('silence.wav', [new Float32Array(96_000)]));
    expect(await advice('nothing')).toMatch(/nothing over −70 LUFS/);
    await page.upload(files.write('song.wav', Buffer.from('ID3 pretending to be a WAV file')));
    await page.until('the reason', async () =>
      (await page.text('main')).includes('song.wav: No MP3 sound could be decoded from this file.'),
    );
    // The verdict on the file before is not taken for one on this.
    expect(await page.all('[data-mend]')).toEqual([]);
  });

  it('leaves alone what meets the target', async () => {
    const { page, files } = stage;
    await page.press('Web video');
    await page.press('EBU R 128');
    const path = files.wav('right.wav', tones([{ dbfs: -23, seconds: 5 }], 48_000, 2));
    await page.upload(path);
    expect(await advice('leave')).toMatch(/no gain is needed/);
    expect((await figuresOfBytes(readFileSync(path))).integratedLufs).toBeCloseTo(-23, 1);
    expect(await page.errors()).toEqual([]);
  });

  it('finds faults where they are, and goes on in a project', async () => {
    const { page, files } = stage;
    const x = clean(20, 0.12, 3);
    // A drop-out at 5 s, a click at 9 s, a clipped passage at 14 s.
    x[0]!.fill(0, 240_000, 242_400);
    x[1]![432_000]! += 0.8;
    for (const channel of x) channel.fill(1, 672_000, 672_020);
    await page.open('/audit');
    const faulty = files.wav('with faults.wav', x);
    await page.upload(faulty);
    await page.find('[data-finding=dropout]');
    const from = async (kind: string): Promise<number> =>
      Number(await page.attribute(`[data-finding=${kind}]`, 'data-from'));
    expect(Math.abs((await from('dropout')) - 5)).toBeLessThanOrEqual(0.1);
    expect(Math.abs((await from('click')) - 9)).toBeLessThanOrEqual(0.1);
    expect(Math.abs((await from('clipped')) - 14)).toBeLessThanOrEqual(0.1);
    expect(await page.text('[data-finding=dropout]')).toMatch(/0:05/);
    // The paper says what the screen says, of this very file.
    await page.press('Report on this file…');
    await page.choose('In full, with findings (PDF, A4)');
    const paper = await getDocumentProxy(new Uint8Array(await page.saved('with faults.wav full report.pdf')));
    const words = (await extractText(paper, { mergePages: true })).text.replace(/\s+/g, '');
    const sha256 = createHash('sha256').update(readFileSync(faulty)).digest('hex');
    const shown = (await page.dial('integrated')).value.toFixed(1).replace('-', '−');
    for (const said of [sha256, shown, 'Drop-out', 'withfaults.wav']) expect(words).toContain(said);
    await page.press('Correct it');
    const name = (await page.text('section[aria-label="The corrected file"] h2')).trim();
    await page.press('Save file');
    const figures = await figuresOfBytes(await page.saved(name));
    expect(figures.integratedLufs).toBeCloseTo(-23, 2);
    expect(figures.truePeakDbtp).toBeLessThanOrEqual(-1);
    // What gain cannot mend goes on where it can.
    await page.press('Open in a project');
    await page.until(
      'its faults to be found again',
      async () => (await page.all('[data-finding=dropout]')).length > 0,
    );
    expect((await page.knownDial('truePeak')).state).toBe('over');
  });

  it('beside another version of it: where that lies, where it differs, and by ear', async () => {
    const { page, files } = stage;
    const before = clean(20, 0.12, 3);
    // The same a second and a quarter later, and 6 dB up from 8 s to 13 s.
    const after = before.map((channel) => {
      const later = new Float32Array(channel.length + 60_000);
      later.set(
        channel.map((x, i) => (i >= 384_000 && i < 624_000 ? 2 * x : x)),
        60_000,
      );
      return later;
    });
    await page.press('Compare');
    const input = await page.find('input[type=file][aria-label="Compare with a file"]');
    await input.sendKeys(files.wav('second mix.wav', after));
    expect(Number(await page.attribute('[data-alignment]', 'data-alignment'))).toBeGreaterThan(0);
    const offset = await page.field('The other begins later by (s)');
    expect(await offset.getAttribute('value')).toBe('1.25');
    const places = await page.all('[data-lu]:not([data-lu=silent])');
    const lus = await Promise.all(places.map(async (one) => Number(await one.getAttribute('data-lu'))));
    expect(Math.max(...lus)).toBeCloseTo(6, 0);
    const loudest = places[lus.indexOf(Math.max(...lus))]!;
    expect(Math.abs(Number(await loudest.getAttribute('data-different')) - 8)).toBeLessThan(2);
    await page.press('Play');
    await page.press('Hear the other');
    await page.press('Loudness matched');
    await page.press('Hear now');
    await page.press('Stop');
    expect(await page.errors()).toEqual([]);
  });

  it('takes twenty at once: those that miss are mended together and saved as one zip, with a report', async () => {
    const { page, files } = stage;
    await page.open('/audit');
    // As in a browser that cannot ask where to save.
    await page.driver.executeScript('delete window.showSaveFilePicker;');
    const paths = Array.from({ length: 20 }, (_, i) =>
      files.wav(`part ${i + 1}.wav`, tones([{ dbfs: i % 4 === 0 ? -50 + i : -23, seconds: 2 }], 48_000, 2)),
    );
    await page.upload(...paths, files.write('notes.wav', 'nothing of the kind'));
    await page.until('all verdicts', async () =>
      (await page.text('[aria-label="Files shown"]'))
        .replace(/\s+/g, ' ')
        .includes('Miss 5 Meet 15 Failed 1'),
    );
    await page.press('Mend all that miss…');
    await page.press('Save as one zip');
    const zip = unzipSync(await page.saved('mended files.zip'));
    await page.find('[data-run=done]');
    const names = Object.keys(zip);
    expect(names.filter((name) => name.endsWith('.wav'))).toHaveLength(5);
    for (const name of names.filter((one) => one.endsWith('.wav')))
      expect((await figuresOfBytes(zip[name]!)).integratedLufs).toBeCloseTo(-23, 2);
    const report = papa.parse<Record<string, string>>(new TextDecoder().decode(zip['report.csv']), {
      header: true,
      skipEmptyLines: true,
    }).data;
    expect(report).toHaveLength(5);
    expect(report.every(({ meets, savedAs }) => meets === 'true' && names.includes(savedAs!))).toBe(true);
    expect(await page.errors()).toEqual([]);
  });
});

describe('auditing a finished film', () => {
  it('mends its sound and leaves its picture as it is, packet by packet', async () => {
    const { page, files } = stage;
    const before = await testFilm(new MovOutputFormat({ fastStart: 'in-memory' }), 2, 0.02);
    await page.open('/audit');
    await page.upload(files.write('reel 4.mov', before));
    // It has two sounds: the first is what is looked at.
    await page.find('[data-mend=gain]');
    await page.press('Correct it');
    const section = 'section[aria-label="The corrected file"]';
    await page.find(`${section} [data-verdict=meets]`);
    expect(await page.text(section)).toMatch(
      /The picture is copied as it is, 75 packets of it; the sound is PCM 24-bit now, 1 more is copied\./,
    );
    const name = (await page.text(`${section} h2`)).trim();
    expect(name).toMatch(/^reel 4 [+−]\d+\.\d\d dB\.mov$/);
    await page.press('Save file');
    const after = new Uint8Array(await page.saved(name));
    expect(await packetsOf(after)).toEqual(await packetsOf(before));
    expect((await figuresOfBytes(after)).integratedLufs).toBeCloseTo(-23, 1);
  });
});
