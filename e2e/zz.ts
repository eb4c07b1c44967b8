import { writeFileSync } from 'node:fs';
import { startBrowser } from './support/browser';
import { Page } from './support/page';
import { startServer } from './support/server';
const server = await startServer();
const page = new Page(await startBrowser(), server.base);
const t0 = Date.now();
const log = (what: string) => console.log(((Date.now() - t0) / 1000).toFixed(1), what);
async function picture(name: string): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, 500));
  writeFileSync(`/tmp/${name}.png`, Buffer.from(await page.driver.takeScreenshot(), 'base64'));
}
try {
  await page.openDemo();
  await page.press('Handover');
  await page.find('[data-delivery]');
  await picture('d0');
  for (const start of ['The programme as BWF', 'A stem for each role', 'The programme as MP3']) {
    await page.press('Add a delivery');
    await page.choose(start);
    await new Promise((r) => setTimeout(r, 300));
  }
  await picture('d1');
  await page.press('Render and measure');
  await new Promise((r) => setTimeout(r, 1200));
  await picture('d2');
  log('rendering');
  await page.until('done', async () => (await page.all('[data-outcome]')).length >= 7, 60000);
  log('done');
  await picture('d3');
  await (await page.find('[data-file$="EBU R 128.wav"] button')).click();
  await picture('d4');
} catch (e) {
  console.log(String(e));
  await picture('df');
}
const logs = await page.driver.manage().logs().get('browser');
for (const l of logs) console.log(l.level.name, l.message.slice(0, 300));
process.exit(0);
