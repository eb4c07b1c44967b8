import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { startBrowser } from '../support/browser';
import { Page } from '../support/page';
import { startServer } from '../support/server';

/** All of the demo: the programme as WAV and BWF, a stem for each track, and MP3. */
const ADDED = ['A stem for each track', 'The programme as BWF', 'The programme as MP3'];

/** A run has so long, on a machine however busy: what stands still is what is looked for, ms. */
const PATIENCE = 900_000;

/** Keeps every core busy with other work. @returns ends that */
function keepBusy(): () => void {
  const others = Array.from({ length: availableParallelism() }, () =>
    spawn(process.execPath, ['--eval', 'for(;;);'], { stdio: 'ignore' }),
  );
  return () => others.forEach((other) => other.kill('SIGKILL'));
}

/** Renders and measures everything once. @returns what did not end as it should */
async function handOver(page: Page, files: number): Promise<readonly string[]> {
  await page.press('Render and measure');
  await page.until(
    'the run to begin',
    async () => (await page.all('[data-file] [role=progressbar]')).length > 0,
  );
  try {
    await page.until(
      'every file to end',
      async () => (await page.all('[data-file] [data-outcome]')).length === files,
      PATIENCE,
    );
    // Only then can another run be begun.
    await page.button('Render and measure');
  } catch {
    // What stands still is told below.
  }
  const rows = await page.driver.executeScript<readonly (readonly [string, string, string])[]>(
    `return [...document.querySelectorAll('[data-file]')].map((row) => [
      row.dataset.file, row.querySelector('[data-outcome]')?.dataset.outcome ?? 'under way', row.textContent,
    ]);`,
  );
  return rows
    .filter(([, outcome]) => ['failed', 'cancelled', 'under way', 'stale'].includes(outcome))
    .map(([file, outcome, text]) => `${file} ${outcome}: ${text}`);
}

/** Hands the demo over again and again. @param busy with every core at other work besides @returns how many runs did not end well */
export async function handoverTrial(count: number, busy: boolean): Promise<number> {
  const server = await startServer();
  const page = new Page(await startBrowser(), server.base);
  const rest = busy ? keepBusy() : () => undefined;
  let faulty = 0;
  let files = 0;
  try {
    await page.openDemo();
    await page.press('Handover');
    for (const start of ADDED) {
      await page.press('Add a delivery');
      await page.choose(start);
      await page.button(`Undo: Add delivery: ${start}`);
    }
    files = (await page.all('[data-file]')).length;
    for (let i = 0; i < count; i++) {
      const faults = await handOver(page, files);
      for (const fault of faults) console.log(`${i + 1}: ${fault}`);
      if (faults.length > 0) faulty++;
      if ((i + 1) % 5 === 0) console.log(`${i + 1} of ${count}`);
    }
    const errors = await page.errors();
    for (const error of errors) console.log(error);
    faulty += errors.length;
  } finally {
    rest();
    await page.browser.close();
    server.stop();
  }
  console.log(
    `${count} handovers of ${files} files${busy ? ', all cores busy' : ''}: ${count - faulty} ended`,
  );
  return faulty;
}
