import { writeFileSync } from 'node:fs';
import { startBrowser } from './support/browser';
import { Page } from './support/page';
import { startServer } from './support/server';
const server = await startServer();
const page = new Page(await startBrowser(), server.base);
const { driver } = page;
const shot = async (n: string) => {
  await new Promise((r) => setTimeout(r, 500));
  writeFileSync(`/tmp/${n}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'));
};
try {
  await page.openDemo();
  const clip = await page.clip('mechanic-the-spoon');
  await clip.click();
  const rect = await clip.getRect();
  const dbl = async (dx: number, dy: number) => {
    const a = driver.actions();
    await a.move({ x: Math.round(rect.x + dx), y: Math.round(rect.y + dy) }).perform();
    await driver.actions().doubleClick().perform();
  };
  console.log(rect);
  await dbl(rect.width * 0.3, rect.height - 20);
  await dbl(rect.width * 0.5, rect.height - 20);
  await dbl(rect.width * 0.8, rect.height - 20);
  await page.press('Show all').catch(() => undefined);
  await driver.executeScript("for (const d of document.querySelectorAll('aside details')) if (/Gain curve|Fades/.test(d.textContent)) d.open = true");
  await shot('a1');
  console.log(await page.text('aside'));
} catch (e) { console.log(e); }
process.exit(0);
