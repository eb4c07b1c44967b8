import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();

const playing = async (): Promise<boolean> => (await stage.page.text('[role=toolbar]')).startsWith('Stop');

describe('listening', () => {
  it('plays from the playhead, which moves on, and stops where it is', async () => {
    const { page, files } = stage;
    await page.newProject();
    // One after the other: in which order they are placed is the order in which they came in.
    await page.upload(files.wav('a.wav', tones([{ dbfs: -30, seconds: 26 }], 48_000, 2)));
    await page.find('[data-source="a.wav"]');
    await page.upload(files.wav('b.wav', tones([{ dbfs: -25, seconds: 3 }], 44_100, 1), 44_100));
    await page.until('both sources', async () => (await page.all('[data-source]')).length === 2);
    await (await page.find('[aria-label="Select all sources"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await page.measured();
    expect(await stage.page.playhead()).toBe(0);
    await page.press('Play');
    await page.until('the playhead to move', async () => (await stage.page.playhead()) > 0.5);
    await page.press('Stop');
    const stopped = await stage.page.playhead();
    expect(stopped).toBeGreaterThan(0.4);
    await page.measured();
    expect(await stage.page.playhead()).toBe(stopped);
  });

  it('goes on through an edit, and with a track soloed', async () => {
    const { page } = stage;
    await page.press('Play');
    await page.until('it to play', playing);
    const before = await stage.page.playhead();
    await page.press('Solo Dialogue');
    await (await page.clip('a')).click();
    const field = await page.find('[data-gain-field]');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '-12', Key.ENTER);
    await page.until('the playhead to move on', async () => (await stage.page.playhead()) > before + 0.4);
    expect(await playing()).toBe(true);
  });

  it('stops by itself at the end and returns to the start', async () => {
    const { page } = stage;
    await page.type('Place of the playhead', '27\n');
    await page.until('the end', async () => !(await playing()));
    expect(await stage.page.playhead()).toBe(0);
  });

  it('starts and stops by the space bar, and where the skyline is clicked', async () => {
    const { page } = stage;
    const skyline = await page.find('[role=slider]');
    await page.driver.actions().move({ origin: skyline }).click().perform();
    const middle = await stage.page.playhead();
    expect(middle).toBeGreaterThan(3);
    await skyline.sendKeys(Key.ARROW_RIGHT);
    expect(await stage.page.playhead()).toBeCloseTo(middle + 1, 0);
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

describe('listening to a part, and to what was before', () => {
  const value = async (bar: string): Promise<number> =>
    Number((await stage.page.text(`[data-value=${bar}]`)).replace('−', '-'));

  it('repeats a range drawn over the ruler', async () => {
    const { page } = stage;
    const ruler = await (await page.find('[data-ruler]')).getRect();
    const [clip] = await page.all('[data-clip]');
    const { x, width } = await clip!.getRect();
    const y = Math.round(ruler.y + 10);
    await page.driver
      .actions()
      .move({ x: Math.round(x + width * 0.3), y })
      .press()
      .move({ x: Math.round(x + width * 0.36), y })
      .move({ x: Math.round(x + width * 0.42), y })
      .release()
      .perform();
    const length = Number(/0:0(\d\.\d)/.exec(await page.text('[data-range-length]'))?.[1]);
    expect(length).toBeGreaterThan(0.5);
    await page.press('Loop the range');
    await page.press('Play');
    // Having come back to its beginning once, it went through its end.
    let last = 0;
    await page.until('it to come back', async () => {
      const now = await stage.page.playhead();
      const back = now < last - 0.2;
      last = now;
      return back;
    });
    expect(await playing()).toBe(true);
    await page.press('Stop');
    await page.press('Clear range');
    expect(await page.all('[data-range]')).toHaveLength(0);
  });

  it('meters show what is stored for the place, and hold the highest peak until it is cleared', async () => {
    const { page } = stage;
    await page.measured();
    await page.type('Place of the playhead', '3.1\n');
    // A steady tone of 1 kHz is as loud at any moment as it is in all (EBU Tech 3341, case 1), and its peaks as high.
    const { lufs } = await page.clipLevel('a');
    const shown = lufs.toFixed(1).replace('-', '−');
    // At the place before, the last 400 ms were as loud, but not the last 3 s.
    for (const bar of ['momentary', 'shortTerm'])
      await page.until(
        `the ${bar} meter to be there`,
        async () => Math.abs((await value(bar)) - lufs) < 0.15,
      );
    expect(await value('integrated')).toBeCloseTo((await page.dial('integrated')).value, 1);
    await (await page.find('[data-peak-hold$=whole]')).click();
    expect(await page.text('[data-peak-hold$=whole]')).toBe('— dBTP');
    await page.press('Play');
    await page.until('a peak to be held', async () =>
      (await page.text('[data-peak-hold$=whole]')).includes(`${shown} dBTP`),
    );
    await page.press('Stop');
    // Held, and no lower; what was played on until it stopped may have been louder.
    const held = Number(/−?\d+\.\d/.exec(await page.text('[data-peak-hold$=whole]'))![0].replace('−', '-'));
    expect(held).toBeGreaterThanOrEqual(Number(lufs.toFixed(1)));
    await (await page.find('[data-peak-hold$=whole]')).click();
    await page.until('it to be cleared', async () =>
      /— dBTP/.test(await page.text('[data-peak-hold$=whole]')),
    );
  });

  it('compares with what was before, matched in loudness when asked', async () => {
    const { page } = stage;
    await page.measured();
    const before = (await page.dial('integrated')).value;
    await page.press('Offset all gains');
    await page.type('All tracks by (dB)', '-7\n');
    await page.measured();
    expect((await page.dial('integrated')).value).toBeCloseTo(before - 7, 1);
    await page.press('Compare: current');
    await page.press('Before the last step');
    await page.find('[data-hearing=lastStep]');
    await page.press('Compare: before');
    await page.press('At matched loudness');
    await page.until('the shift', async () =>
      /The other plays at −7\.0 dB/.test(await page.text('[aria-label="What is heard"]')),
    );
    await page.press('Current');
    await page.driver.actions().sendKeys('b').perform();
    await page.find('[data-hearing=lastStep]');
    await page.driver.actions().sendKeys('b').perform();
    await page.find('[data-hearing=present]');
    expect(await page.errors()).toEqual([]);
  });
});
