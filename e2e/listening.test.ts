import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();

const place = async (): Promise<number> => {
  const [minutes, seconds] = (await stage.page.attribute('[data-playhead]', 'value')).split(':');
  return Number(minutes) * 60 + Number(seconds);
};
const playing = async (): Promise<boolean> => (await stage.page.text('[role=toolbar]')).startsWith('Stop');

describe('listening', () => {
  it('plays from the playhead, which moves on, and stops where it is', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(
      files.wav('a.wav', tones([{ dbfs: -30, seconds: 6 }], 48_000, 2)),
      files.wav('b.wav', tones([{ dbfs: -25, seconds: 3 }], 44_100, 1), 44_100),
    );
    await page.until('both sources', async () => (await page.all('[data-source]')).length === 2);
    await (await page.find('[aria-label="Choose all sources"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await page.measured();
    expect(await place()).toBe(0);
    await page.press('Play');
    await page.until('the playhead to move', async () => (await place()) > 0.5);
    await page.press('Stop');
    const stopped = await place();
    expect(stopped).toBeGreaterThan(0.4);
    await page.measured();
    expect(await place()).toBe(stopped);
  });

  it('goes on through an edit, and with a track soloed', async () => {
    const { page } = stage;
    await page.press('Play');
    await page.until('it to play', playing);
    const before = await place();
    await page.press('Solo Dialogue');
    await (await page.clip('a')).click();
    const field = await page.find('[data-gain-field]');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '-12', Key.ENTER);
    await page.until('the playhead to move on', async () => (await place()) > before + 0.4);
    expect(await playing()).toBe(true);
  });

  it('stops by itself at the end and returns to the start', async () => {
    const { page } = stage;
    await page.until('the end', async () => !(await playing()));
    expect(await place()).toBe(0);
  });

  it('starts and stops by the space bar, and where the skyline is clicked', async () => {
    const { page } = stage;
    const skyline = await page.find('[role=slider]');
    await page.driver.actions().move({ origin: skyline }).click().perform();
    const middle = await place();
    expect(middle).toBeGreaterThan(3);
    await skyline.sendKeys(Key.ARROW_RIGHT);
    expect(await place()).toBeCloseTo(middle + 1, 0);
    await skyline.sendKeys(' ');
    await page.until('it to play', playing);
    await skyline.sendKeys(' ');
    await page.until('it to stop', async () => !(await playing()));
    expect(await page.errors()).toEqual([]);
  });

  it('mute takes a track out of the measurement; solo does not', async () => {
    const { page } = stage;
    await page.measured();
    const before = (await page.dial('integrated')).value;
    await page.press('Solo Dialogue');
    await page.measured();
    expect((await page.dial('integrated')).value).toBe(before);
    await page.press('Mute Dialogue');
    await page.measured();
    expect((await page.dial('integrated')).words).toMatch(/nothing to measure/);
    await page.press('Undo: Mute Dialogue');
    await page.measured();
    expect((await page.dial('integrated')).value).toBe(before);
  });
});
