import { Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { longCut } from './support/longCut';
import { setStage } from './support/setup';

const stage = setStage();
const CLIPS = 1500;
/** More than the lanes ever build at once, far fewer than there are. */
const MOST_BUILT = 400;

const integrated = async (): Promise<number> =>
  Number(await stage.page.attribute('[data-figure=integrated]', 'data-value'));
const built = async (): Promise<number> => (await stage.page.all('[data-clip]')).length;
const press = (...keys: string[]): Promise<void> =>
  stage.page.driver
    .actions()
    .sendKeys(...keys)
    .perform();

describe('an hour with 1,500 clips', () => {
  it('is placed from a cut, measured, and has its lanes drawn without building every clip', async () => {
    const { page, files } = stage;
    await page.newProject();
    const { cut, media } = longCut(files, CLIPS, -26);
    await page.upload(cut, media);
    await page.find('[data-source]');
    await page.press('Place 1,500 clips');
    await page.press('Programme');
    await page.measured();
    await page.kept();
    // Clips of a steady tone of −26 dBFS (−26 LUFS), with gaps that blocks at their edges reach into.
    const loudness = await integrated();
    expect(loudness).toBeLessThan(-26);
    expect(loudness).toBeGreaterThan(-28);
    expect(await built()).toBeLessThan(10);
    expect(await page.text('main')).toMatch(/59:59|1:00:0/);
  });

  it('a clip that is only drawn can be chosen, shown large, and its gain dragged with exact figures', async () => {
    const { page } = stage;
    const lane = await (await page.find('[data-lanes]')).getRect();
    await page.driver
      .actions()
      .move({ x: Math.round(lane.x + 300), y: Math.round(lane.y + 20) })
      .press()
      .move({ x: Math.round(lane.x + 318), y: Math.round(lane.y + 40) })
      .release()
      .perform();
    await page.until('something to be chosen', async () =>
      /clips selected|take \d+/.test(await page.text('aside')),
    );
    // As large as they fit, and twice as large again: wide enough to be more than drawn.
    await press('z');
    await press('+');
    await press('+');
    await page.until('clips to be built', async () => (await built()) > 1);
    expect(await built()).toBeLessThan(MOST_BUILT);
    const clip = await page.find('[data-clip]');
    await clip.click();
    const name = await clip.getAttribute('data-name');
    await page.clipLevel(name!);
    await page.measured();
    const before = await integrated();
    const line = await page.waterline(`[data-clip][data-name="${name}"]`);
    await page.driver.actions().move(line).pause(500).press().perform();
    await page.driver.actions().move({ origin: Origin.POINTER, x: 0, y: -20 }).perform();
    const moving = await page.until('the figures to move', async () => {
      const now = await integrated();
      return now !== before && now;
    });
    await page.driver.actions().release().perform();
    await page.measured();
    expect(await integrated()).toBeCloseTo(moving, 6);
    await page.press('Undo: Gain of take');
    await page.measured();
    expect(await integrated()).toBeCloseTo(before, 6);
  });

  it('shows the whole again and goes through the rest by key', async () => {
    const { page } = stage;
    await press('f');
    await page.until('few to be built', async () => (await built()) < 10);
    await press(Key.END);
    const end = await page.attribute('[data-playhead]', 'value');
    await press(Key.PAGE_UP);
    await page.until(
      'the edge before',
      async () => (await page.attribute('[data-playhead]', 'value')) !== end,
    );
    expect(await page.errors()).toEqual([]);
  });
});
