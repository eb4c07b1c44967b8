import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { placeNight, setStage } from './support/setup';

const stage = setStage();

describe('storage that is full', () => {
  it('takes no more sound, and says so at the file; plans say so too; what is there stays', async () => {
    const { page, files } = stage;
    await page.open('/projects');
    await placeNight(stage);
    await page.kept();
    await page.driver.executeScript(
      `IDBObjectStore.prototype.put = function () { throw new DOMException('Full.', 'QuotaExceededError'); };`,
    );
    await page.press('Sources');
    await page.upload(files.wav('morning.wav', [noise(48_000, 0.1, 4)]));
    await page.until(
      'the reason',
      async () =>
        (await page.text('main')).includes('morning.wav') &&
        (await page.text('main')).includes('The browser’s storage is full.'),
    );
    expect(await page.all('[data-source]')).toHaveLength(1);
    await page.press('Programme');
    await page.press('Plan…');
    await (await page.find('button[data-plan]')).click();
    await page.press('Save as');
    await page.type('Name of the plan', `Quiet night${Key.ENTER}`);
    await page.until('the reason', async () =>
      (await page.text('body')).includes('The browser’s storage is full.'),
    );
    await page.driver.navigate().refresh();
    await page.measured();
    expect((await page.clipLevel('night')).gain).toBe(0);
  });
});
