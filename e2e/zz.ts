import { writeFileSync } from 'node:fs';
import { startBrowser } from './support/browser';
import { Page } from './support/page';
import { startServer } from './support/server';
const server = await startServer();
const page = new Page(await startBrowser(), server.base);
const { driver } = page;
const shot = async (name: string) => {
  await new Promise((r) => setTimeout(r, 600));
  writeFileSync(`/tmp/${name}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'));
};
try {
  await page.openDemo();
  await page.measured();
  const t0 = Date.now();
  await page.press('Check');
  for (let i = 0; i < 120; i++) {
    await new Promise((r) => setTimeout(r, 500));
    const s = await page.all('[data-check-state="done"]');
    const t = s.length ? await s[0]!.getText() : '';
    if (t !== '') break;
  }
  console.log('done after', Date.now() - t0, await page.text('[role=toolbar][aria-label=Check]'));
  for (const row of await page.all('[data-finding]'))
    console.log((await row.getText()).replaceAll('\n', ' | '));
  await shot('c1');
  const rows = await page.all('[data-finding]');
  if (rows[0]) await rows[Math.min(1, rows.length - 1)]!.click();
  await shot('c2');
  await page.press('Targets');
  await shot('c3');
  await page.press('Findings');
  const t1 = Date.now();
  await page.press('Mend all that breaks a limit…');
  await page.until('mended', async () => (await page.all('[data-change],[data-left]')).length > 0, 120000);
  console.log(
    'mend all',
    Date.now() - t1,
    await page.text('section[aria-label="Mend all that breaks a limit"]'),
  );
  await shot('c4');
  console.log(await page.errors());
} catch (e) {
  console.log(e);
  await shot('fail');
}
process.exit(0);
