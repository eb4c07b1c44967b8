import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { FIXTURE_RATE, fixtureSound } from '@/codecs/fixtures/sound';
import { noise, tones } from '@/core/testing/signals';
import { figuresOfBytes } from './support/files';
import { setStage } from './support/setup';

const stage = setStage();
const fixture = (name: string): string => join(import.meta.dirname, '../codecs/fixtures', name);

/** Unrounded figure of a source's row. */
async function rowFigure(name: string, figure = 'integratedLufs'): Promise<number> {
  const css = `[data-source="${name}"] [data-figure=${figure}]`;
  await stage.page.until(
    `${name} to be measured`,
    async () => (await stage.page.attribute(css, 'data-value')) !== '',
  );
  return Number(await stage.page.attribute(css, 'data-value'));
}

describe('every format through the real interface', () => {
  const files = [
    'sound.flac',
    'sound-24.flac',
    'sound.aiff',
    'sound.caf',
    'sound.mp3',
    'sound.opus',
    'sound.aac',
    'sound.m4a',
    'sound.mov',
    'sound.webm',
    'sound.m2t',
  ];

  it('comes in and measures as its WAV twin does, within 0.01 LU', async () => {
    const { page, files: own } = stage;
    await page.newProject();
    await page.upload(own.wav('twin.wav', fixtureSound(), FIXTURE_RATE), ...files.map(fixture));
    await page.until(
      'all of them',
      async () => (await page.all('[data-source]')).length === files.length + 1,
    );
    const twin = await rowFigure('twin.wav');
    for (const name of files) {
      expect(Math.abs((await rowFigure(name)) - twin), name).toBeLessThan(0.01);
    }
  });

  it('Vorbis measures as what it decodes to, in Ogg and in Matroska', async () => {
    const { page } = stage;
    await page.upload(fixture('sound.ogg'), fixture('sound.mkv'), fixture('sound-ogg-twin.flac'));
    const twin = await rowFigure('sound-ogg-twin.flac');
    for (const name of ['sound.ogg', 'sound.mkv'])
      expect(Math.abs((await rowFigure(name)) - twin), name).toBeLessThan(0.01);
  });

  it('AC-3 comes in', async () => {
    const { page } = stage;
    await page.upload(fixture('sound-ac3.mp4'));
    expect(await rowFigure('sound-ac3.mp4')).toBeLessThan(0);
  });

  it('of several sounds in a file one chooses', async () => {
    const { page } = stage;
    await page.upload(fixture('two-sounds.mp4'));
    await page.find('[data-import="two-sounds.mp4"][data-phase=choosing]');
    await page.press('All of them');
    const [first, second] = [await rowFigure('two-sounds.mp4 1'), await rowFigure('two-sounds.mp4 2')];
    expect(Math.abs(first - second)).toBeGreaterThan(0.5);
    await page.button('Undo: Add 2 sources');
  });

  it('a compressed file can be placed, and sounds in the programme as it measured', async () => {
    const { page } = stage;
    await (await page.find('[aria-label="Select sound.mp3"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await page.measured();
    const { lufs } = await page.clipLevel('sound');
    await page.press('Sources');
    expect(Math.abs(lufs - (await rowFigure('sound.mp3')))).toBeLessThan(0.001);
  });

  it('a compressed file can be audited, and mended to a WAV file', async () => {
    const { page } = stage;
    await page.open('/audit');
    await page.upload(fixture('sound.opus'));
    await page.find('[data-mend=gain]');
    await page.press('Correct it');
    await page.find('section[aria-label="The corrected file"] [data-verdict=meets]');
    const name = (await page.text('section[aria-label="The corrected file"] h2')).trim();
    await page.press('Save file');
    expect((await figuresOfBytes(await page.saved(name))).integratedLufs).toBeCloseTo(-23, 3);
  });
});

describe('a source in detail', () => {
  const details = '[data-details="hut.wav"]';
  const fact = (label: string): Promise<string> => stage.page.text(`${details} [data-fact="${label}"]`);

  it('shows loudness over time, what is odd and where, and plays from there', async () => {
    const { page, files } = stage;
    await page.newProject();
    const x = tones(
      [
        { dbfs: -40, seconds: 4 },
        { dbfs: -20, seconds: 4 },
      ],
      48_000,
      1,
    )[0]!.slice();
    for (let i = 0; i < 8; i++) x[240_000 + i] = 1;
    x.fill(0, 300_000, 300_960);
    await page.upload(files.wav('hut.wav', [x]));
    await rowFigure('hut.wav');
    await page.press('Details of hut.wav');
    expect(await fact('Clipped')).toBe('1 place, 8 samples');
    expect(await fact('Drop-outs')).toBe('1');
    expect(await fact('Length')).toBe('0:08.000, 384,000 samples');
    const places = await Promise.all(
      (await page.all(`${details} [data-place=bad]`)).map((row) => row.getText()),
    );
    expect(places[0]).toMatch(/0:05\.0\s+Clipped for 0\.2 ms, channel M/);
    expect(places[1]).toMatch(/0:06\.3\s+Drop-out of 20 ms, channel M/);
    await (await page.find(`${details} [data-place=bad]`)).click();
    await page.button('Stop');
    await page.press('Stop');
    await page.button('Play');
  });

  it('a part is dragged out or typed, and measured at once', async () => {
    const { page } = stage;
    const trace = await page.find(`${details} [data-level-trace]`);
    const { width } = await trace.getRect();
    const from = Math.round(-width / 2 + width * 0.05);
    await page.driver
      .actions()
      .move({ origin: trace, x: from, y: 0 })
      .press()
      .move({ origin: Origin.POINTER, x: Math.round(width * 0.4), y: 0 })
      .release()
      .perform();
    expect(await page.text(`${details} [data-part]`)).toMatch(/−4\d\.\d LUFS integrated/);
    await page.type('Part from', '0:02\n');
    await page.type('Part from', '9:00\n');
    expect(await page.text(`${details} [data-part]`)).toMatch(
      /Times are seconds, m:ss or h:mm:ss from 0:00 to 0:08\.0/,
    );
    await page.type('Part from', '0\n');
    await page.press('Clear');
    expect(await page.text(`${details} [data-part]`)).toMatch(/Drag over the trace/);
  });

  it('the exact true peak is worked out when asked for', async () => {
    const { page } = stage;
    await page.press('Exact true peak');
    const exact = Number(await (await page.find('[data-exact-peak]')).getAttribute('data-exact-peak'));
    expect(Math.abs(exact - (await rowFigure('hut.wav', 'truePeakDbtp')))).toBeLessThan(1);
  });

  it('speech is told by subtitles; a file that is none gets its line', async () => {
    const { page, files } = stage;
    const pick = async (path: string) => (await page.find(`${details} input[type=file]`)).sendKeys(path);
    await pick(files.write('notes.srt', 'Dear diary'));
    await page.until('the reason', async () =>
      /notes\.srt: This is not a subtitle file/.test(await page.text(details)),
    );
    await pick(files.write('hut.srt', '1\n00:00:01,000 --> 00:00:03,000\nIt is cold.\n'));
    await page.find(`${details} [data-speech]`);
    expect(await page.text(`${details} [data-speech]`)).toMatch(
      /−4\d\.\d LUFS while somebody speaks \(0:02\.0, by hut\.srt\)/,
    );
    await page.press('Undo: Speech of hut.wav from hut.srt');
    expect(await page.all(`${details} [data-speech]`)).toHaveLength(0);
  });

  it('mono can be declared as meant for two loudspeakers; the clip follows; undo takes it back', async () => {
    const { page } = stage;
    const before = await rowFigure('hut.wav');
    await (await page.find(`${details} [role=combobox]`)).click();
    await (await page.find('[role=option][data-value=dual-mono]')).click();
    await page.until('the new measurement', async () => {
      const now = await page.attribute('[data-source="hut.wav"] [data-figure=integratedLufs]', 'data-value');
      return now !== '' && Math.abs(Number(now) - before - 10 * Math.log10(2)) < 1e-6;
    });
    await page.press('Undo: Declare hut.wav mono for two loudspeakers');
    await page.until('the old measurement', async () => {
      const now = await page.attribute('[data-source="hut.wav"] [data-figure=integratedLufs]', 'data-value');
      return Number(now) === before;
    });
  });

  it('mono files are put together as one source of several channels', async () => {
    const { page, files } = stage;
    const sides = [noise(96_000, 0.2, 1), noise(96_000, 0.1, 2)];
    const whole = files.wav('whole.wav', sides);
    await page.upload(files.wav('ridge.R.wav', [sides[1]!]), files.wav('ridge.L.wav', [sides[0]!]));
    await page.until('both', async () => (await page.all('[data-source^="ridge"]')).length === 2);
    for (const name of ['ridge.R.wav', 'ridge.L.wav'])
      await (await page.find(`[aria-label="Select ${name}"]`)).click();
    await page.press('Merge to multichannel as');
    await page.press('stereo');
    const measured = await rowFigure('ridge stereo');
    expect(measured).toBeCloseTo((await figuresOfBytes(readFileSync(whole))).integratedLufs!, 6);
    expect(await page.all('[data-source^="ridge"]')).toHaveLength(1);
    await page.button('Undo: Merge 2 sources to ridge stereo');
    expect(await page.errors()).toEqual([]);
  });
});
