/**
 * Makes the pictures in docs/screenshots from the product as built, with the demo programme:
 * npm run build && npx tsx e2e/screenshots.ts
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
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
  await page.press('What makes it loud');
  await page.find('[data-part][data-part]');
  await page.find('[data-low]');
  await picture('loud');
  await page.press('Listener');
  await page.find('[data-service]');
  await picture('listener');
  await page.press('Findings');
  for (let i = 0; i < 2; i++) await page.press('Undo: Add target');
  await page.measured();
  // A second version of the mix: some music lower, some speech higher.
  await page.press('Programme');
  await page.measured();
  for (const [name, keys] of [
    ['music-frostline-theme', Key.ARROW_DOWN.repeat(12)],
    ['mechanic-the-spoon', Key.ARROW_DOWN.repeat(8)],
    ['narrator-1-last-car', Key.ARROW_UP.repeat(6)],
  ] as const) {
    // The lanes may be drawn anew meanwhile.
    await page.until(`${name} to be selected`, async () =>
      (await page.clip(name)).click().then(
        () => true,
        () => false,
      ),
    );
    await driver.actions().sendKeys(keys).perform();
    await page.measured();
  }
  await page.press('Check');
  await page.find('[aria-label="Face of the check"]');
  await page.press('Compare');
  await page.press('Compare with…');
  await page.press('Before anything was done');
  await page.find('[data-different]');
  await picture('compare');
  await page.press('End');
  await page.press('Findings');
  for (let i = 0; i < 3; i++)
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
  await page.measured();
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
  for (const start of ['The programme as BWF', 'A stem for each role', 'The programme as MP3']) {
    await page.press('Add a delivery');
    await page.choose(start);
    await page.button(`Undo: Add delivery: ${start}`);
  }
  await page.press('Render and measure');
  await page.until('all files', async () => (await page.all('[data-outcome]')).length === 8);
  await (await page.find('[data-file="Frostline EBU R 128.wav"] button')).click();
  await page.find('[data-file-verdict]');
  await picture('handover');
  await page.open('/audit');
  const sounds = ['valley-radio-call', 'music-frostline-theme', 'narrator-4-pressure', 'frost-alarm'];
  await page.upload(...sounds.map((name) => join(import.meta.dirname, `../public/demo/${name}.wav`)));
  await page.until(
    'all to be checked',
    async () => (await page.all('[data-file][data-work=none]')).length === sounds.length,
  );
  await page.press('Add a target…');
  await page.press('Web video');
  await page.until('both verdicts', async () => (await page.text('[role=grid]')).includes('Web video'));
  await page.find('[data-mend]');
  await picture('audit');
  await page.open('/projects');
  await page.find('table');
  await picture('projects');
} finally {
  await page.browser.close();
  server.stop();
}
