import { Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();

interface Placed {
  readonly id: string;
  readonly left: number;
  readonly width: number;
  readonly gain: number;
  readonly lufs: number;
}

/** The clips on the lanes, from left to right. */
const clips = async (): Promise<Placed[]> =>
  (
    await stage.page.driver.executeScript<Placed[]>(
      `return [...document.querySelectorAll('[data-clip]')].map((clip) => ({
        id: clip.dataset.clip, left: clip.offsetLeft, width: clip.offsetWidth,
        gain: Number(clip.dataset.gain), lufs: Number(clip.dataset.lufs || NaN) }))`,
    )
  ).sort((a, b) => a.left - b.left);

const integrated = async (): Promise<number> =>
  Number(await stage.page.attribute('[data-figure=integrated]', 'data-value'));

/** A key pressed with the focus on a clip. */
async function key(index: number, ...keys: string[]): Promise<void> {
  const { id } = (await clips())[index]!;
  const element = await stage.page.find(`[data-clip="${id}"]`);
  await element.click();
  await element.sendKeys(...keys);
}

async function playheadAt(part: number): Promise<void> {
  const [clip] = await clips();
  const ruler = await stage.page.find('[data-ruler]');
  const box = await ruler.getRect();
  const lanes = await (await stage.page.find('[data-lanes]')).getRect();
  await stage.page.driver
    .actions()
    .move({ x: Math.round(lanes.x + clip!.left + clip!.width * part), y: Math.round(box.y + box.height / 2) })
    .click()
    .perform();
}

describe('cutting', () => {
  it('a clip is split at the playhead; the sum stays what it was', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('bell.wav', tones([{ dbfs: -26, seconds: 8 }], 48_000, 2)));
    await page.find('[data-source]');
    await (await page.find('[aria-label="Select all sources"]')).click();
    await page.press('Place end to end on');
    await page.press('Dialogue');
    await page.press('Programme');
    await page.clipLevel('bell');
    await page.measured();
    const before = await integrated();
    await playheadAt(0.5);
    await key(0, '/');
    const parts = await page.until('two parts', async () => {
      const found = await clips();
      return found.length === 2 && found;
    });
    expect(parts[0]!.left + parts[0]!.width).toBeCloseTo(parts[1]!.left, -0.5);
    await page.measured();
    expect(await integrated()).toBeCloseTo(before, 6);
  });

  it('an edge is dragged as far as the source reaches, or brought to the playhead by key', async () => {
    const { page } = stage;
    const [first, second] = await clips();
    const origin = await page.find(`[data-clip="${second!.id}"]`);
    const { width } = await origin.getRect();
    const drag = page.driver
      .actions()
      .move({ origin, x: Math.floor(width / 2) - 3, y: 0 })
      .press();
    await drag.move({ origin: Origin.POINTER, x: -80, y: 0 }).release().perform();
    const shorter = (await clips())[1]!;
    expect(shorter.width).toBeLessThan(second!.width - 60);
    expect(shorter.left).toBe(second!.left);
    await page.press('Undo: Trim end of bell');
    await playheadAt(0.5);
    await key(0, ')');
    await page.until('the first part to be shorter', async () => {
      const [now] = await clips();
      return Math.abs(now!.width - first!.width / 2) < 4;
    });
    await page.press('Undo: Trim end of 1 clip');
  });

  it('copies are pasted at the playhead and put behind; a removal can close the gap', async () => {
    const { page } = stage;
    await key(0, Key.chord(Key.CONTROL, 'd'));
    await page.until('a third clip', async () => (await clips()).length === 3);
    await key(0, Key.chord(Key.CONTROL, 'c'));
    await playheadAt(0);
    await key(0, Key.chord(Key.CONTROL, 'v'));
    await page.until('a fourth clip', async () => (await clips()).length === 4);
    await page.press('Undo: Paste 1 clip');
    // The copy lies behind what was there, and covers none of it.
    const [, second, third] = await clips();
    expect(Math.abs(second!.left + second!.width - third!.left)).toBeLessThan(1.5);
    await key(0, Key.chord(Key.SHIFT, Key.DELETE));
    const after = await page.until('the gap to be closed', async () => {
      const found = await clips();
      return found.length === 2 && found;
    });
    expect(after[0]!.left).toBe(0);
    expect(Math.abs(after[0]!.width - after[1]!.left)).toBeLessThan(1.5);
    await page.press('Undo: Remove 1 clip, closing the gap');
    await page.press('Undo: Duplicate 1 clip');
    expect(await clips()).toHaveLength(2);
  });
});

describe('levels beside the gain of clips', () => {
  it('a track’s gain moves what is heard of its clips; so does everything at once', async () => {
    const { page } = stage;
    await page.measured();
    const before = await integrated();
    const [clip] = await clips();
    await page.type('Gain of track Dialogue in dB', `-4${Key.ENTER}`);
    await page.measured();
    expect(await integrated()).toBeCloseTo(before - 4, 5);
    await page.until('the clip to stand lower', async () => {
      const [now] = await clips();
      return Math.abs(now!.lufs - clip!.lufs + 4) < 1e-6 && now!.gain === clip!.gain;
    });
    await page.press('Offset all gains');
    await page.type('All tracks by', `1.5${Key.ENTER}`);
    await page.measured();
    expect(await integrated()).toBeCloseTo(before - 2.5, 5);
    await page.press('Undo: Offset all gains by +1.5 dB');
    await page.type('Gain of track Dialogue in dB', `99${Key.ENTER}`);
    await page.until('what is accepted', async () =>
      /Track gain is a number from −48 to \+48 dB/.test(await page.tooltips()),
    );
    await (await page.field('Gain of track Dialogue in dB')).sendKeys(Key.ESCAPE);
  });

  it('says which gain on a clip alone puts the programme at the target, and applies it', async () => {
    const { page } = stage;
    await page.measured();
    const [first] = await clips();
    await (await page.find(`[data-clip="${first!.id}"]`)).click();
    await page.press('Programme to −23.0 with this clip alone?');
    expect(await page.text('[data-solved]')).toMatch(/dB on this clip puts the programme at −23\.0 LUFS/);
    await page.press('Apply +');
    await page.measured();
    expect(await integrated()).toBeCloseTo(-23, 5);
    expect((await clips())[0]!.gain).toBeGreaterThan(first!.gain);
  });

  it('a source’s trim is for clips to come, and for those placed only when asked', async () => {
    const { page } = stage;
    const before = await clips();
    await page.press('Sources');
    await (await page.find('[aria-label="Select bell.wav"]')).click();
    await page.press('Trim…');
    await page.type('Trim of bell.wav', `3${Key.ENTER}`);
    expect(await page.text('[data-source="bell.wav"]')).toMatch(/trim \+3\.0 dB/);
    await page.press('Trim…');
    await (await page.find('[role=dialog] input[type=checkbox]')).click();
    await page.type('Trim of bell.wav', `+=1${Key.ENTER}`);
    await page.button('Undo: Trim bell.wav and 2 clips by +1.0 dB');
    await page.press('Programme');
    // By as much as the trim changed, not to what it is.
    await page.until('both clips to stand higher', async () => {
      const now = await clips();
      return now.length === 2 && now.every(({ lufs }, i) => Math.abs(lufs - before[i]!.lufs - 1) < 1e-6);
    });
    expect(await page.errors()).toEqual([]);
  });

  it('sources are levelled before they are used, each by its own figure', async () => {
    const { page, files } = stage;
    await page.press('Sources');
    await page.upload(files.wav('low.wav', tones([{ dbfs: -41, seconds: 4 }], 48_000, 2)));
    await page.find('[data-source="low.wav"]');
    await (await page.find('[aria-label="Select low.wav"]')).click();
    await page.press('Level…');
    await page.type('Target level (LUFS)', '-25');
    await page.until('the sentence', async () =>
      /−41\.0 LUFS, to −25\.0 LUFS: \+16\.0 dB/.test(await page.text('[data-proposal="low.wav"]')),
    );
    await page.press('Trim 1 source');
    await page.button('Undo: Trim 1 source each to −25.0 LUFS');
    await page.press('Programme');
    await page.find('[data-lanes]');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.press('Place low.wav');
    await page.choose('Dialogue');
    const track = await page.attribute('[aria-label="Gain of track Dialogue in dB"]', 'value');
    expect((await page.clipLevel('low')).lufs).toBeCloseTo(-25 + Number(track.replace('−', '-')), 2);
  });
});
