import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();
/** Longer than anything waits for an answer that should come at once. */
const ASLEEP_MS = 6_000;
const RATE = 48_000;

const notes = async (): Promise<string[]> =>
  Promise.all((await stage.page.all('[role=alert]')).map((note) => note.getText()));

describe('a machine that sleeps and wakes', () => {
  it('while sound plays: it goes on where it was', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('surf.wav', [noise(RATE * 60, 0.1, 3)]));
    await page.placeSource('surf.wav');
    await page.kept();
    await page.press('Play');
    await page.until('the playhead to move', async () => (await page.playhead()) > 0.5);
    const before = await page.playhead();
    await page.browser.sleep(ASLEEP_MS);
    await page.until('the playhead to move on', async () => (await page.playhead()) > before + 1);
    expect(await page.text('[role=toolbar]')).toMatch(/^Stop/);
    expect(await notes()).toEqual([]);
    await page.press('Stop');
  });

  it('in the middle of an edit: it is measured and saved once it wakes', async () => {
    const { page } = stage;
    const { lufs } = await page.clipLevel('surf');
    await (await page.clip('surf')).click();
    await page.driver.actions().sendKeys(Key.ARROW_DOWN).perform();
    await page.browser.sleep(ASLEEP_MS);
    await page.until('the gain', async () => (await page.clipLevel('surf')).lufs < lufs - 0.05);
    const after = await page.clipLevel('surf');
    await page.measured();
    await page.kept();
    expect(await notes()).toEqual([]);
    await page.driver.navigate().refresh();
    await page.measured();
    expect(await page.clipLevel('surf')).toEqual(after);
  });

  it('while sound comes in: it is there, measured and stored', async () => {
    const { page, files } = stage;
    await page.press('Sources');
    await page.upload(files.wav('rain.wav', [noise(RATE * 120, 0.1, 4), noise(RATE * 120, 0.1, 5)]));
    await page.browser.sleep(ASLEEP_MS);
    await page.find('[data-source="rain.wav"] [data-figure=integratedLufs]');
    await page.kept();
    expect(await notes()).toEqual([]);
    await page.driver.navigate().refresh();
    await page.find('[data-source="rain.wav"] [data-figure=integratedLufs]');
    expect(await page.all('[data-source]')).toHaveLength(2);
  });
});
