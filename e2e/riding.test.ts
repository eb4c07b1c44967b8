import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();
const RATE = 48_000;

/** How many values the last ride had, and how many points it came to. */
async function taken(): Promise<{ values: number; points: number; text: string }> {
  const text = await stage.page.text('[data-taken]');
  const [, values, points] = /([\d,]+) values thinned to (\d+) points?/.exec(text)!;
  return { values: Number(values!.replace(',', '')), points: Number(points), text };
}

describe('riding', () => {
  it('by an external fader is heard, thinned to points, and one step', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.wav('monologue.wav', [noise(90 * RATE, 0.05, 4)]));
    await page.placeSource('monologue.wav');
    const before = await page.clipLevel('monologue');
    await (await page.clip('monologue')).click();
    await page.press('Ride…');
    await page.press('Simulate one');
    await page.press('Play and ride');
    await page.until('it to play', async () => (await page.text('[role=toolbar]')).startsWith('Stop'));
    const fader = await page.find('#simulated-fader');
    // Where it stands already, it takes over at once; then it goes down by a sixth of its way.
    // Step by step, so that the ride is a slope and not a few steps, which no tolerance could thin.
    for (let i = 0; i < 20; i++) await fader.sendKeys(Key.ARROW_LEFT);
    await page.find('[data-controller=has]');
    // Held still it is ridden on; brought back to 0 dB it is let go.
    const ridden = async (): Promise<number> => Number(await page.attribute('[data-riding]', 'data-riding'));
    const held = await ridden();
    await page.until('it to be ridden on', async () => (await ridden()) > held + 20);
    for (let i = 0; i < 20; i++) await fader.sendKeys(Key.ARROW_RIGHT);
    await page.press('Stop riding');
    await page.button('Undo: Ride monologue');
    await page.measured();
    const ride = await taken();
    expect(ride.values).toBeGreaterThan(20);
    expect(ride.points).toBeLessThan(ride.values / 2);
    await page.until('the difference that thinning makes', async () =>
      /loudness differs from the raw ride by [±+−]0\.\d\d LU/.test((await taken()).text),
    );
    expect((await page.clipLevel('monologue')).lufs).toBeLessThan(before.lufs);
    // Thinned less, it has more points; the step stays one.
    await page.type('Tolerance (dB)', `0.02${Key.ENTER}`);
    await page.type('In time (ms)', `0${Key.ENTER}`);
    await page.until('more points', async () => (await taken()).points > ride.points);
    await page.press('Undo: Ride monologue');
    await page.until('no ride to be left', async () => (await page.all('[data-point]')).length === 0);
    await page.measured();
    expect((await page.clipLevel('monologue')).lufs).toBeCloseTo(before.lufs, 1);
    expect(await page.errors()).toEqual([]);
  });

  it('goes by keys on the fader of the screen, for the whole programme', async () => {
    const { page } = stage;
    await page.pick('Ride', 'Programme');
    const integrated = (await page.dial('integrated')).value;
    await page.press('Until stopped');
    await page.press('Play and ride');
    await page.until('it to play', async () => (await page.text('[role=toolbar]')).startsWith('Stop'));
    const fader = await page.find('[role=slider][aria-orientation=vertical]');
    await fader.sendKeys(Key.PAGE_UP.repeat(2));
    await page.until('values', async () => Number(await page.attribute('[data-riding]', 'data-riding')) > 30);
    await page.press('Stop riding');
    await page.button('Undo: Ride the programme');
    await page.measured();
    expect((await page.dial('integrated')).value).toBeGreaterThan(integrated);
    expect((await taken()).points).toBeGreaterThan(0);
    // A track by itself as well.
    await page.pick('Ride', 'Track Dialogue');
    await page.press('Play and ride');
    await page.until('it to play', async () => (await page.text('[role=toolbar]')).startsWith('Stop'));
    await (await page.find('[role=slider][aria-orientation=vertical]')).sendKeys(Key.PAGE_DOWN.repeat(2));
    await page.until('values', async () => Number(await page.attribute('[data-riding]', 'data-riding')) > 30);
    await page.press('Stop riding');
    await page.button('Undo: Ride track Dialogue');
    await page.until('the difference that thinning makes', async () =>
      /loudness differs from the raw ride by [±+−]0\.\d\d LU/.test((await taken()).text),
    );
    expect(await page.errors()).toEqual([]);
  });
});
