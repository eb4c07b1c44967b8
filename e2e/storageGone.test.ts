import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();

/** A project of one clip. */
async function placeNight(): Promise<void> {
  const { page, files } = stage;
  await page.newProject();
  await page.upload(files.wav('night.wav', [noise(48_000 * 4, 0.1, 3)]));
  await page.placeSource('night.wav');
}

const raise = async (): Promise<void> => {
  const { page } = stage;
  await (await page.clip('night')).click();
  await page.driver.actions().sendKeys(Key.ARROW_UP).perform();
  await page.button('Undo: Change gain of 1 clip by +0.5 dB');
};

describe('storage that goes away', () => {
  it('under an open project: its steps are stored again, and its sound is there as long as the page is', async () => {
    const { page } = stage;
    await page.open('/projects');
    await placeNight();
    await page.kept();
    await page.driver.executeAsyncScript(
      `const done = arguments[0];
      const gone = indexedDB.deleteDatabase('dengung');
      gone.onsuccess = () => done();
      gone.onerror = () => done();
      gone.onblocked = () => undefined;`,
    );
    await raise();
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
});
