import { Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { setStage } from './support/setup';

const stage = setStage();
const press = (...keys: string[]): Promise<void> =>
  stage.page.driver
    .actions()
    .sendKeys(...keys)
    .perform();
const cell = (clip: string, column: string): Promise<string> =>
  stage.page.text(`[data-ledger="${clip}"] [data-cell=${column}]`);
const number = (text: string): number => Number(text.replace('−', '-'));
const names = async (): Promise<string[]> =>
  Promise.all(
    (await stage.page.all('[data-ledger]')).map(async (row) => (await row.getAttribute('data-ledger')) ?? ''),
  );

/** Types into a cell of a row. */
async function into(clip: string, column: 'gain' | 'after', text: string): Promise<void> {
  const { page } = stage;
  await (await page.find(`[data-ledger="${clip}"] [data-cell=state]`)).click();
  await (await page.find(`[data-ledger="${clip}"] [data-cell=${column}]`)).click();
  await (
    await page.find(`[data-ledger="${clip}"] [data-cell=${column}] input`)
  ).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
}

describe('the demo put right through the ledger', () => {
  it('shows every clip with what is measured of it, sorted and found as asked', async () => {
    const { page } = stage;
    await page.openDemo();
    const { lufs } = await page.clipLevel('mechanic-the-spoon');
    await page.press('Ledger');
    await page.find('[data-ledger="mechanic-the-spoon"]');
    expect(number(await cell('mechanic-the-spoon', 'after'))).toBeCloseTo(lufs, 2);
    await page.press('Peak');
    await page.press('Peak');
    expect((await names())[0]).toBe('music-frostline-theme');
    await page.type('Find', 'observer');
    await page.until('the observer’s rows', async () => (await names()).length === 6);
    await page.press('Show all');
  });

  it('a figure typed into a row sets its gain, into a chosen row that of all chosen', async () => {
    const { page } = stage;
    await into('frost-alarm', 'after', 'loud');
    await page.until('what is accepted', async () =>
      /After: a number from −70 to 0 LUFS/.test(await page.tooltips()),
    );
    await press(Key.ESCAPE);
    await into('frost-alarm', 'after', '-26');
    await page.until('it to be there', async () => (await cell('frost-alarm', 'after')) === '−26.00');
    await page.button('Undo: Bring frost-alarm to −26.0 LUFS');
    expect(await cell('frost-alarm', 'reason')).toMatch(/levelled to −26\.0 LUFS by itself/);
    await into('frost-alarm', 'gain', '-=2');
    await page.until('2 dB less', async () => (await cell('frost-alarm', 'after')) === '−28.00');
    expect(await page.attribute('[data-ledger="frost-alarm"]', 'data-state')).toBe('byHand');
  });

  it('voices, music and ambience are brought where they belong, and the programme to its target', async () => {
    const { page } = stage;
    const all = async (field: string, value: string): Promise<void> => {
      await page.pick(field, value);
      await page.until('only those rows', async () => (await page.all('[data-ledger]')).length < 20);
      await (await page.find('[data-ledger]')).click();
      await page.driver.actions().keyDown(Key.SHIFT).sendKeys(Key.END).keyUp(Key.SHIFT).perform();
    };
    for (const [role, goal] of [
      ['Dialogue', '-23'],
      ['Narration', '-23'],
      ['Music', '-34'],
      ['Ambience', '-42'],
    ] as const) {
      await all('Role', role);
      const rows = await page.all('[data-ledger]');
      expect(await page.all('[data-ledger][aria-selected=true]')).toHaveLength(rows.length);
      const first = await rows[0]!.getAttribute('data-ledger');
      await (await page.find(`[data-ledger="${first}"] [data-cell=after]`)).click();
      await (
        await page.find('[data-cell=after] input')
      ).sendKeys(Key.chord(Key.CONTROL, 'a'), goal, Key.ENTER);
      await page.button(`Undo: Bring `);
      await page.press('Show all');
    }
    await page.measured();
    await page.press('Programme to target');
    await page.press('Apply');
    await page.measured();
    expect((await page.dial('integrated')).value).toBeCloseTo(-23, 1);
  });
});

describe('the ladder', () => {
  it('by keyboard only: through the clips, up and down, undone', async () => {
    const { page } = stage;
    await page.press('Ladder');
    const ladder = await page.find('[data-ladder=bars]');
    await page.driver.executeScript('arguments[0].focus()', ladder);
    const current = (): Promise<string> => page.attribute('[data-ladder-clip]', 'id');
    const gain = async (): Promise<number> => Number(await page.attribute('[data-ladder-clip]', 'data-gain'));
    await press(Key.ARROW_RIGHT);
    await press(Key.ARROW_RIGHT);
    const name = await current();
    const before = await gain();
    await press(Key.ARROW_UP);
    await page.until('half a dB more', async () => Math.abs((await gain()) - before - 0.5) < 1e-9);
    await page.driver.actions().keyDown(Key.SHIFT).sendKeys(Key.ARROW_DOWN).keyUp(Key.SHIFT).perform();
    await page.until('three dB less', async () => Math.abs((await gain()) - before + 2.5) < 1e-9);
    await page.driver.actions().keyDown(Key.CONTROL).sendKeys('z').sendKeys('z').keyUp(Key.CONTROL).perform();
    await page.until('it as before', async () => Math.abs((await gain()) - before) < 1e-9);
    await press(Key.ARROW_LEFT);
    expect(await current()).not.toBe(name);
    await press('2');
    await page.find('[data-ledger]');
    await press('3');
    await page.find('[data-ladder]');
  });

  it('a bar is dragged like a waterline; what is chosen there is chosen everywhere', async () => {
    const { page } = stage;
    const ladder = await (await page.find('[data-ladder=bars]')).getRect();
    const hand = page.driver.actions();
    await hand
      .move({ x: Math.round(ladder.x + 66), y: Math.round(ladder.y + ladder.height / 2) })
      .press()
      .move({ origin: Origin.POINTER, x: 0, y: -12 })
      .perform();
    await page.find('[data-readout]');
    await page.driver.actions().release().perform();
    const step = await page.button('Undo: Gain of narrator');
    expect(await step.getText()).toMatch(/dB/);
    await page.press('Lanes');
    await page.until(
      'it to be chosen there',
      async () => (await page.all('[data-clip][aria-selected=true]')).length === 1,
    );
    await page.press('Ladder');
    await page.press('Distribution');
    await page.find('[data-ladder=distribution]');
    expect(await page.errors()).toEqual([]);
    await page.press('Lanes');
  });
});

describe('the demo put right through the ladder, by keyboard alone', () => {
  /** Where what a clip holds belongs, LUFS. */
  const goalOf = (name: string): number =>
    name.startsWith('music') ? -34 : name.startsWith('ambience') ? -42 : name.startsWith('frost') ? -27 : -23;
  /** The keys that move a gain by so much, to a tenth of a dB. */
  function strokes(db: number): readonly (readonly [modifier: string | null, times: number])[] {
    const tenths = Math.round(Math.abs(db) * 10);
    return [
      [Key.SHIFT, Math.floor(tenths / 30)],
      [null, Math.floor((tenths % 30) / 5)],
      [Key.ALT, tenths % 5],
    ];
  }

  it('clip by clip to where it belongs, then the programme to its target', async () => {
    const { page } = stage;
    await page.openDemo({ again: true });
    await press('3');
    await page.find('[data-ladder=bars]');
    const focused = async (): Promise<string | null> =>
      (await page.driver.switchTo().activeElement()).getAttribute('data-ladder');
    for (let i = 0; i < 80 && (await focused()) === null; i++) await press(Key.TAB);
    expect(await focused()).toBe('bars');
    const clip = '[data-ladder-clip]';
    await press(Key.ARROW_RIGHT);
    for (let last = ''; ;) {
      const name = await page.attribute(clip, 'data-ladder-clip');
      const id = await page.attribute(clip, 'id');
      if (id === last) break;
      last = id;
      const db = goalOf(name) - Number(await page.attribute(clip, 'data-lufs'));
      const hand = page.driver.actions();
      const key = db > 0 ? Key.ARROW_UP : Key.ARROW_DOWN;
      for (const [modifier, times] of strokes(db)) {
        if (modifier !== null) hand.keyDown(modifier);
        for (let i = 0; i < times; i++) hand.sendKeys(key);
        if (modifier !== null) hand.keyUp(modifier);
      }
      await hand.perform();
      await page.until(
        `${name} to be where it belongs`,
        async () => Math.abs(Number(await page.attribute(clip, 'data-lufs')) - goalOf(name)) < 0.06,
      );
      await press(Key.ARROW_RIGHT);
    }
    await page.measured();
    await page.driver.actions().keyDown(Key.SHIFT).sendKeys('L').keyUp(Key.SHIFT).perform();
    await page.find('[data-proposal=Programme]');
    await page.until('the button that applies it to have the focus', () =>
      page.driver.executeScript<boolean>('return document.activeElement.textContent.startsWith("Apply ")'),
    );
    await press(Key.ENTER);
    await page.button('Undo: Bring programme to −23.0 LUFS');
    await page.measured();
    expect((await page.dial('integrated')).value).toBeCloseTo(-23, 1);
    expect(await page.attribute('[data-verdict]', 'data-verdict')).toBe('meets');
    await press('1');
    await page.find('[data-clip]');
  });
});

describe('the plan', () => {
  it('puts the demo right in one move: seen first, one step, and again it changes nothing', async () => {
    const { page } = stage;
    await page.openDemo({ again: true });
    const before = await page.dial('integrated');
    await page.press('Plan…');
    // What was dragged on the ladder was set by hand: the plan levels it only when told to.
    expect(await page.text('[data-plan-part=ambience] [data-step]')).toMatch(/12 set by hand/);
    await page.press('gains set by hand');
    await page.choose('Level all of them as well');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.until(
      'the shift to be known',
      async () => (await page.attribute('[data-plan-shift]', 'data-plan-shift')) !== '',
    );
    // All tracks were moved together before, which is no part of the plan.
    const ambience = await page.text('[data-plan-part=ambience] [data-step]');
    const moved = /To −(\d\d\.\d) LUFS: 12 of 12 change/.exec(ambience);
    const goal = (relative: number): string =>
      (relative + 43 - Number(moved![1])).toFixed(1).replace('-', '−');

    await page.type('Level of Effects', '99\n');
    await page.until('what is accepted', async () =>
      /Level of Effects: a number from −60 to 20 LU/.test(await page.tooltips()),
    );
    await page.type('Level of Effects', '-3\n');
    await page.until('it to be taken up', async () =>
      (await page.text('[data-plan-part=effects] [data-step]')).startsWith(`To ${goal(-26)} LUFS`),
    );
    await page.until(
      'the shift to be known',
      async () => (await page.attribute('[data-plan-shift]', 'data-plan-shift')) !== '',
    );
    const told = await page.text('[data-plan-shift]');
    const predicted = -Number(/Integrated −(\d+\.\d) LUFS/.exec(told)![1]);
    // The preview has the common shift as well.
    await page.until(
      'the preview to measure what is predicted',
      async () => Math.abs((await page.dial('integrated')).value - predicted) < 0.06,
    );
    await page.press('Apply plan');
    await page.button('Undo: Apply plan Speech first');
    await page.measured();
    const integrated = await page.dial('integrated');
    expect(integrated.value).toBeCloseTo(predicted, 1);
    expect((await page.dial('truePeak')).state).toBe('within');
    await page.press('Plan…');
    await page.until('that nothing is to be done', async () =>
      /Everything stands where the plan wants it|the programme’s true peak reaches/.test(
        await page.text('[data-plan-shift]'),
      ),
    );
    for (const step of await page.all('[data-plan-part] [data-step]'))
      expect(await step.getText()).toMatch(/all stand there already|no clips/);
    await page.press('Close');
    await page.press('Undo: Apply plan');
    await page.measured();
    expect(await page.dial('integrated')).toEqual(before);
    expect(await page.errors()).toEqual([]);
  });

  it('is kept by name, and as a file that can be opened again', async () => {
    const { page, files } = stage;
    await page.press('Plan…');
    await (await page.find('[data-plan]')).click();
    await page.choose('Save as…');
    await page.type('Name of the plan', 'Night radio\n');
    await page.find('[data-plan="Night radio"]');
    await (await page.find('[data-plan]')).click();
    await page.choose('Save as a file');
    const saved = (await page.saved('Night radio.plan.json')).toString('utf8');
    const input = await page.find('input[aria-label="Plan file"]');
    await input.sendKeys(files.write('other.plan.json', saved.replace('Night radio', 'Morning radio')));
    await page.find('[data-plan="Morning radio"]');
    await input.sendKeys(files.write('none.json', '{}'));
    await page.until('the reason', async () =>
      /This is not a plan: /.test(await page.text('section[aria-label=Plan] [role=alert]')),
    );
    await page.press('Close');
  });
});
