import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { startServer } from './support/server';
import { Page } from './support/page';
import { setStage } from './support/setup';

const stage = setStage();
const KEY = 'a key of hut 4';
let server: Awaited<ReturnType<typeof startServer>>;
beforeAll(async () => {
  server = await startServer({ DENGUNG_KEY: KEY });
});
afterAll(() => server?.stop());

describe('a server with a key', () => {
  it('answers scripts that show it, and nobody else', async () => {
    const ask = async (headers: Record<string, string>): Promise<number> =>
      (await fetch(`${server.base}/api/recipients`, { headers })).status;
    expect(await ask({})).toBe(401);
    expect(await ask({ Authorization: 'Bearer another' })).toBe(401);
    expect(await ask({ Authorization: `Bearer ${KEY}` })).toBe(200);
  });

  it('is told it in Handover, and files go to recipients then', async () => {
    const page = new Page(stage.page.browser, server.base);
    await page.newProject();
    await page.upload(stage.files.wav('night.wav', tones([{ dbfs: -23, seconds: 3 }], 48_000, 2)));
    await page.placeSource('night.wav');
    await page.press('Handover');
    await page.press('Render and measure');
    await page.until('the file', async () => (await page.all('[data-outcome]')).length === 1);
    await (await page.find('[data-file] button')).click();
    const section = 'section[aria-label=Recipient]';
    await page.until('the question', async () =>
      (await page.text(section)).includes('The key is missing or wrong. Type the key of this server.'),
    );
    await page.type('Key of the server', 'wrong');
    await page.press('Use key');
    await page.type('Key of the server', KEY);
    await page.press('Use key');
    await page.pick('Recipient', 'Tarnside Films');
    await page.press('Send');
    await page.until('the receipt', async () => (await page.all('[data-receipt]')).length === 1);
    expect(await page.text('[data-set]')).toBe('The set is not complete: Music and effects is missing.');
  });
});
