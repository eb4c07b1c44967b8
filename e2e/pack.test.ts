import { describe, expect, inject, it } from 'vitest';
import { unzipSync } from 'fflate';
import { tones } from '@/core/testing/signals';
import { startBrowser } from './support/browser';
import { Page } from './support/page';
import { setStage } from './support/setup';

const stage = setStage();

const openFile = async (page: Page, path: string): Promise<void> => {
  await page.open('/projects');
  // Shown once the page is alive.
  await page.find('[data-room]');
  await (await page.find('input[aria-label="Project file"]')).sendKeys(path);
};

describe('a project as one file', () => {
  it('opens in an empty browser as it was: sound, gains, history, what was handed over', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('tide.wav', tones([{ dbfs: -30, seconds: 4 }], 48_000, 2)));
    await page.placeSource('tide.wav');
    await page.press('Level all clips…');
    await page.press('Apply');
    await page.measured();
    const before = await page.clipLevel('tide');
    const { value } = await page.dial('integrated');
    await page.press('Handover');
    await page.press('Render and measure');
    await page.find('[data-sha256]');
    const sha256 = await page.text('[data-sha256]');
    await page.kept();
    await page.driver.executeScript('delete window.showSaveFilePicker;');
    await page.open('/projects');
    await page.driver.executeScript('delete window.showSaveFilePicker;');
    await page.press('Actions for New project');
    await page.choose('Save as one file');
    const packed = await page.saved('New project.dengung');
    const parts = Object.keys(unzipSync(packed));
    expect(parts).toEqual(['dengung.json', 'project.json', 'handover.json', 'sounds/0001 tide.wav']);
    const path = files.write('New project.dengung', packed);

    const other = new Page(await startBrowser(), inject('base'));
    try {
      await openFile(other, path);
      await other.find('[data-opened]');
      expect(await other.text('[data-opened]')).toMatch(/New project was opened from its file\.\s*$/);
      await (await other.find('[data-opened] a')).click();
      await other.find('[data-clip]');
      await other.measured();
      await other.until('its figures', async () => (await other.dial('integrated')).value === value);
      expect(await other.clipLevel('tide')).toEqual(before);
      await other.press('Handover');
      await other.until('what was handed over', async () => (await other.all('[data-outcome]')).length === 1);
      expect(await other.attribute('[data-outcome]', 'data-outcome')).toBe('meets');
      await (await other.find('[data-file] button')).click();
      expect(await other.text('[data-sha256]')).toBe(sha256);
      await other.press('Undo: ');
      await other.press('Programme');
      await other.until(
        'the gain to be undone',
        async () => (await other.clipLevel('tide')).gain !== before.gain,
      );
      expect(await other.errors()).toEqual([]);
    } finally {
      await other.browser.close();
    }
  });

  it('opened where its sound is already, keeps it once; without its sound or damaged it says so', async () => {
    const { page, files } = stage;
    await openFile(page, `${files.folder}/New project.dengung`);
    await page.until('a second of them', async () =>
      (await page.text('table[aria-label=Projects]')).includes('New project 2'),
    );
    const packed = await page.saved('New project.dengung');
    const broken = Buffer.from(packed);
    const at = broken.indexOf('RIFF');
    broken.fill(0, at + 20_000, at + 20_100);
    await openFile(page, files.write('broken.dengung', broken));
    await page.until('what is damaged', async () =>
      (await page.text('body')).includes('The sound of tide.wav is damaged'),
    );
    await openFile(page, files.write('cut.dengung', packed.subarray(0, packed.length / 2)));
    await page.until('that it is not whole', async () =>
      /This project file is damaged: .*zip/.test(await page.text('body')),
    );
    await openFile(page, files.write('other.dengung', 'not a zip'));
    await page.until('that it is none', async () =>
      (await page.text('body')).includes('This is no project file.'),
    );
    expect(await page.text('[data-room]')).toMatch(/are stored in this browser; there is room for/);
  });
});

/** A folder of the browser's own in the place of one that is picked. */
const pickOwnFolder = (): Promise<unknown> =>
  stage.page.driver.executeAsyncScript(async (done: () => void) => {
    const root = await navigator.storage.getDirectory();
    const folder = await root.getDirectoryHandle('backups', { create: true });
    Object.assign(window, { showDirectoryPicker: () => Promise.resolve(folder) });
    done();
  });

/** What lies in that folder: names, and how long each file is. */
const backedUp = (): Promise<Record<string, number>> =>
  stage.page.driver.executeAsyncScript(async (done: (found: unknown) => void) => {
    const root = await navigator.storage.getDirectory();
    const folder = await root.getDirectoryHandle('backups');
    const found: Record<string, number> = {};
    for await (const [name, handle] of folder as unknown as AsyncIterable<[string, FileSystemFileHandle]>)
      found[name] = (await handle.getFile()).size;
    done(found);
  });

describe('backups', () => {
  it('go into a folder: what changed, the last ten of each, and nothing else is touched', async () => {
    const { page } = stage;
    await page.open('/projects');
    await page.find('[data-room]');
    await pickOwnFolder();
    await page.driver.executeAsyncScript(async (done: () => void) => {
      const root = await navigator.storage.getDirectory();
      const folder = await root.getDirectoryHandle('backups');
      const names = ['letter.txt', 'New project notes.dengung'];
      for (let i = 0; i < 12; i++) names.push(`New project 2020-01-${10 + i} 08.00.dengung`);
      for (const name of names) await folder.getFileHandle(name, { create: true });
      done();
    });
    await page.press('Back up to a folder');
    await page.until('it to be done', async () =>
      (await page.text('[data-backups=rest]')).startsWith('Last done'),
    );
    const first = await backedUp();
    const names = Object.keys(first);
    expect(names).toEqual(expect.arrayContaining(['letter.txt', 'New project notes.dengung']));
    const ofProject = names.filter((name) => /^New project \d{4}-/.test(name)).sort();
    expect(ofProject).toHaveLength(10);
    expect(ofProject.at(-1)).not.toContain('2020-');
    expect(first[ofProject.at(-1)!]).toBeGreaterThan(1_000);
    expect(names.some((name) => name.startsWith('New project 2 '))).toBe(true);
    // Nothing has changed since: nothing is written.
    await page.press('Back up now');
    await page.until('it to rest', async () => (await page.all('[data-backups=rest]')).length === 1);
    expect(await backedUp()).toEqual(first);
    await page.press('Stop backups');
    await page.button('Back up to a folder');
    expect(await page.errors()).toEqual([]);
  });
});
