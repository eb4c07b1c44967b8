import { Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
import { noise } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();
const RATE = 48_000;
const press = (...keys: string[]): Promise<void> =>
  stage.page.driver
    .actions()
    .sendKeys(...keys)
    .perform();

/** Twelve seconds in which the three from 6 s on are shouted: 12 dB louder. */
function shouted(): Float32Array[] {
  const samples = noise(12 * RATE, 0.05, 3);
  for (let i = 6 * RATE; i < 9 * RATE; i++) samples[i]! *= 10 ** (12 / 20);
  return [samples];
}

/** Mean level of a range of a sound, dB. */
function levelOf(samples: Float32Array, from: number, to: number): number {
  const part = samples.subarray(from * RATE, to * RATE);
  return 10 * Math.log10(part.reduce((sum, x) => sum + x * x, 0) / part.length);
}

/** Draws a range on the ruler, seconds. */
async function drawRange(from: number, to: number): Promise<void> {
  const { page } = stage;
  const ruler = await page.find('[data-ruler]');
  const clip = await (await page.find('[data-clip]')).getRect();
  const { x, width } = await ruler.getRect();
  const at = (seconds: number): number => Math.round(clip.x + (seconds / 12) * clip.width - (x + width / 2));
  await page.driver
    .actions()
    .move({ origin: ruler, x: at(from), y: 0 })
    .press()
    .move({ origin: ruler, x: at(to), y: 0 })
    .release()
    .perform();
}

const partLevel = (): Promise<string> => stage.page.text('[data-part-level]');

/** How far the part in the range is over the rest of its clip, LU. */
async function partOver(): Promise<number> {
  const [, figure, way] =
    /LUFS, (?:(\d+\.\d) LU (over|under)|as loud as) the rest/.exec(await partLevel()) ?? [];
  return way === undefined ? 0 : Number(figure) * (way === 'over' ? 1 : -1);
}
const partAt = (lu: number): Promise<true> =>
  stage.page.until(
    `the part to be ${lu} LU over the rest`,
    async () => /the rest/.test(await partLevel()) && Math.abs((await partOver()) - lu) < 0.35,
  ) as Promise<true>;

describe('a part of a clip', () => {
  it('that stands out is found, heard, and brought to the rest as one step', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('argument.wav', shouted()));
    await page.find('[data-source="argument.wav"] [data-figure=integratedLufs]');
    await (await page.find('[aria-label="Select argument.wav"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await (await page.clip('argument')).click();
    await page.clipLevel('argument');
    await page.press('Find parts that stand out');
    const row = await page.find('[data-proposal="argument"]');
    expect(await row.getText()).toMatch(
      /From 0:0[56]\.\d to 0:0[89]\.\d it is 1[12]\.\d LU over the rest: −1[12]\.\d dB/,
    );
    await page.press('Hear argument at');
    await page.until(
      'it to be heard',
      async () => (await page.all('[aria-label^="Hear argument"][aria-pressed=true]')).length === 1,
    );
    await page.press('Hear argument at');
    await page.driver.executeScript('document.querySelector(\'[data-name="argument"]\').focus()');
    await press('a');
    await page.button('Stop');
    await press(Key.SPACE);
    await page.button('Play');
    await page.press('Apply argument at');
    await page.button('Undo: Level a part of argument to the rest');
    await page.until('nothing to stand out any more', async () =>
      /Nothing stands out by 6\.0 LU or more/.test(await page.text('[aria-label="Parts that stand out"]')),
    );
    await page.press('Close');
    expect(await page.text('[aria-label="Parts with a gain of their own"]')).toMatch(
      /0:0[56]\.\d.* to 0:0[89]\.\d.*\n−1[12]\.\d/,
    );
  });

  it('is rendered so, and everything outside it as it was', async () => {
    const { page } = stage;
    await page.press('Handover');
    await page.press('Render and measure');
    await page.press('Save file');
    const bytes = await page.saved('New project.wav');
    const reader = await openPcm(bytesSource(bytes));
    const [samples] = await reader.read(0, reader.format.frames);
    const before = shouted()[0]!;
    const change = (from: number, to: number): number =>
      levelOf(samples!, from, to) - levelOf(before, from, to);
    expect(change(6.5, 8.5) - change(0, 5.5)).toBeCloseTo(-12, 0);
    expect(change(9.5, 12)).toBeCloseTo(change(0, 5.5), 2);
    await page.press('Programme');
  });

  it('drawn on the ruler is set by number, by key, silenced and evened out; undo takes each back', async () => {
    const { page } = stage;
    await (await page.clip('argument')).click();
    await drawRange(1, 3);
    await partAt(0);
    await page.type('Gain of the part (dB)', 'loud' + Key.ENTER);
    await page.until('what is accepted', async () =>
      /Gain of the part is a number from −72 to \+48 dB/.test(await page.text('aside')),
    );
    await page.type('Gain of the part (dB)', '-6' + Key.ENTER);
    await partAt(-6);
    await page.driver.executeScript('document.querySelector(\'[data-name="argument"]\').focus()');
    await page.driver
      .actions()
      .keyDown(Key.CONTROL)
      .sendKeys(Key.ARROW_UP, Key.ARROW_UP)
      .keyUp(Key.CONTROL)
      .perform();
    await page.until(
      'a decibel more',
      async () => (await (await page.field('Gain of the part (dB)')).getAttribute('value')) === '−5.00',
    );
    await page.button('Undo: Raise a part of argument by 1.0 dB');
    await press('q');
    await page.until('silence', async () => /nothing in it is over −70 LUFS/.test(await partLevel()));
    await page.driver.actions().keyDown(Key.SHIFT).sendKeys('Q').keyUp(Key.SHIFT).perform();
    await partAt(0);
    await page.press('Undo: Remove the gain');
    await page.press('Undo: Silence');
    await partAt(-5);
    await page.press('To the rest');
    await page.until('it at the rest', async () => /as loud as the rest/.test(await partLevel()));
  });

  it('is dragged by its line, apart from the rest of the clip; a click on it chooses it', async () => {
    const { page } = stage;
    const field = async (): Promise<number> =>
      Number((await (await page.field('Gain of the part (dB)')).getAttribute('value'))!.replace('−', '-'));
    await page.type('Gain of the part (dB)', '-7' + Key.ENTER);
    await partAt(-7);
    const before = await field();
    const element = await page.clip('argument');
    const clip = await element.getRect();
    const line = clip.y + Number(await element.getAttribute('data-waterline'));
    // How many pixels a dB takes on the lane.
    const perLu = (clip.height - 17) / 42;
    const at = { x: Math.round(clip.x + (2 / 12) * clip.width), y: Math.round(line - before * perLu) };
    const hand = page.driver.actions();
    await hand.move(at).press().move({ origin: Origin.POINTER, x: 0, y: 20 }).perform();
    expect(await page.text('[data-readout]')).toMatch(/on this part \(−\d+\.\d+ dB from before\)/);
    // The programme's figures move with the hand, by sums, and are what is measured once it rests.
    await page.until('the true peak to be a bound', async () => {
      await page.driver.actions().move({ origin: Origin.POINTER, x: 1, y: 0 }).perform();
      return /≤/.test(await page.text('[data-figure=truePeak]'));
    });
    const moving = Number(await page.attribute('[data-figure=integrated]', 'data-value'));
    await page.driver.actions().release().perform();
    await page.button('Undo: Part of argument to');
    await page.measured();
    expect(Number(await page.attribute('[data-figure=integrated]', 'data-value'))).toBeCloseTo(moving, 5);
    await page.until('the part to be lower', async () => (await field()) < before - 20 / perLu + 0.2);
    expect((await page.clipLevel('argument')).gain).toBe(0);
    await page.press('Undo: Part of argument to');
    await page.press('Clear range');
    await page.clipLevel('argument');
    await page.driver.actions().move(at).press().release().perform();
    await page.find('[data-range-length]');
    expect(await field()).toBeCloseTo(before, 2);
  });

  it('becomes a clip of its own, split at the ends of the range, and sounds the same', async () => {
    const { page } = stage;
    await page.measured();
    const before = (await page.dial('integrated')).value;
    await page.driver.actions().sendKeys('\\').perform();
    await page.until('three clips', async () => (await page.all('[data-clip]')).length === 3);
    expect(await page.all('[data-clip][aria-selected=true]')).toHaveLength(1);
    await page.measured();
    expect((await page.dial('integrated')).value).toBe(before);
    await page.press('Undo: Split 1 clip at the range');
    await page.until('one clip', async () => (await page.all('[data-clip]')).length === 1);
    await (await page.clip('argument')).click();
  });

  it('is kept, and a level of the whole clip that was worked out before it is stale', async () => {
    const { page } = stage;
    await page.press('Level 1 clip…');
    await page.press('Apply');
    await page.press('Silence');
    await page.kept();
    await page.driver.navigate().refresh();
    await page.clipLevel('argument');
    await page.press('Ledger');
    expect(await page.attribute('[data-ledger="argument"]', 'data-state')).toBe('stale');
    expect(await page.text('[data-ledger="argument"] [data-cell=reason]')).toMatch(
      /; 1 part by a gain of its own$|; 2 parts by a gain of their own$/,
    );
    await page.press('Level all clips…');
    await page.pick('Apply to', '1 stale clip');
    await page.press('Apply 1 gain');
    await page.until(
      'it to be right again',
      async () => (await page.attribute('[data-ledger="argument"]', 'data-state')) === 'right',
    );
  });
});

describe('sets', () => {
  it('are made of a folder, by name and by hand, and levelled together', async () => {
    const { page, files } = stage;
    await page.newProject();
    const folder = files.sounds('day one', {
      'inside a.wav': noise(3 * RATE, 0.2, 5),
      'outside a.wav': noise(3 * RATE, 0.02, 6),
    });
    await page.upload(files.wav('outside b.wav', [noise(3 * RATE, 0.05, 7)]));
    const picker = await page.find('[aria-label="Add a folder"][type=file]');
    await picker.sendKeys(folder);
    await page.until('three sources', async () => (await page.all('[data-source]')).length === 3);
    await page.until('all measured', async () => (await page.all('[data-import]')).length === 0);
    await page.press('Details of inside a.wav');
    expect(await page.text('[data-details="inside a.wav"]')).toMatch(/Folder\s+day one/);
    for (const name of ['inside a.wav', 'outside a.wav', 'outside b.wav'])
      await (await page.find(`[aria-label="Select ${name}"]`)).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await page.press('Lanes');
    await page.until('three clips', async () => (await page.all('[data-clip]')).length === 3);
    const gains = async (): Promise<number[]> =>
      Promise.all(
        ['inside a', 'outside a', 'outside b'].map(async (name) => (await page.clipLevel(name)).gain),
      );
    await gains();
    await page.press('Level all clips…');
    await page.pick('Mode', 'Together by folder');
    await page.press('Apply 3 gains');
    const [inside, outside, other] = await gains();
    expect(inside).toBeCloseTo(outside!, 9);
    expect(other).not.toBeCloseTo(outside!, 3);
    await page.press('Undo: Level 3 clips together');
    await page.press('Level all clips…');
    await page.pick('Mode', 'Together by name');
    await page.type('Names, one per set', 'outside');
    await page.press('Apply 3 gains');
    const [alone, one, two] = await gains();
    expect(one).toBeCloseTo(two!, 9);
    expect(alone).not.toBeCloseTo(one!, 3);
    await page.press('Undo: Level 3 clips together');
    await (await page.clip('inside a')).click();
    await page.driver
      .actions()
      .keyDown(Key.CONTROL)
      .click(await page.clip('outside b'))
      .keyUp(Key.CONTROL)
      .perform();
    await page.type('Set, to level together', 'Guest' + Key.ENTER);
    await page.button('Undo: Add 2 clips to set Guest');
    await page.press('Level 2 clips…');
    await page.pick('Mode', 'Together by set');
    await page.press('Apply 2 gains');
    const [guest, , alsoGuest] = await gains();
    expect(guest).toBeCloseTo(alsoGuest!, 9);
    await page.press('Ledger');
    await page.pick('Set', 'Guest');
    await page.until('two rows', async () => (await page.all('[data-ledger]')).length === 2);
  });

  it('one row of a proposal is heard alone', async () => {
    const { page } = stage;
    await page.press('Show all');
    await page.press('Level 2 clips…');
    await page.press('Hear inside a');
    await page.until(
      'it to be heard',
      async () => (await page.all('[aria-label="Hear inside a"][aria-pressed=true]')).length === 1,
    );
    await page.until(
      'it to end',
      async () => (await page.all('[aria-label="Hear inside a"][aria-pressed=false]')).length === 1,
    );
  });

  it('one row takes a gain that is typed, says what comes of it, and is by hand once applied', async () => {
    const { page } = stage;
    const rowText = (): Promise<string> => page.text('[data-proposal="inside a"]');
    await page.press('Gain of inside a:');
    await press('0x10', Key.ENTER);
    expect(await page.tooltips()).toMatch(/Clip gain is a number from −72/);
    await press(Key.ESCAPE);
    await page.press('Gain of inside a:');
    await press('-4,5 dB', Key.ENTER);
    await page.until('the row to be by hand', async () =>
      /By hand: .*to −\d+\.\d LUFS/.test(await rowText()),
    );
    await page.press('Apply 2 gains');
    await page.button('Undo: Level 2 clips each to −23.0 LUFS, 1 by hand');
    expect(await page.text('[data-ledger="inside a"]')).toMatch(/−4\.50/);
    await page.press('Undo: Level 2 clips');
  });
});

describe('gains set by hand', () => {
  it('are kept by the plan unless they are released, one by one', async () => {
    const { page } = stage;
    await page.press('Lanes');
    await page.openDemo();
    for (const name of ['narrator-1-last-car', 'mechanic-the-spoon']) {
      await (await page.clip(name)).click();
      await (await page.find('[data-gain-field]')).sendKeys(Key.chord(Key.CONTROL, 'a'), '-9', Key.ENTER);
    }
    await page.press('Plan…');
    await page.press('2 gains set by hand: left alone');
    await page.choose('mechanic-the-spoon');
    await press(Key.ESCAPE);
    await page.button('2 gains set by hand: 1 released');
    await page.until(
      'the shift to be known',
      async () => (await page.attribute('[data-plan-shift]', 'data-plan-shift')) !== '',
    );
    await page.press('Apply plan');
    await page.measured();
    expect((await page.clipLevel('narrator-1-last-car')).gain).toBe(-9);
    expect((await page.clipLevel('mechanic-the-spoon')).gain).not.toBe(-9);
    expect(await page.errors()).toEqual([]);
  });
});
