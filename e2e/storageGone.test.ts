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
});
