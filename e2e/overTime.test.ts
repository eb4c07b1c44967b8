import { Key, Origin, type WebElement } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
import { longPeak } from '@/core/testing/longPeak';
import { noise } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();
const RATE = 48_000;
const SECONDS = 12;

/** Twelve seconds in which the three from 6 s on are shouted: 12 dB louder. */
function shouted(): Float32Array[] {
  const samples = noise(SECONDS * RATE, 0.05, 3);
  for (let i = 6 * RATE; i < 9 * RATE; i++) samples[i]! *= 10 ** (12 / 20);
  return [samples];
}

/** Opens a fold of the side sheet, if it is not open yet. */
async function openFold(name: string): Promise<void> {
  const { page } = stage;
  await page.find('aside details');
  await page.driver.executeScript(
    `for (const fold of document.querySelectorAll('aside details'))
      if (fold.querySelector('summary').textContent.startsWith(arguments[0])) {
        fold.open = true;
        fold.scrollIntoView({block: 'nearest'});
      }`,
    name,
  );
}

/** Where a time of a clip lies, from the middle of its element. */
async function offset(clip: WebElement, seconds: number): Promise<number> {
  const { width } = await clip.getRect();
  return Math.round((seconds / SECONDS - 0.5) * width);
}

/** Adds a point. On a busy machine two clicks may come too far apart to be one double click: then it is done again. */
async function addPoint(clip: WebElement, seconds: number, y: number): Promise<void> {
  const { page } = stage;
  const x = await offset(clip, seconds);
  const before = (await points()).length;
  await page.until(`a point at ${seconds} s`, async () => {
    await page.driver.actions().move({ origin: clip, x, y }).doubleClick().perform();
    await page.frames(2);
    return (await points()).length > before;
  });
}

/** Drags from one place of a clip to another, pixels from its middle. */
async function drag(
  clip: WebElement,
  from: { x: number; y: number },
  by: { x: number; y: number },
): Promise<void> {
  await stage.page.driver
    .actions()
    .move({ origin: clip, ...from })
    .press()
    .move({ origin: Origin.POINTER, x: by.x / 2, y: by.y / 2 })
    .move({ origin: Origin.POINTER, x: by.x / 2, y: by.y / 2 })
    .release()
    .perform();
}

/** The points as their table tells them: place and gain. */
async function points(): Promise<string[]> {
  const fields = await stage.page.all('[data-point] input:not([type=checkbox])');
  return Promise.all(fields.map(async (field) => (await field.getAttribute('value')) ?? ''));
}

/** Where the clip's line lies, from the middle of its element. */
async function lineOf(clip: WebElement): Promise<number> {
  const { height } = await clip.getRect();
  return Math.round(Number(await clip.getAttribute('data-waterline')) - height / 2);
}

describe('the limiter', () => {
  it('brings a hot programme under its ceiling; the file that is handed over keeps it', async () => {
    const { page, files } = stage;
    await page.newProject();
    const claps = noise(6 * RATE, 0.9, 8).map((x, i) => x * (i % 24_000 < 100 ? 1 : 0.06));
    await page.upload(files.wav('claps.wav', [claps, claps]));
    await page.placeSource('claps.wav');
    await page.measured();
    await page.press('Programme to target');
    await page.press('Lower places with peaks');
    expect(await page.text('[role=table]')).toMatch(
      /dB on every track: .* That is −\d+\.\d LU from the target: more than 10 % of it would have to go down/,
    );
    await page.press('Limit peaks');
    await page.until('the gain to be found', async () =>
      /The limiter takes up to .* dB off its peaks/.test(await page.text('[role=table]')),
    );
    expect(await page.text('[role=table]')).toContain('Gain alone would stop at');
    await page.press('Apply');
    await page.button('Undo: Bring programme to −23.0 LUFS, limited to −1.0 dBTP');
    await page.measured();
    const integrated = await page.dial('integrated');
    expect(integrated.value).toBe(-23);
    expect((await page.dial('truePeak')).value).toBeLessThanOrEqual(-1);
    await page.press('Compare: current');
    await page.press('Without limiters');
    await page.find('[data-hearing=noLimiters]');
    await page.press('Compare: no limiters');
    await page.press('Current');
    await openFold('Programme limiter');
    await page.until('what it does', async () =>
      /Up to −\d+\.\d dB at .*; it works for/.test(await page.text('[data-reduction]')),
    );
    await page.press('Handover');
    await page.press('Render and measure');
    await page.find('[data-file-verdict="true"]');
    await page.press('Save file');
    const bytes = await page.saved('New project.wav');
    const reader = await openPcm(bytesSource(bytes));
    const [left] = await reader.read(0, 30_000);
    expect(20 * Math.log10(longPeak(left!, 0.9, 96))).toBeLessThan(-0.95);
  });

  it('on a clip lets it reach its level, as measured afterwards', async () => {
    const { page, files } = stage;
    await page.newProject();
    const claps = noise(6 * RATE, 0.9, 8).map((x, i) => x * (i % 24_000 < 100 ? 1 : 0.06));
    await page.upload(files.wav('claps.wav', [claps, claps]));
    await page.placeSource('claps.wav');
    await page.press('Level all clips');
    await page.press('Limit peaks');
    const row = '[data-proposal=claps]';
    await page.until('the gain to be found', async () =>
      /to −23\.0 LUFS\. The limiter takes up to .* Gain alone would stop at/.test(await page.text(row)),
    );
    await page.press('Apply 1 gain');
    await page.button('Undo: Level 1 clip each to −23.0 LUFS, 1 limited to −1.0 dBTP');
    await page.measured();
    expect((await page.dial('integrated')).value).toBe(-23);
    expect((await page.dial('truePeak')).value).toBeLessThanOrEqual(-1);
    expect(await page.errors()).toEqual([]);
  });
});

describe('gain over time', () => {
  it('a shout is brought down by four points', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('argument.wav', shouted()));
    await page.placeSource('argument.wav');
    const before = await page.clipLevel('argument');
    const clip = await page.clip('argument');
    await clip.click();
    await openFold('Gain curve');
    for (const seconds of [5.9, 6, 9, 9.1]) await addPoint(clip, seconds, 25);
    expect(await points()).toHaveLength(8);
    await page.button('Undo: Add a point to argument');
    // The line between the two in the middle is dragged down; its ramps follow.
    await drag(clip, { x: await offset(clip, 7.5), y: await lineOf(clip) }, { x: 0, y: 40 });
    await page.button('Undo: Move 2 points of argument by −');
    const [, a, , b, , c, , d] = await points();
    expect([a, d]).toEqual(['±0.0', '±0.0']);
    expect(b).toBe(c);
    expect(b).toMatch(/^−\d/);
    // By number, to just as loud as the rest; eased at both ends.
    for (const at of [1, 2]) {
      const [, gain] = await page.all(`[data-point="${at}"] input:not([type=checkbox])`);
      await gain!.sendKeys(Key.chord(Key.CONTROL, 'a'), '-12', Key.ENTER);
      await page.until('the gain to be taken', async () => (await points())[2 * at + 1] === '−12.0');
    }
    await page.measured();
    const after = await page.until('the clip to be measured anew', async () => {
      const level = await page.clipLevel('argument');
      return level.lufs < before.lufs - 5 ? level : null;
    });
    expect(after.gain).toBe(before.gain);
    await page.press('Undo: Move a point');
    await page.press('Undo: Move a point');
    await page.until('the drag to stand again', async () => (await points())[3] === b);
    // With Shift a band is drawn over them; keys act on the points that are selected, not on the clip.
    await page.press('Undo: Move 2 points');
    await page.press('Redo: Move 2 points');
    await page.driver.actions().keyDown(Key.SHIFT).perform();
    const { height } = await clip.getRect();
    const left = { x: await offset(clip, 5.95), y: Math.round(height / 2) - 6 };
    await drag(clip, left, { x: (await offset(clip, 9.05)) - left.x, y: -Math.round(height / 2) });
    await page.driver.actions().keyUp(Key.SHIFT).perform();
    const boxes = await page.all('[data-point] input[type=checkbox]');
    expect(await Promise.all(boxes.map((box) => box.isSelected()))).toEqual([false, true, true, false]);
    await clip.sendKeys(Key.ARROW_UP, Key.ARROW_UP);
    await page.button('Undo: Change 2 points of argument by +1.0 dB');
    expect(await points()).not.toContain(b);
    expect((await page.clipLevel('argument')).gain).toBe(before.gain);
    await clip.sendKeys(Key.DELETE);
    await page.button('Undo: Remove 2 points of argument');
    expect(await page.all('[data-clip]')).toHaveLength(1);
  });

  it('a track has a curve of its own, dragged on its lane', async () => {
    const { page } = stage;
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await openFold('Gain curves');
    await page.pick('Of', 'Dialogue');
    await page.press('Add point at playhead');
    await page.button('Undo: Add a point to track Dialogue');
    const busPoints = async (): Promise<string[]> => {
      const fields = await page.all('[aria-label="Points of track Dialogue"] input:not([type=checkbox])');
      return Promise.all(fields.map(async (field) => (await field.getAttribute('value')) ?? ''));
    };
    // On its line, beside the clip.
    const clip = await page.clip('argument');
    const { width } = await clip.getRect();
    const horizon = await page.driver.executeScript<number>(
      `const dashes = document.querySelector('[data-lanes] > [aria-hidden] > :last-child');
       const clip = document.querySelector('[data-clip]').getBoundingClientRect();
       return dashes.getBoundingClientRect().top - (clip.top + clip.height / 2);`,
    );
    const beside = { x: Math.round(width / 2) + 7, y: Math.round(horizon) };
    await page.until('a second point', async () => {
      await page.driver
        .actions()
        .move({ origin: clip, ...beside })
        .doubleClick()
        .perform();
      await page.frames(2);
      return (await busPoints()).length === 4;
    });
    expect((await busPoints()).filter((_, i) => i % 2 === 1)).toEqual(['±0.0', '±0.0']);
    await drag(clip, beside, { x: 0, y: 30 });
    await page.button('Undo: Move a point of track Dialogue to −');
    const [, first, , second] = await busPoints();
    expect(first).toBe('±0.0');
    expect(second).toMatch(/^−\d/);
    // It stays selected, and keys act on it.
    await page.driver.actions().sendKeys(Key.ARROW_UP).perform();
    await page.button('Undo: Change 1 point of track Dialogue by +0.5 dB');
    await page.driver.actions().sendKeys(Key.DELETE).perform();
    await page.button('Undo: Remove 1 point of track Dialogue');
    expect(await busPoints()).toEqual([]);
    expect(await page.all('[data-clip]')).toHaveLength(1);
  });

  it('the balance moves from point to point', async () => {
    const { page } = stage;
    await (await page.clip('argument')).click();
    await page.driver.actions().sendKeys(Key.HOME).perform();
    await page.driver.executeScript(
      `for (const fold of document.querySelectorAll('aside details'))
         if (fold.textContent.startsWith('Channels and balance')) fold.open = true;`,
    );
    await page.press('Add balance point at playhead');
    await page.type('Balance at 0:00.000', `L40${Key.ENTER}`);
    await page.button('Undo: Set a balance point of argument');
    await page.type('Balance at 0:00.000', `sideways${Key.ENTER}`);
    await page.until('what is accepted', async () =>
      /Balance is C for the centre, or L or R with a number/.test(await page.text('[role=tooltip]')),
    );
    await (await page.field('Balance at 0:00.000')).sendKeys(Key.ESCAPE);
    expect(await page.text('aside')).toContain('Channels and balance: over time, 1 point');
    await page.press('Turn off, L40 throughout');
    expect(await page.text('aside')).toContain('Channels and balance: L40');
    await page.press('Undo: Turn off the balance over time of argument');
    await page.press('Undo: Set a balance point');
    await page.press('Undo: Add a balance point');
    expect(await page.text('aside')).toContain('Channels and balance: centre');
  });

  it('fades are dragged at the corners, typed, shaped, and put on all that have none', async () => {
    const { page } = stage;
    const clip = await page.clip('argument');
    await clip.click();
    const { width, height } = await clip.getRect();
    const corner = { x: Math.round(-width / 2) + 9, y: Math.round(-height / 2) + 19 };
    await drag(clip, corner, { x: 120, y: 0 });
    await page.button('Undo: Fade in argument over');
    await openFold('Fades');
    const field = await page.field('Fade in (ms)');
    const dragged = Number(await field.getAttribute('value'));
    expect(dragged).toBeGreaterThan(500);
    await page.type('Fade in (ms)', `99999${Key.ENTER}`);
    await page.until('what is accepted', async () =>
      /Fade in is a number from 0 to 12,000 ms/.test(await page.text('aside')),
    );
    await page.type('Fade in (ms)', `250${Key.ENTER}`);
    await page.button('Undo: Fade in argument over 250 ms');
    await page.pick('Shape (in)', 'Smooth');
    await page.button('Undo: Fade in argument: smooth');
    await page.press('where there is none');
    await page.button('Undo: Fade 1 clip by 10 ms');
    expect(await (await page.field('Fade out (ms)')).getAttribute('value')).toBe('10');
    // The one that was there stays.
    expect(await (await page.field('Fade in (ms)')).getAttribute('value')).toBe('250');
    expect(await page.text('aside')).toContain('Left alone: 1 clip with fades of its own');
  });
});

describe('a crossfade', () => {
  it('follows what the two sounds have in common, and its clips when they are trimmed', async () => {
    const { page } = stage;
    // Split in two: the sound goes on as itself.
    const ruler = await page.find('[data-ruler]');
    const { x, width } = await ruler.getRect();
    const whole = await (await page.clip('argument')).getRect();
    const at = Math.round(whole.x + whole.width / 3 - (x + width / 2));
    await page.driver.actions().move({ origin: ruler, x: at, y: 0 }).click().perform();
    await (await page.clip('argument')).click();
    await page.driver.actions().sendKeys('/').perform();
    await page.until('two clips', async () => (await page.all('[data-clip]')).length === 2);
    const [first, second] = await page.all('[data-clip]');
    await first!.click();
    await openFold('Crossfade into');
    await page.type('Before the cut (ms)', `300${Key.ENTER}`);
    await page.button('Undo: Crossfade argument into argument');
    await page.until('the correlation', async () =>
      /The sounds correlate by 1\.00 here/.test(await page.text('[data-join]')),
    );
    await page.type('After the cut (ms)', `100${Key.ENTER}`);
    await page.until('an uneven one', async () => /over 400 ms/.test(await page.text('header')));
    await page.pick('Crossfade law', 'Equal power');
    await page.until('another law', async () => !/correlate/.test(await page.text('[data-join]')));
    // The second clip is trimmed at its start: the fades of both follow.
    const { width: wide, height } = await second!.getRect();
    const edge = { x: Math.round(-wide / 2) + 2, y: Math.round(height / 2) - 6 };
    await drag(second!, edge, { x: 8, y: 0 });
    await page.button('Undo: Trim start of argument');
    await first!.click();
    const fades = async (): Promise<string> =>
      (await (await page.field('Fade out (ms)')).getAttribute('value')) ?? '';
    const out = await page.until('a shorter fade', async () => {
      const value = await fades();
      return Number(value) < 390 && Number(value) > 10 ? value : null;
    });
    await second!.click();
    await page.until('as long at the other side', async () => {
      const value = await (await page.field('Fade in (ms)')).getAttribute('value');
      return value === out;
    });
  });
});

describe('music under speech', () => {
  it('is ducked to a distance under the speech that is found; done again, it stands there', async () => {
    const { page } = stage;
    await page.openDemo();
    const clip = await page.clip('music-frostline-theme');
    await clip.click();
    await page.press('Duck…');
    await page.find('[data-proposal="music-frostline-theme"]');
    await page.press('Find speech in them');
    await page.button('Undo: Find speech in 14 sources');
    await page.until('speech to count where it was found', async () =>
      /^Speech: \d:\d\d\.\d in 14 clips$/.test(await page.text('[data-speech-seconds]')),
    );
    const row = '[data-proposal="music-frostline-theme"]';
    // A distance of one's own is asked for again the next time.
    const usual = await page.text(row);
    await page.type('LU under the speech', '20');
    await page.until('the other distance to count', async () => (await page.text(row)) !== usual);
    const proposed = await page.text(row);
    expect(proposed).toMatch(/alone ±0\.0 dB/);
    const [, db, lufs] = /: (−\d+\.\d) dB, to (−\d+\.\d) LUFS/.exec(proposed)!;
    await page.press('Duck 1 clip');
    await page.button('Undo: Duck music-frostline-theme under speech');
    await page.measured();
    // Measured anew with its curve, it reads what was promised: the row's loudness now is that of the clip as it is.
    await page.press('Duck…');
    await page.until('the clip as it is', async () =>
      (await page.text(row)).includes(`It stands there already: ${lufs} LUFS under speech.`),
    );
    expect((await page.text(row)).split(/\s+/)).toContain(lufs);
    expect(Number(db!.replace('−', '-'))).toBeLessThan(-20);
    await page.press('Close');
    await openFold('Gain curve');
    expect(await points()).toHaveLength(4);
    // A range of the strip at the foot of a clip is dragged.
    const spoken = await page.clip('narrator-4-pressure');
    await spoken.click();
    await openFold('Speech');
    const begin = async (): Promise<string> =>
      (await (await page.find('[aria-label^="Begin of the speech at"]')).getAttribute('value'))!;
    const before = await begin();
    const { width, height } = await spoken.getRect();
    const foot = { x: Math.round(-width / 2) + 8, y: Math.round(height / 2) - 6 };
    await drag(spoken, foot, { x: 12, y: 0 });
    await page.button('Undo: Move a range of speech in narrator-4-pressure');
    expect(await begin()).not.toBe(before);
    expect(await page.errors()).toEqual([]);
  });
});
