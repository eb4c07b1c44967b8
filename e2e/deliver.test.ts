import { createHash } from 'node:crypto';
import { unzipSync } from 'fflate';
import { Key } from 'selenium-webdriver';
import { extractText, getDocumentProxy } from 'unpdf';
import { describe, expect, inject, it } from 'vitest';
import { openSound } from '@/codecs/open';
import { bytesSource } from '@/core/audio/byteSource';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { tones } from '@/core/testing/signals';
import { figure } from '@/core/text/figures';
import { figuresOfBytes } from './support/files';
import { setStage } from './support/setup';

const stage = setStage();

/** A folder of the browser's own in the place of one that is picked, with no room left for one name. */
const folderWithoutRoomFor = (name: string): Promise<unknown> =>
  stage.page.driver.executeAsyncScript(async (full: string, done: () => void) => {
    const root = await navigator.storage.getDirectory();
    const folder = await root.getDirectoryHandle('handed over', { create: true });
    const getFileHandle = folder.getFileHandle.bind(folder);
    folder.getFileHandle = async (asked, options) => {
      const handle = await getFileHandle(asked, options);
      if (asked === full)
        handle.createWritable = () => {
          let room = 1;
          const writable = new WritableStream<Uint8Array>({
            write() {
              if (room-- === 0) throw new DOMException('The disk is full', 'QuotaExceededError');
            },
          });
          return Promise.resolve(writable as FileSystemWritableFileStream);
        };
      return handle;
    };
    Object.assign(window, { showDirectoryPicker: () => Promise.resolve(folder) });
    done();
  }, name);

/** What lies in that folder: names, sizes and checksums. */
const inTheFolder = (): Promise<Record<string, { size: number; sha256: string }>> =>
  stage.page.driver.executeAsyncScript(async (done: (found: unknown) => void) => {
    const root = await navigator.storage.getDirectory();
    const folder = await root.getDirectoryHandle('handed over');
    const found: Record<string, unknown> = {};
    for await (const [name, handle] of folder as unknown as AsyncIterable<[string, FileSystemFileHandle]>) {
      const bytes = await (await handle.getFile()).arrayBuffer();
      const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
      found[name] = {
        size: bytes.byteLength,
        sha256: [...hash].map((byte) => byte.toString(16).padStart(2, '0')).join(''),
      };
    }
    done(found);
  });

/** The first bytes of a file in that folder. */
const headOf = async (name: string, count: number): Promise<Uint8Array> => {
  const bytes = await stage.page.driver.executeAsyncScript<number[]>(
    async (asked: string, length: number, done: (bytes: number[]) => void) => {
      const root = await navigator.storage.getDirectory();
      const folder = await root.getDirectoryHandle('handed over');
      const file = await (await folder.getFileHandle(asked)).getFile();
      done([...new Uint8Array(await file.slice(0, length).arrayBuffer())]);
    },
    name,
    count,
  );
  return Uint8Array.from(bytes);
};

const add = async (start: string): Promise<void> => {
  await stage.page.press('Add a delivery');
  await stage.page.choose(start);
  await stage.page.button(`Undo: Add delivery: ${start}`);
};
const outcome = (name: string): Promise<string> =>
  stage.page.attribute(`[data-file="${name}"] [data-outcome]`, 'data-outcome');
const figureShown = async (figure: string): Promise<number> =>
  Number(await (await stage.page.all(`[data-compare=${figure}] td`))[1]!.getAttribute('data-value'));

describe('deliveries and stems of the demo in one go', () => {
  it('are rendered to a folder; one is cancelled, one finds no room, all others are there whole', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.press('Handover');
    await add('The programme as BWF');
    await add('A stem for each role');
    await add('The programme as WAV');
    await page.type('Name of the files', '{project} {layout}');
    await page.pick('File', 'FLAC');
    await page.pick('Channels', 'Mono');
    await page.find('[data-file="Frostline mono.flac"]');
    await add('The programme as MP3');
    await folderWithoutRoomFor('Frostline music.wav');
    await page.press('A folder');
    await page.press('Render and measure 9 files');
    await page.press('Cancel Frostline EBU R 128.mp3');
    await page.until('all of them', async () => (await page.all('[data-outcome]')).length === 9);
    expect(await outcome('Frostline EBU R 128.mp3')).toBe('cancelled');
    expect(await outcome('Frostline music.wav')).toBe('failed');
    expect(await page.text('[data-file="Frostline music.wav"]')).toMatch(/could not be saved: .*full/);
    expect(await outcome('Frostline EBU R 128.wav')).toBe('meets');
    expect(await outcome('Frostline.wav')).toBe('misses');
    // What was proved and only found no room can still be saved.
    await page.button('Save file: Frostline music.wav');
    const there = await inTheFolder();
    expect(Object.keys(there).sort()).toEqual([
      'Frostline EBU R 128.wav',
      'Frostline ambience.wav',
      'Frostline dialogue.wav',
      'Frostline effects.wav',
      'Frostline mono.flac',
      'Frostline narration.wav',
      'Frostline.wav',
    ]);
    for (const [name, { sha256 }] of Object.entries(there)) {
      await (await page.find(`[data-file="${name}"] button`)).click();
      await page.until(`${name} to be shown`, async () => (await page.text('section h2')).includes(name));
      expect(await page.text('[data-sha256]')).toBe(sha256);
      if (/ambience|dialogue|effects|narration/.test(name))
        expect(await page.text('[data-stem-sum]')).toMatch(/^The 5 stems add up to the mix/);
    }
    await (await page.find('[data-file="Frostline EBU R 128.wav"] button')).click();
    await page.until('the corrected file', async () =>
      (await page.text('[data-corrected]')).includes('brings it to −23.0 LUFS'),
    );
    const said = await openSound(bytesSource(await headOf('Frostline EBU R 128.wav', 4_096)));
    if (said.kind !== 'pcm') throw new Error('no plain samples');
    const { loudness } = said.reader.format.metadata!;
    expect(loudness!.integratedLufs).toBeCloseTo(await figureShown('integratedLufs'), 2);
    expect(loudness!.maxTruePeakDbtp).toBeCloseTo(await figureShown('truePeakDbtp'), 2);
    expect(loudness!.integratedLufs).toBeCloseTo(-23, 1);
    expect(await page.errors()).toEqual([]);
  });
});

describe('a delivery', () => {
  it('is stale once the mix changes, keeps its settings, and is undone step by step', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('night.wav', tones([{ dbfs: -30, seconds: 6 }], 48_000, 2)));
    await page.placeSource('night.wav');
    await page.press('Handover');
    await page.press('Gain, limiter');
    await page.button('Undo: Delivery: last correction gain, limiter');
    await page.pick('File', 'BWF');
    await page.type('Name of the files', '{projekt}');
    expect(await page.text('section[aria-label=Delivery]')).toMatch(/\{projekt\} is no field/);
    await page.type('Name of the files', '{project} {version}');
    await page.find('[data-file="New project v1.wav"]');
    await page.press('Render and measure');
    await page.find('[data-file-verdict]');
    expect(await outcome('New project v1.wav')).toBe('meets');
    await page.press('Save file');
    const bytes = await page.saved('New project v1.wav');
    expect((await figuresOfBytes(bytes)).integratedLufs).toBeCloseTo(-23, 2);
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(await page.text('[data-sha256]'));
    // The line to the radio network breaks in the middle; it goes on, and is accepted.
    await fetch(`${inject('base')}/api/recipients/ridgeline-radio/trouble`, {
      method: 'PUT',
      body: JSON.stringify({ dropAfterBytes: 300_000 }),
    });
    await page.press('Send');
    await page.until('the receipt', async () => (await page.all('[data-receipt=accepted]')).length === 1);
    await page.pick('Recipient', 'Lantern Podcasts');
    await page.press('Send');
    await page.find('[data-receipt=refused]');
    const missed = await page.all('[data-receipt=refused] [data-requirement=missed]');
    expect((await Promise.all(missed.map((row) => row.getText()))).join(' ')).toMatch(
      /Integrated\s−16.*−23/s,
    );
    await page.press('Report…');
    await page.choose('Data (JSON)');
    const report = JSON.parse((await page.saved('New project report.json')).toString()) as {
      readonly files: readonly {
        readonly sha256: string;
        readonly figures: LoudnessFigures;
        readonly verdict: { readonly meets: boolean };
        readonly receipts: readonly { readonly accepted: boolean; readonly sha256: string }[];
      }[];
    };
    // What is reported is what is shown, and what the file measures.
    expect(report.files).toHaveLength(1);
    expect(report.files[0]!.sha256).toBe(await page.text('[data-sha256]'));
    expect(report.files[0]!.verdict.meets).toBe(true);
    expect(report.files[0]!.receipts.map(({ accepted }) => accepted)).toEqual([true, false]);
    expect(report.files[0]!.receipts[0]!.sha256).toBe(report.files[0]!.sha256);
    for (const figure of ['integratedLufs', 'truePeakDbtp', 'loudnessRangeLu'] as const)
      expect(report.files[0]!.figures[figure]).toBe(await figureShown(figure));
    await page.press('Report…');
    await page.choose('Page for a client (PDF, A4)');
    const paper = await getDocumentProxy(new Uint8Array(await page.saved('New project report.pdf')));
    const words = (await extractText(paper, { mergePages: true })).text.replace(/\s+/g, '');
    expect(words).toContain(await page.text('[data-sha256]'));
    expect(words).toContain(figure(report.files[0]!.figures.integratedLufs));
    expect(words).toContain('Newprojectv1.wav');
    await page.press('Programme');
    await (await page.clip('night')).click();
    await page.driver.actions().sendKeys(Key.ARROW_UP).perform();
    await page.measured();
    await page.press('Handover');
    await page.until('it to be stale', async () => (await outcome('New project v1.wav')) === 'stale');
    expect(await page.text('section[aria-label="The finished file"]')).toMatch(/The mix has changed/);
    await page.kept();
    await page.driver.navigate().refresh();
    await page.find('[data-file="New project v1.wav"]');
    // What was handed over is known on the next visit, with its checksum and receipts.
    await page.until('it to be known', async () => (await outcome('New project v1.wav')) === 'stale');
    await (await page.find('[data-file="New project v1.wav"] button')).click();
    await page.until(
      'its details',
      async () => (await page.text('[data-sha256]')) === report.files[0]!.sha256,
    );
    expect(await page.all('[data-receipt=accepted]')).toHaveLength(1);
    expect(await page.all('[data-receipt=refused]')).toHaveLength(1);
    await page.button('Undo: ');
    // The browser itself tells of the line that broke.
    expect((await page.errors()).filter((said) => !said.includes('/api/recipients/ridgeline-radio'))).toEqual(
      [],
    );
  });

  it('in several formats goes into one zip, each as long and as loud as the mix', async () => {
    const { page } = stage;
    await page.driver.executeScript('delete window.showSaveFilePicker;');
    await page.measured();
    for (const [kind, name] of [
      ['AIFF', 'aiff'],
      ['Opus', 'opus'],
      ['Matroska, sound only', 'mka'],
      ['MP3', 'mp3'],
      ['MP4, sound only', 'mp4'],
    ] as const) {
      await add('The programme as WAV');
      await page.pick('File', kind);
      await page.find(`[data-file="New project.${name}"]`);
    }
    await page.pick('Sound', 'AC-3');
    await page.button('Undo: Delivery: MP4, sound only, AC-3, 192 kbit/s');
    await page.press('One zip');
    await page.press('Render and measure 6 files');
    const zip = unzipSync(await page.saved('New project.zip'));
    expect(Object.keys(zip).sort()).toEqual([
      'New project v1.wav',
      'New project.aiff',
      'New project.mka',
      'New project.mp3',
      'New project.mp4',
      'New project.opus',
    ]);
    const lufs = (await page.dial('integrated')).value;
    for (const [name, bytes] of Object.entries(zip)) {
      const { integratedLufs } = await figuresOfBytes(bytes);
      expect(integratedLufs, name).toBeCloseTo(name.includes('v1') ? -23 : lufs, 1);
    }
    await page.until(
      'all to be saved',
      async () => (await page.all('[data-outcome=meets], [data-outcome=misses]')).length === 6,
    );
    expect(await page.errors()).toEqual([]);
  });
});
