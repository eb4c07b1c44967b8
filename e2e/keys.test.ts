import { Key } from 'selenium-webdriver';
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
const withCtrl = (key: string): Promise<void> =>
  stage.page.driver.actions().keyDown(Key.CONTROL).sendKeys(key).keyUp(Key.CONTROL).perform();

/** Every clip's gain and place, from left to right. */
async function clips(): Promise<{ gain: number; left: number; right: number }[]> {
  const all = await stage.page.all('[data-clip]');
  const read = await Promise.all(
    all.map(async (clip) => {
      const { x, width } = await clip.getRect();
      return { gain: Number(await clip.getAttribute('data-gain')), left: x, right: x + width };
    }),
  );
  return read.sort((a, b) => a.left - b.left);
}
const gains = async (): Promise<number[]> => (await clips()).map(({ gain }) => gain);

describe('keys act on what is selected, whatever has the focus', () => {
  it('copies are put one behind the other, and what is pasted is what is raised', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('tone.wav', tone(-30)));
    await page.find('[data-source="tone.wav"] [data-figure=integratedLufs]');
    await (await page.find('[aria-label="Select tone.wav"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await (await page.clip('tone')).click();
    await withCtrl('d');
    await withCtrl('d');
    await page.until('three clips', async () => (await page.all('[data-clip]')).length === 3);
    const [a, b, c] = await clips();
    expect(b!.left).toBeGreaterThan(a!.right - 2);
    expect(c!.left).toBeGreaterThan(b!.right - 2);
    await (await page.all('[data-clip]'))[0]!.click();
    await withCtrl('c');
    await press(Key.END);
    await withCtrl('v');
    await page.until('four clips', async () => (await page.all('[data-clip]')).length === 4);
    await press(Key.ARROW_UP);
    await page.until(
      'the pasted one alone to be raised',
      async () => (await gains()).join() === [0, 0, 0, 0.5].join(),
    );
  });

  it('after all are selected the arrows move all of them, and Enter types for all', async () => {
    const { page } = stage;
    await press(Key.ESCAPE);
    await withCtrl('a');
    await press(Key.ARROW_DOWN);
    await page.until('all to be lower', async () => (await gains()).join() === [-0.5, -0.5, -0.5, 0].join());
    await press(Key.ENTER);
    await page.until('the field to have the focus', () =>
      page.driver.executeScript<boolean>('return document.activeElement.hasAttribute("data-gain-field")'),
    );
    await press('-', '3', Key.ENTER);
    await page.until('all to be there', async () => (await gains()).every((gain) => gain === -3));
    // The keys are the programme's again: Enter goes back to the field, arrows step.
    await page.until('the field to be left', () =>
      page.driver.executeScript<boolean>('return !document.activeElement.hasAttribute("data-gain-field")'),
    );
    await press(Key.ENTER);
    await page.until('the field to have the focus', () =>
      page.driver.executeScript<boolean>('return document.activeElement.hasAttribute("data-gain-field")'),
    );
    await press('-', '4', Key.ENTER);
    await page.until('all to be there', async () => (await gains()).every((gain) => gain === -4));
    await press(Key.ARROW_UP);
    await page.until('all to be stepped', async () => (await gains()).every((gain) => gain === -3.5));
    await press(Key.ESCAPE);
    await press(Key.ESCAPE);
    await page.until(
      'nothing to be selected',
      async () => (await page.all('[data-clip][aria-selected=true]')).length === 0,
    );
  });

  it('Space plays after a button was clicked, and presses the button that was gone to by key', async () => {
    const { page } = stage;
    await page.press('Ladder');
    await page.find('[data-ladder]');
    await page.press('Lanes');
    await page.find('[data-lanes]');
    await press(Key.HOME);
    await press(Key.SPACE);
    await page.button('Stop');
    await press(Key.SPACE);
    await page.button('Play');
    // A button that the keyboard has gone to.
    await page.driver.executeScript('document.querySelector(\'[aria-label="Mute Dialogue"]\').focus()');
    await press(Key.SPACE);
    await page.button('Undo: Mute Dialogue');
    await page.button('Play');
    await page.press('Undo: Mute Dialogue');
  });

  it('Escape closes a sheet from anywhere, before it lets go of what is selected', async () => {
    const { page } = stage;
    await withCtrl('a');
    await press('l');
    await page.find('[data-proposal]');
    const ruler = await page.find('[data-ruler]');
    await page.driver.actions().move({ origin: ruler, x: 40, y: 0 }).click().perform();
    await press(Key.ESCAPE);
    await page.until('the sheet to be gone', async () => (await page.all('[data-proposal]')).length === 0);
    expect(await page.all('[data-clip][aria-selected=true]')).toHaveLength(4);
    await press('p');
    await page.until('the keyboard to be in the sheet', () =>
      page.driver.executeScript<boolean>(
        'return document.activeElement.closest("[aria-label=Plan]") !== null',
      ),
    );
    await press(Key.ESCAPE);
    await page.until('it to be gone', async () => (await page.all('[aria-label=Plan]')).length === 0);
    expect(await page.driver.executeScript('return document.activeElement !== document.body')).toBe(true);
  });
});

describe('the programme’s shift', () => {
  it('leaves every clip’s gain and reason as they are', async () => {
    const { page } = stage;
    const before = await gains();
    await page.press('Programme to target');
    await page.find('[data-proposal=Programme]');
    await page.press('Apply');
    await page.measured();
    expect(await gains()).toEqual(before);
    expect((await page.dial('integrated')).value).toBeCloseTo(-23, 1);
    await page.press('Ledger');
    await page.find('[data-ledger]');
    const reasons = await Promise.all((await page.all('[data-cell=reason]')).map((cell) => cell.getText()));
    expect(reasons.every((reason) => /by hand/i.test(reason))).toBe(true);
    await page.press('Lanes');
  });
});

describe('the keyboard’s place', () => {
  it('is seen on everything it comes to', async () => {
    const { page } = stage;
    await page.find('[data-lanes]');
    const unseen: string[] = [];
    for (let n = 0; n < 45; n++) {
      await press(Key.TAB);
      const bare = await page.driver.executeScript<string | null>(`
        const at = document.activeElement;
        // Past the last one the browser's own controls have it.
        if (at === document.body) return null;
        const framed = at.closest('.MuiOutlinedInput-root, .MuiSwitchBase-root') ?? at;
        const seen = [at, framed].some((one) => getComputedStyle(one).outlineStyle !== 'none');
        return seen || framed.classList.contains('Mui-focused') ? null : at.outerHTML.slice(0, 160);
      `);
      if (bare !== null) unseen.push(bare);
    }
    expect(unseen).toEqual([]);
    expect(await page.errors()).toEqual([]);
  });
});

describe('by keys alone', () => {
  it('from the shelf to a finished, saved file takes under 50 keys', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.driver.get(`${page.base}/projects`);
    await page.until('the first project to have the focus', async () =>
      page.driver.executeScript<boolean>('return document.activeElement?.tagName === "A"'),
    );
    let keys = 0;
    const send = async (...sent: string[]): Promise<void> => {
      keys += sent.length;
      await press(...sent);
    };
    const command = async (letters: string): Promise<void> => {
      keys += 1;
      await withCtrl('k');
      await page.find('[aria-label=Commands] input');
      await send(...letters, Key.ENTER);
    };
    await send(Key.ENTER);
    await page.find('[data-lanes]');
    await page.measured();
    await send('L');
    await page.until('the button that applies to have the focus', async () =>
      page.driver.executeScript<boolean>('return /^Apply/.test(document.activeElement?.textContent ?? "")'),
    );
    await send(Key.ENTER);
    await page.measured();
    await command('render');
    await page.find('[data-file-verdict]');
    await command('save the r');
    await page.saved('Frostline.wav');
    expect(keys).toBeLessThan(50);
    expect(await page.errors()).toEqual([]);
  });
});
