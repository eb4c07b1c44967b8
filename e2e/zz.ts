import { writeFileSync } from 'node:fs';
import { startBrowser } from './support/browser';
import { Page } from './support/page';
import { startServer } from './support/server';
const server = await startServer();
const page = new Page(await startBrowser(), server.base);
const { driver } = page;
const shot = async (n: string) => {
  await new Promise((r) => setTimeout(r, 600));
  writeFileSync(`/tmp/${n}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'));
};
const openFold = (name: string) =>
  driver.executeScript(
    `for (const d of document.querySelectorAll('aside details')) if (d.querySelector('summary').textContent.startsWith('${name}')) d.open = true`,
  );
try {
  await page.openDemo();
  await page.measured();
  await page.press('Programme to target');
  await page.press('Limit peaks');
  await new Promise((r) => setTimeout(r, 6000));
  await shot('b1');
  await page.press('Apply');
  await page.measured();
  await openFold('Programme limiter');
  await shot('b2');
  console.log(await page.text('aside'));
  const clip = await page.clip('mechanic-the-spoon');
  await clip.click();
  await driver.executeScript("document.querySelector('aside').scrollTop = 0");
  await openFold('Fades');
  await openFold('Limiter');
  await shot('b3');
  await driver.executeScript("document.querySelector('aside').scrollTop = 600");
  await shot('b4');
} catch (e) {
  console.log(e);
}
process.exit(0);
