import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { buildCli } from '@/scripts/lib/cli.mjs';
import { figuresOfBytes } from './support/files';
import { setStage } from './support/setup';

const stage = setStage();

async function selectTrack(name: string): Promise<void> {
  await stage.page.press(`Actions for track ${name}`);
  await stage.page.press('Select its');
}

async function levelChosen(goal: string, mode: 'Each' | 'Together'): Promise<void> {
  await stage.page.press('Level ', "self::button and ancestor::*[@role='toolbar']");
  await stage.page.find('[role=table][aria-label=Proposal]');
  await stage.page.pick('Mode', mode === 'Each' ? 'Each by itself' : 'All together');
  await stage.page.type('Target level (LUFS)', goal);
  await stage.page.press('Apply');
  await stage.page.measured();
}

describe('the demo programme, put right from opening to the finished file', () => {
  it('opens loaded, measured and failing its target in more than one way', async () => {
    await stage.page.openDemo();
    expect(await stage.page.attribute('[data-verdict]', 'data-verdict')).toBe('misses');
    expect((await stage.page.dial('integrated')).state).toBe('over');
    expect((await stage.page.dial('truePeak')).state).toBe('over');
  });

  it('shows each clip where the file itself says it is', async () => {
    const bytes = readFileSync(join(import.meta.dirname, '../public/demo/narrator-1-last-car.wav'));
    const { lufs } = await stage.page.clipLevel('narrator-1-last-car');
    expect(lufs).toBeCloseTo((await figuresOfBytes(bytes)).integratedLufs!, 3);
  });

  it('a waterline dragged sets the gain, finer with Shift, and Escape takes a drag back', async () => {
    const before = await stage.page.clipLevel('mechanic-the-spoon');
    const hand = () => stage.page.driver.actions();
    const line = () => stage.page.waterline('[data-name="mechanic-the-spoon"]');
    await hand()
      .move(await line())
      .press()
      .move({ origin: Origin.POINTER, x: 0, y: -12 })
      .perform();
    expect(await stage.page.text('[data-readout]')).toMatch(/from before\)\n−\d+\.\d LUFS/);
    await hand().release().perform();
    const coarse = await stage.page.clipLevel('mechanic-the-spoon');
    expect(coarse.gain).toBeGreaterThan(3);
    expect(coarse.lufs - before.lufs).toBeCloseTo(coarse.gain, 5);

    await hand()
      .move(await line())
      .press()
      .keyDown(Key.SHIFT)
      .move({ origin: Origin.POINTER, x: 0, y: -12 })
      .release()
      .keyUp(Key.SHIFT)
      .perform();
    const fine = await stage.page.clipLevel('mechanic-the-spoon');
    expect(fine.gain - coarse.gain).toBeGreaterThan(0);
    expect(fine.gain - coarse.gain).toBeLessThan((coarse.gain - before.gain) / 5);

    await hand()
      .move(await line())
      .press()
      .move({ origin: Origin.POINTER, x: 0, y: 15 })
      .sendKeys(Key.ESCAPE)
      .release()
      .perform();
    expect((await stage.page.clipLevel('mechanic-the-spoon')).gain).toBe(fine.gain);

    await stage.page.press('Undo: Gain of mechanic-the-spoon');
    await stage.page.press('Undo: Gain of mechanic-the-spoon');
    expect((await stage.page.clipLevel('mechanic-the-spoon')).gain).toBe(0);
  });

  it('while a waterline moves, the verdict already says what will be measured when it rests', async () => {
    const { page } = stage;
    await (await page.find('[data-name="mechanic-the-spoon"]')).click();
    const dial = async (figure: string) => {
      const element = await page.find(`[data-figure=${figure}]`);
      return {
        value: Number(await element.getAttribute('data-value')),
        atMost: (await element.getAttribute('data-at-most')) === 'true',
      };
    };
    const before = await dial('integrated');
    const hand = () => page.driver.actions();
    const line = await page.waterline('[data-name="mechanic-the-spoon"]');
    await hand().move(line).press().move({ origin: Origin.POINTER, x: 0, y: -25 }).perform();
    await page.until('the sums', async () => {
      await hand().move({ origin: Origin.POINTER, x: 1, y: 0 }).perform();
      return (await dial('truePeak')).atMost;
    });
    const moving = { integrated: await dial('integrated'), truePeak: await dial('truePeak') };
    expect(Math.abs(moving.integrated.value - before.value)).toBeGreaterThan(0.01);
    await hand().release().perform();
    await page.measured();
    await page.until('the peak to be exact', async () => !(await dial('truePeak')).atMost);
    expect((await dial('integrated')).value).toBeCloseTo(moving.integrated.value, 6);
    expect((await dial('truePeak')).value).toBeLessThanOrEqual(moving.truePeak.value + 1e-4);
    await page.press('Undo: Gain of mechanic-the-spoon');
    await page.measured();
    expect((await dial('integrated')).value).toBeCloseTo(before.value, 6);
  });

  it('levels the voices each to the target, and says where the ceiling stops one short', async () => {
    for (const track of ['Narrator', 'Observer', 'Other voices']) {
      await selectTrack(track);
      await levelChosen('-23', 'Each');
    }
    for (const name of [
      'narrator-1-last-car',
      'observer-indoors-1-kettle',
      'observer-outdoors-1-roof',
      'valley-radio-call',
    ]) {
      expect((await stage.page.clipLevel(name)).lufs).toBeCloseTo(-23, 2);
    }
    await (await stage.page.clip('observer-indoors-1-kettle')).click();
    expect(await stage.page.text('[data-gain-reason]')).toMatch(
      /^\+15\.0\d? dB, last change .*; levelled to −23\.0 LUFS by itself\./,
    );
  });

  it('lays music and ambience under the voices, together, so that their balance stays', async () => {
    const wind = await stage.page.clipLevel('ambience-wind-ridge');
    const hut = await stage.page.clipLevel('ambience-hut-generator');
    await selectTrack('Music');
    await levelChosen('-34', 'Each');
    await selectTrack('Wind and hut');
    await levelChosen('-42', 'Together');
    await selectTrack('Alarm');
    await levelChosen('-26', 'Each');
    expect((await stage.page.clipLevel('music-frostline-theme')).lufs).toBeCloseTo(-34, 2);
    const [windAfter, hutAfter] = [
      await stage.page.clipLevel('ambience-wind-ridge'),
      await stage.page.clipLevel('ambience-hut-generator'),
    ];
    expect(windAfter.gain - wind.gain).toBeCloseTo(hutAfter.gain - hut.gain, 9);
  });

  it('brings the programme to −23.0 and meets the target', async () => {
    await stage.page.press('Programme to target');
    await stage.page.press('Apply');
    await stage.page.measured();
    const integrated = await stage.page.dial('integrated');
    expect(Math.abs(integrated.value + 23)).toBeLessThanOrEqual(0.1);
    expect(await stage.page.attribute('[data-verdict]', 'data-verdict')).toBe('meets');
  });

  it('hands over a file whose own measurement agrees with the prediction', async () => {
    await stage.page.press('Handover');
    await stage.page.press('Render and measure');
    await stage.page.find('[data-file-verdict]');
    const value = async (figure: string, column: number): Promise<number> => {
      const cells = await stage.page.all(`[data-compare="${figure}"] td`);
      return Number(await cells[column]!.getAttribute('data-value'));
    };
    expect(Math.abs((await value('integratedLufs', 1)) - (await value('integratedLufs', 0)))).toBeLessThan(
      0.02,
    );
    expect(Math.abs((await value('truePeakDbtp', 1)) - (await value('truePeakDbtp', 0)))).toBeLessThan(0.1);
    await stage.page.press('Save file');
    const figures = await figuresOfBytes(await stage.page.saved('Frostline.wav'));
    expect(Math.abs(figures.integratedLufs! + 23)).toBeLessThan(0.1);
    expect(figures.integratedLufs!).toBeCloseTo(await value('integratedLufs', 1), 6);
    expect(figures.truePeakDbtp!).toBeCloseTo(await value('truePeakDbtp', 1), 6);
    expect(figures.truePeakDbtp!).toBeLessThanOrEqual(-1);
  });

  it('the cut that goes out gives the same file from the command line, to the bit', async () => {
    const { page, files } = stage;
    const file = await page.saved('Frostline.wav');
    await page.press('Back to the edit');
    await page.press('Export timeline');
    const cut = files.write('frostline.otio', await page.saved('Frostline.otio'));
    const out = join(files.folder, 'rendered.wav');
    const root = fileURLToPath(new URL('..', import.meta.url));
    const args = ['render', '--media', join(root, 'public/demo'), '--out', out, cut];
    const { status, stderr } = spawnSync(process.execPath, [await buildCli(), ...args], {
      encoding: 'utf8',
      env: { ...process.env, DENGUNG_ROOT: root },
    });
    expect(stderr).toBe('');
    expect(status).toBe(0);
    const rendered = readFileSync(out);
    expect(rendered.length).toBe(file.length);
    let different = 0;
    for (let i = 0; i < file.length; i++) if (file[i] !== rendered[i]) different++;
    expect(different).toBe(0);
  });

  it('is all there after a reload, history included', async () => {
    await stage.page.press('Programme');
    await stage.page.kept();
    const before = await stage.page.clipLevel('observer-indoors-1-kettle');
    await stage.page.driver.navigate().refresh();
    await stage.page.measured();
    expect(await stage.page.clipLevel('observer-indoors-1-kettle')).toEqual(before);
    await stage.page.press('Undo: Bring programme');
    await stage.page.press('Redo: Bring programme');
    expect(await stage.page.clipLevel('observer-indoors-1-kettle')).toEqual(before);
  });

  it('and nothing went wrong meanwhile', async () => {
    expect(await stage.page.errors()).toEqual([]);
  });
});
