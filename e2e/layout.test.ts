import { Key, Origin, type WebElement } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();
const tone = (dbfs: number, seconds = 6) => tones([{ dbfs, seconds }], 48_000, 2);

const press = (...keys: string[]): Promise<void> =>
  stage.page.driver
    .actions()
    .sendKeys(...keys)
    .perform();

/** Presses on an element, drags, and lets go unless Escape is pressed first. */
async function drag(element: WebElement, x: number, y: number, escape = false): Promise<void> {
  const { driver } = stage.page;
  const by = { origin: Origin.POINTER, duration: 80 };
  await driver
    .actions()
    .move({ origin: element })
    .press()
    .move({ ...by, x: Math.round(x / 2), y: Math.round(y / 2) })
    .move({ ...by, x: Math.round(x / 2), y: Math.round(y / 2) })
    .perform();
  // A hand rests before it lets go; a busy machine has not drawn what it is over yet.
  await driver.sleep(300);
  if (escape) await press(Key.ESCAPE);
  await driver.actions().release().perform();
}

const tracks = async (): Promise<string[]> =>
  Promise.all(
    (await stage.page.all('input[aria-label^="Name of track"]')).map((field) => field.getAttribute('value')),
  ) as Promise<string[]>;
const playhead = (): Promise<string> =>
  stage.page.attribute('[aria-label="Playhead in the programme"]', 'aria-valuenow');
const width = async (css: string): Promise<number> => (await (await stage.page.find(css)).getRect()).width;
const height = async (css: string): Promise<number> => (await (await stage.page.find(css)).getRect()).height;

describe('a drag that Escape cancels changes nothing', () => {
  it('over the ruler, the skyline, a marker; what is selected stays', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('low.wav', tone(-40)), files.wav('high.wav', tone(-20)));
    await page.until('two sources', async () => (await page.all('[data-source]')).length === 2);
    await (await page.find('[aria-label="Select all sources"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await (await page.clip('low')).click();
    const ruler = await page.find('[data-ruler]');
    await drag(ruler, 120, 0);
    const range = await page.find('[data-range]');
    const before = await range.getRect();
    await drag(ruler, -200, 0, true);
    expect(await (await page.find('[data-range]')).getRect()).toEqual(before);
    const at = await playhead();
    await drag(await page.find('[aria-label="Playhead in the programme"]'), 150, 0, true);
    expect(await playhead()).toBe(at);
    await press('m');
    const marker = await page.find('[data-marker]');
    const label = await marker.getAttribute('aria-label');
    await drag(marker, 90, 0, true);
    expect(await (await page.find('[data-marker]')).getAttribute('aria-label')).toBe(label);
    await page.button('Undo: Add a marker');
    expect(await page.all('[data-clip][aria-selected=true]')).toHaveLength(1);
    await press(Key.ESCAPE);
  });

  it('a source from the tray, and a track among the others', async () => {
    const { page } = stage;
    for (const name of ['Track 2', 'Track 3']) {
      await page.press('Add track');
      await page.field(`Name of track ${name}`);
    }
    const [, lane] = await page.all('[data-track]');
    const tray = await page.find('[data-tray="low.wav"]');
    const [from, to] = [await tray.getRect(), await lane!.getRect()];
    const way = [to.x + 200 - from.x - from.width / 2, to.y + 20 - from.y - from.height / 2] as const;
    await drag(tray, ...way, true);
    expect(await page.all('[data-clip]')).toHaveLength(2);
    await drag(tray, ...way);
    await page.until('it to be placed', async () => (await page.all('[data-clip]')).length === 3);
    await page.button('Undo: Place low.wav');
    const order = await tracks();
    await drag(await page.find('[aria-label="Move track Track 3"]'), 0, -300, true);
    expect(await tracks()).toEqual(order);
  });
});

describe('tracks', () => {
  it('change places by pointer and by keys, each as one step', async () => {
    const { page } = stage;
    expect(await tracks()).toEqual(['Dialogue', 'Track 2', 'Track 3']);
    // What the drag before this one put back may still be on its way there, and be taken hold of a moment later only.
    await page.until('the third to be first', async () => {
      if ((await tracks())[0] === 'Track 3') return true;
      await drag(await page.find('[aria-label="Move track Track 3"]'), 0, -300);
      return (await tracks())[0] === 'Track 3';
    });
    await page.button('Undo: Move track Track 3');
    await page.driver.executeScript(
      'arguments[0].focus()',
      await page.find('[aria-label="Move track Track 3"]'),
    );
    // Each key is heard by what the one before it has set up.
    const said = async (words: RegExp): Promise<void> => {
      await page.until(`${words}`, async () =>
        words.test(await page.attribute('[id^=DndLiveRegion]', 'textContent')),
      );
    };
    await press(Key.SPACE);
    await said(/^Track 3 is picked up/);
    await press(Key.ARROW_DOWN);
    await said(/^Track 3 goes where Dialogue is/);
    await press(Key.SPACE);
    await page.until('it to be second', async () => (await tracks())[1] === 'Track 3');
  });
});

describe('what is set is there again', () => {
  it('widths and heights, by pointer and by keys', async () => {
    const { page } = stage;
    const side = await width('[aria-label="Side sheet"]');
    await drag(await page.find('[aria-label="Size of the side sheet"]'), -80, 0);
    await page.until(
      'a wider side sheet',
      async () => (await width('[aria-label="Side sheet"]')) > side + 60,
    );
    const lanes = await height('[data-track]');
    await drag(await page.find('[data-head-edge=height]'), 0, 40);
    await page.until('a higher lane', async () => (await height('[data-track]')) > lanes + 30);
    const edge = await page.find('[role=separator][data-head-edge=width]');
    await page.driver.executeScript('arguments[0].focus()', edge);
    await press(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    const heads = await edge.getAttribute('aria-valuenow');
    expect(heads).toBe('224');
    const [nowSide, nowLane] = [await width('[aria-label="Side sheet"]'), await height('[data-track]')];
    await page.kept();
    await page.driver.navigate().refresh();
    await page.find('[data-track]');
    await page.until(
      'the side sheet to be as wide',
      async () => Math.abs((await width('[aria-label="Side sheet"]')) - nowSide) < 2,
    );
    expect(Math.abs((await height('[data-track]')) - nowLane)).toBeLessThan(2);
    expect(await page.attribute('[role=separator][data-head-edge=width]', 'aria-valuenow')).toBe(heads);
  });

  it('order, columns and widths of a table', async () => {
    const { page } = stage;
    await page.press('Sources');
    await page.find('[data-source]');
    const names = async () =>
      Promise.all((await page.all('[data-source]')).map((row) => row.getAttribute('data-source')));
    await (await page.find('[data-sort=integratedLufs]')).click();
    await page.until('the quiet one first', async () => (await names())[0] === 'low.wav');
    await (await page.find('[data-sort=integratedLufs]')).click();
    await page.until('the loud one first', async () => (await names())[0] === 'high.wav');
    await page.press('Columns');
    await (await page.find('[data-column=wave]')).click();
    await press(Key.ESCAPE);
    await page.until('no waveform', async () => (await page.all('[data-cell=wave]')).length === 0);
    const before = await width('[data-cell=length]');
    await drag(await page.find('[data-edge-of=length]'), 50, 0);
    await page.until('a wider column', async () => (await width('[data-cell=length]')) > before + 40);
    const wide = await width('[data-cell=length]');
    await page.driver.navigate().refresh();
    await page.find('[data-source]');
    await page.until('no waveform', async () => (await page.all('[data-cell=wave]')).length === 0);
    expect(await width('[data-cell=length]')).toBe(wide);
    expect((await names())[0]).toBe('high.wav');
    await page.type('Find', 'low');
    await page.until('one row', async () => (await names()).join() === 'low.wav');
    expect(await page.errors()).toEqual([]);
  });
});

describe('every proposal', () => {
  it('is previewed, picked and typed over: sources, parts, the programme’s shift', async () => {
    const { page } = stage;
    await page.type('Find', Key.BACK_SPACE);
    await page.until('both rows', async () => (await page.all('[data-source]')).length === 2);
    await (await page.find('[aria-label="Select all sources"]')).click();
    await page.press('Level…');
    await page.find('[data-proposal="low.wav"]');
    await page.press('Gain of low.wav');
    await press('5', Key.ENTER);
    await page.until('the typed gain', async () =>
      /By hand: \+5\.0 dB/.test(await page.text('[data-proposal="low.wav"]')),
    );
    await (await page.find('[aria-label="Apply to high.wav"]')).click();
    await page.press('Trim 1 source');
    await page.button('Undo: Trim 1 source each to −23.0 LUFS, 1 by hand');
    await page.press('Programme');
    await page.measured();
    const before = Number(await page.attribute('[data-figure=integrated]', 'data-value'));
    await page.press('Programme to target');
    await page.press('Gain of Programme');
    await press('-4', Key.ENTER);
    await page.press('Preview');
    await page.until('what it would be', async () => {
      const now = Number(await page.attribute('[data-figure=integrated]', 'data-value'));
      return Math.abs(now - before + 4) < 0.01;
    });
    await page.press('Apply');
    await page.button('Undo: Change every track’s gain by −4.00 dB');
    await page.measured();
    expect(Number(await page.attribute('[data-figure=integrated]', 'data-value'))).toBeCloseTo(before - 4, 2);
    expect(await page.errors()).toEqual([]);
  });
});

describe('a small window', () => {
  it.each([
    [1024, 700],
    [853, 533],
  ])('of %d × %d scrolls nowhere sideways, and a sheet leaves two lanes', async (width, height) => {
    const { page } = stage;
    const size = { width, height, deviceScaleFactor: 1, mobile: false };
    await page.driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', size);
    if (width === 1024) await page.openDemo();
    const sideways = (): Promise<number> =>
      page.driver.executeScript('return document.documentElement.scrollWidth - innerWidth');
    for (const name of ['Sources', 'Handover', 'Programme']) {
      await page.press(name);
      await page.find(`[aria-current=page][href$="/${name.toLowerCase()}"]`);
      expect(await sideways()).toBe(0);
    }
    await page.press('Plan…');
    await page.find('section[aria-label=Plan]');
    const whole = (): Promise<number> =>
      page.driver.executeScript(`
        const top = document.querySelector('[data-ruler]').getBoundingClientRect().bottom;
        const bottom = document.querySelector('section[aria-label=Plan]').getBoundingClientRect().top;
        return [...document.querySelectorAll('[data-track]')].filter((lane) => {
          const box = lane.getBoundingClientRect();
          return box.top >= top - 1 && box.bottom <= bottom + 1;
        }).length`);
    await page.until('two whole lanes over the sheet', async () => (await whole()) >= 2);
    await page.press('Close');
  });
});
