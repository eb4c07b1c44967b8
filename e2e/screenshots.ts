/**
 * Makes the pictures in docs/screenshots from the product as built, with the demo programme:
 * npm run build && npx tsx e2e/screenshots.ts
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Key, Origin } from 'selenium-webdriver';
import { startBrowser } from './support/browser';
import { Page } from './support/page';
import { startServer } from './support/server';

const folder = join(import.meta.dirname, '../docs/screenshots');
const server = await startServer();
const page = new Page(await startBrowser(), server.base);
const { driver } = page;

async function picture(name: string): Promise<void> {
  // Tooltips and menus on their way out do not belong in a picture.
  await driver.actions().move({ x: 640, y: 790 }).perform();
  await new Promise((resolve) => setTimeout(resolve, 700));
  writeFileSync(join(folder, `${name}.png`), Buffer.from(await driver.takeScreenshot(), 'base64'));
}

try {
  await page.openDemo();
  await driver.executeScript(
    "for (const fold of document.querySelectorAll('aside details')) if (/^Programme limiter/.test(fold.textContent)) fold.open = true;",
  );
  await page.press('Add limiter');
  await page.measured();
  await driver.executeScript("document.querySelector('aside').scrollTop = 5000;");
  await picture('limiter');
  await page.press('Undo: Limiter');
  await page.measured();
  await (await page.clip('mechanic-the-spoon')).click();
  await picture('programme');
  await page.press('Check');
  await page.until(
    'the check to be done',
    async () => (await page.all('[data-check-state="done"]')).length > 0,
  );
  await page.until('every fix to be told', async () => (await page.all('[data-fix]')).length > 5);
  await (await page.find('[data-finding="truePeak"]')).click();
  await picture('findings');
  await page.press('Targets');
  for (const name of ['Web video', 'EBU R 128 s1, short form']) {
    await page.press('Add a target…');
    await page.press(name);
    await page.until(`${name} to be in force`, async () => (await page.text('tbody')).includes(name));
  }
  await picture('targets');
  await page.press('Over time');
  await page.find('canvas[data-panel=loudness]');
  await picture('over-time');
  await page.press('Listener');
  await page.find('[data-service]');
  await picture('listener');
  await page.press('Findings');
  for (let i = 0; i < 2; i++) await page.press('Undo: Add target');
  await page.press('Programme');
  await (await page.clip('mechanic-the-spoon')).click();
  await page.press('Change to the dark theme');
  await picture('programme-dark');
  await page.press('Change to the light theme');
  await page.press('Ledger');
  await page.find('[data-ledger]');
  await picture('ledger');
  await page.press('Ladder');
  await page.find('[data-ladder]');
  await picture('ladder');
  await page.press('Lanes');
  await (await page.clip('mechanic-the-spoon')).click();
  await driver.actions().sendKeys('z').perform();
  const clip = await page.clip('mechanic-the-spoon');
  const { width, y, height } = await clip.getRect();
  for (const part of [-0.3, -0.2, 0.2, 0.3])
    await driver
      .actions()
      .move({ origin: clip, x: Math.round(part * width), y: 20 })
      .doubleClick()
      .perform();
  const line = await (await page.find('[data-clip][aria-selected=true] .waterline-line')).getRect();
  await driver
    .actions()
    .move({ origin: clip, x: 5, y: Math.round(line.y - (y + height / 2)) })
    .press()
    .move({ origin: Origin.POINTER, x: 0, y: 6 })
    .move({ origin: Origin.POINTER, x: 0, y: 6 })
    .release()
    .perform();
  await driver.executeScript(
    "for (const fold of document.querySelectorAll('aside details')) if (/^(Gain curve|Fades)/.test(fold.textContent)) fold.open = true; document.querySelector('aside').scrollTop = 430;",
  );
  await page.measured();
  await picture('points');
  await driver.executeScript(
    "for (const fold of document.querySelectorAll('aside details')) fold.open = false;",
  );
  for (let i = 0; i < 5; i++)
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
  await driver.actions().sendKeys('f').perform();
  await page.measured();
  await page.press('Find parts that stand out');
  await page.press('Go to mechanic-the-spoon');
  await picture('parts');
  await page.press('Close');
  await page.press('Clear range');
  await page.press('Plan…');
  await page.until(
    'the shift to be known',
    async () => (await page.attribute('[data-plan-shift]', 'data-plan-shift')) !== '',
  );
  await picture('plan');
  await page.press('Close');
  await page.measured();
  await (await page.clip('music-frostline-theme')).click();
  await page.press('Duck…');
  await page.press('Find speech in them');
  await page.button('Undo: Find speech');
  await page.press('Preview');
  await page.measured();
  await driver.executeScript("document.querySelector('[data-lanes]').scrollTop = 5000;");
  await picture('duck');
  await page.press('Close');
  await page.press('Undo: Find speech');
  await page.measured();
  await (await page.clip('narrator-1-last-car')).click();
  await page.press('Ride…');
  await page.press('Until stopped');
  await page.press('Play and ride');
  const fader = await page.find('[role=slider][aria-orientation=vertical]');
  for (const key of [
    Key.ARROW_DOWN,
    Key.ARROW_DOWN,
    Key.PAGE_DOWN,
    Key.ARROW_UP,
    Key.PAGE_UP,
    Key.ARROW_UP,
  ]) {
    await fader.sendKeys(key);
    await new Promise((resolve) => setTimeout(resolve, 400));
  }
  await page.press('Stop riding');
  await page.measured();
  await picture('ride');
  await page.press('Close');
  await page.press('Undo: Ride');
  await page.measured();
  await page.press('Actions for track Other voices');
  await page.press('Select its');
  await page.press('Level 3 clips');
  await page.type('Target level (LUFS)', '-20');
  await picture('level');
  await page.press('Sources');
  await page.find('[data-source]');
  await page.press('Details of mechanic-the-spoon.wav');
  await page.find('[data-level-trace]');
  await picture('sources');
  await page.press('Programme');
  await page.press('Programme to target');
  await page.press('Apply');
  await page.measured();
  await page.press('Handover');
  await page.press('Render and measure');
  await page.find('[data-file-verdict]');
  await picture('handover');
  await page.open('/audit');
  await page.upload(join(import.meta.dirname, '../public/demo/music-frostline-theme.wav'));
  await page.find('[data-mend]');
  await page.press('Correct it');
  await page.find('section[aria-label="The corrected file"]');
  await picture('audit');
  await page.open('/projects');
  await page.find('table');
  await picture('projects');
} finally {
  await page.browser.close();
  server.stop();
}
