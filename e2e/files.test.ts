import { readFileSync } from 'node:fs';
import { Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { noise, tones } from '@/core/testing/signals';
import { figuresOfBytes } from './support/files';
import { setStage } from './support/setup';

const stage = setStage();
const tone = (dbfs: number, seconds: number, channels: number, rate = 48_000) =>
  tones([{ dbfs, seconds }], rate, channels);

describe('bringing sound in', () => {
  it('measures many files at once; a bad one gets its line and stops nothing', async () => {
    const { page, files } = stage;
    await page.newProject();
    expect(await page.text('main')).toMatch(/Drop audio files here/);
    const paths = [
      files.wav('soft.wav', tone(-36, 5, 2)),
      files.wav('hot.wav', tone(-12, 4, 1), 44_100, 'f32'),
      files.wav('surround.wav', tone(-30, 4, 6), 96_000),
      files.wav('blink.wav', [noise(4_000, 0.3)]),
      files.write('letter.wav', 'Dear diary, it is cold up here.'),
      files.write('empty.wav', ''),
      files.write('cut.wav', readFileSync(files.wav('whole.wav', tone(-20, 6, 1))).subarray(0, 300_000)),
    ];
    await page.upload(...paths);
    await page.until(
      'all files to be dealt with',
      async () => (await page.all('[data-import]:not([data-phase=failed])')).length === 0,
    );
    const failed = await Promise.all((await page.all('[data-import]')).map((line) => line.getText()));
    expect(failed).toHaveLength(2);
    expect(failed.join('\n')).toMatch(
      /letter\.wav\nThis is not an audio file that is known here, whatever its name says\. Convert it/,
    );
    expect(failed.join('\n')).toMatch(/empty\.wav\nThe file is empty\./);
    expect(await page.all('[data-source]')).toHaveLength(5);
  });

  it('shows what the core alone measures', async () => {
    const { page, files } = stage;
    for (const name of ['soft.wav', 'hot.wav', 'surround.wav', 'cut.wav']) {
      const figures = await figuresOfBytes(readFileSync(`${files.folder}/${name}`));
      const cell = await page.text(`[data-source="${name}"] [data-figure=integratedLufs]`);
      expect(cell.split(/\s/)[0]).toBe(figures.integratedLufs!.toFixed(1).replace('-', '−'));
    }
    expect(await page.text('[data-source="blink.wav"] [data-figure=integratedLufs]')).toMatch(/^—/);
  });

  it('opens a row to the peaks of each channel and to what is odd about the file', async () => {
    const { page } = stage;
    await page.press('Details of surround.wav');
    expect(await page.text('[data-details="surround.wav"] [data-channel=LFE]')).toMatch(
      /^LFE\s+−30\.0\s+−30\.0$/,
    );
    await page.press('Details of cut.wav');
    expect(await page.text('[data-details="cut.wav"]')).toMatch(/The file ends \d\.\d\d s before it should/);
    expect(await page.text('[data-source="cut.wav"]')).toMatch(/partial/);
    await page.press('Details of cut.wav');
    await page.press('Details of surround.wav');
  });

  it('a dismissed line is gone', async () => {
    const { page } = stage;
    await page.press('Dismiss letter.wav');
    await page.press('Dismiss empty.wav');
    expect(await page.all('[data-import]')).toHaveLength(0);
  });
});

describe('laying out', () => {
  it('places several sources end to end, as one step', async () => {
    const { page } = stage;
    await (await page.find('[aria-label="Select soft.wav"]')).click();
    await (await page.find('[aria-label="Select hot.wav"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await page.until('two clips', async () => (await page.all('[data-clip]')).length === 2);
    await page.measured();
    await page.button('Undo: Place 2 clips on Dialogue');
  });

  it('a source dragged from the tray onto a track lies where it was dropped', async () => {
    const { page } = stage;
    await page.press('Add track');
    const lanes = await page.until('two lanes', async () => {
      const found = await page.all('[data-track]');
      return found.length === 2 && found;
    });
    const item = await page.find('[data-tray="surround.wav"]');
    await page.driver.actions().dragAndDrop(item, lanes[1]!).perform();
    await page.until('three clips', async () => (await page.all('[data-clip]')).length === 3);
    await page.button('Undo: Place surround.wav');
    await page.measured();
  });

  it('a clip dragged sideways moves in time and snaps; Escape takes it back', async () => {
    const { page } = stage;
    const clip = () => page.clip('hot');
    const x = async () => (await (await clip()).getRect()).x;
    const before = await x();
    await page.driver
      .actions()
      .move({ origin: await clip(), x: 0, y: 30 })
      .press()
      .move({ origin: Origin.POINTER, x: 120, y: 0 })
      .sendKeys(Key.ESCAPE)
      .release()
      .perform();
    expect(await x()).toBeCloseTo(before, 0);
    await page.driver
      .actions()
      .move({ origin: await clip(), x: 0, y: 30 })
      .press()
      .move({ origin: Origin.POINTER, x: 120, y: 0 })
      .release()
      .perform();
    await page.button('Undo: Move hot');
    await page.press('Undo: Move hot');
    expect(await x()).toBeCloseTo(before, 0);
  });
});

describe('setting gain', () => {
  const enter = async (text: string) => {
    const field = await stage.page.find('[data-gain-field]');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
  };
  const gains = async () => [
    (await stage.page.clipLevel('soft')).gain,
    (await stage.page.clipLevel('hot')).gain,
  ];

  it('by number: a value, a change, and a clear word for anything else', async () => {
    const { page } = stage;
    await (await page.clip('soft')).click();
    await enter('8');
    await enter('+=2');
    expect((await gains())[0]).toBe(10);
    expect(await page.text('[data-gain-reason]')).toBe('+10.0 dB, last change +2.0 dB; set by hand.');
    await enter('very loud');
    expect(await page.text('aside')).toMatch(/Clip gain is a number from −72 to \+48 dB/);
    expect((await gains())[0]).toBe(10);
    await (await page.find('[data-gain-field]')).sendKeys(Key.ESCAPE);
  });

  it('for several clips: by the same amount, or to the same value', async () => {
    const { page } = stage;
    await page.driver
      .actions()
      .keyDown(Key.CONTROL)
      .click(await page.clip('hot'))
      .keyUp(Key.CONTROL)
      .perform();
    expect(await page.text('aside')).toMatch(/2 clips selected/);
    await enter('-=3');
    expect(await gains()).toEqual([7, -3]);
    await enter('−6');
    expect(await gains()).toEqual([-6, -6]);
    await page.press('Undo: Set gain of 2 clips to −6.0 dB');
    expect(await gains()).toEqual([7, -3]);
  });

  it('resets to as recorded, and back by undo', async () => {
    const { page } = stage;
    await page.press('Reset gain');
    expect(await gains()).toEqual([0, 0]);
    await page.press('Undo: Reset gain of 2 clips');
    expect(await gains()).toEqual([7, -3]);
  });

  it('by keys alone: small, usual and large steps, from clip to clip', async () => {
    const { page } = stage;
    const keys = async (...strokes: string[]) => {
      for (const stroke of strokes) await (await page.driver.switchTo().activeElement()).sendKeys(stroke);
    };
    await (await page.clip('soft')).click();
    await page.driver.executeScript('document.querySelector(\'[data-name="soft"]\').focus()');
    await keys(Key.chord(Key.ALT, Key.ARROW_UP), Key.ARROW_UP, Key.chord(Key.SHIFT, Key.ARROW_DOWN));
    expect((await gains())[0]).toBeCloseTo(7 + 0.1 + 0.5 - 3, 9);
    await keys(Key.ARROW_RIGHT);
    await page.until('the focus to follow', async () => {
      const name = await (await page.driver.switchTo().activeElement()).getAttribute('data-name');
      return name !== null && name !== 'soft';
    });
    await keys('l');
    await page.find('[role=table][aria-label=Proposal]');
    await keys(Key.ESCAPE);
    expect(await page.all('[role=table][aria-label=Proposal]')).toHaveLength(0);
  });
});

describe('nothing is lost', () => {
  it('when the browser is killed, all finished steps are there, and undo with them', async () => {
    const { page } = stage;
    await page.kept();
    const address = await page.driver.getCurrentUrl();
    const before = await page.clipLevel('soft');
    // In the middle of a drag: the hand still holds the line.
    await page.driver
      .actions()
      .move(await page.waterline('[data-name="soft"]'))
      .press()
      .move({ origin: Origin.POINTER, x: 0, y: -20 })
      .perform();
    await page.browser.kill();
    await page.comeBack();
    await page.driver.get(address);
    await page.measured();
    expect(await page.clipLevel('soft')).toEqual(before);
    expect(await page.all('[data-clip]')).toHaveLength(3);
    await page.button('Undo: Change gain of 1 clip');
  });

  it('taking a source out takes its clips along; undo brings both back', async () => {
    const { page } = stage;
    await page.press('Sources');
    await (await page.find('[aria-label="Select surround.wav"]')).click();
    await page.press('Remove');
    expect(await page.all('[data-source]')).toHaveLength(4);
    await page.press('Undo: Remove 1 source and 1 clip');
    expect(await page.all('[data-source]')).toHaveLength(5);
    expect(await page.errors()).toEqual([]);
  });
});

describe('the sum', () => {
  it('is measured anew with every edit, and equals a fresh render', async () => {
    const { page } = stage;
    await page.press('Programme');
    await page.measured();
    await page.press('Handover');
    await page.pick('Samples', 'Float 32-bit');
    await page.press('Render and measure');
    await page.find('[data-file-verdict]');
    for (const figure of ['integratedLufs', 'maxShortTermLufs', 'maxMomentaryLufs', 'truePeakDbtp']) {
      const [programme, file] = await page.all(`[data-compare=${figure}] td`);
      expect(Number(await file!.getAttribute('data-value'))).toBeCloseTo(
        Number(await programme!.getAttribute('data-value')),
        4,
      );
    }
  });
});
