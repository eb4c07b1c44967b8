import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
import { noise } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();
const RATE = 48_000;

async function place(name: string, channels: Float32Array[]): Promise<void> {
  const { page, files } = stage;
  await page.newProject();
  await page.upload(files.wav(name, channels));
  await page.placeSource(name);
}

describe('clicks at joins', () => {
  it('are found, mended by short fades, and gone from the file that is handed over', async () => {
    const { page } = stage;
    // A tone that begins and ends near its height.
    const tone = Float32Array.from(
      { length: 4 * RATE },
      (_, i) => 0.3 * Math.cos((2 * Math.PI * 150 * i) / RATE),
    );
    await place('hum.wav', [tone, tone]);
    await page.press('Find clicks at joins…');
    await page.until('both clicks', async () => (await page.all('[data-proposal=hum]')).length === 2);
    expect(await page.text('[role=table]')).toMatch(
      /At its start: −\d+\.\d dBFS, .* A fade in of \d+ ms leaves/,
    );
    await page.press('Mend 2 clicks');
    await page.button('Undo: Mend 2 clicks');
    await page.measured();
    await page.press('Find clicks at joins…');
    await page.until('none to be left', async () =>
      /No clicks at 1 clip/.test(await page.text('[aria-label="Clicks at joins"]')),
    );
    await page.press('Close');
    await page.press('Handover');
    await page.press('Render and measure');
    await page.find('[data-file-verdict]');
    await page.press('Save file');
    const reader = await openPcm(bytesSource(await page.saved('New project.wav')));
    const [left] = await reader.read(0, 4 * RATE);
    expect(Math.abs(left![0]!)).toBeLessThan(0.01);
    expect(Math.abs(left!.at(-1)!)).toBeLessThan(0.01);
    expect(await page.errors()).toEqual([]);
  });
});

describe('evening out', () => {
  it('brings a clip’s loudness range to what is asked, as measured afterwards', async () => {
    const { page } = stage;
    const talk = noise(40 * RATE, 0.1, 6).map(
      (x, i) => x * 10 ** ((9 * Math.sin((2 * Math.PI * i) / RATE / 20)) / 20),
    );
    await place('interview.wav', [talk]);
    const range = async (): Promise<number> => Number(/LRA\s+(\d+\.\d) LU/.exec(await page.text('body'))![1]);
    expect(await range()).toBeGreaterThan(12);
    await (await page.clip('interview')).click();
    await page.press('Even out…');
    await page.press('Largest LRA');
    await page.type('At most (LU)', '8');
    await page.until('what comes of it', async () =>
      /LRA \d+\.\d LU to 8\.0 LU/.test(await page.text('[data-proposal=interview]')),
    );
    await page.press('Even out 1 clip');
    await page.button('Undo: Even out interview');
    await page.measured();
    expect(Math.abs((await range()) - 8)).toBeLessThan(0.25);
    expect(await page.errors()).toEqual([]);
  });
});
