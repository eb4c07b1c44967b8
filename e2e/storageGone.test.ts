import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { placeNight, raiseNight, setStage } from './support/setup';

const stage = setStage();

describe('storage that goes away', () => {
  it('under an open project: its steps are stored again, and its sound is there as long as the page is', async () => {
    const { page } = stage;
    await page.open('/projects');
    await placeNight(stage);
    await page.kept();
    await page.driver.executeAsyncScript(
      `const done = arguments[0];
      const gone = indexedDB.deleteDatabase('dengung');
      gone.onsuccess = () => done();
      gone.onerror = () => done();
      gone.onblocked = () => undefined;`,
    );
    await raiseNight(stage);
    await page.kept();
    await page.measured();
    expect((await page.clipLevel('night')).gain).toBe(0.5);
    const stored = await page.driver.executeAsyncScript<string>(
      `const done = arguments[0];
      const open = indexedDB.open('dengung');
      open.onsuccess = () => {
        const asked = open.result.transaction('projects').objectStore('projects').getAll();
        asked.onsuccess = () => { open.result.close(); done(JSON.stringify(asked.result)); };
      };`,
    );
    expect(stored).toContain('Change gain of 1 clip by +0.5 dB');
  });

  it('with all data of the site: the loss is named, nothing says that it is saved, and the clip is left out', async () => {
    const { page } = stage;
    await placeNight(stage);
    await page.kept();
    await page.measured();
    await page.driver.sendDevToolsCommand('Storage.clearDataForOrigin', {
      origin: new URL(await page.driver.getCurrentUrl()).origin,
      storageTypes: 'all',
    });
    await raiseNight(stage);
    // The first try may find the database just going; the next one tells.
    await page.until('the loss', async () => {
      const [button] = await page.all('[data-save=failed] button');
      const told = (await button?.getAttribute('aria-label')) ?? '';
      return told.startsWith(
        'Saved without sound. The browser has deleted the stored sound of 1 source: night.wav.',
      );
    });
    await page.until(
      'the clip to be left out',
      async () => (await page.all('[data-left-out="1"]')).length > 0,
    );
    expect(await page.text('body')).not.toMatch(/Another tab has loaded/);
    // Its own file brings it back.
    await page.press('Sources');
    const relink = await page.find('[data-absent=missing] input[type=file]');
    await relink.sendKeys(join(stage.files.folder, 'night.wav'));
    await page.until('it to be saved whole', async () => (await page.all('[data-save=saved]')).length > 0);
  });
});
