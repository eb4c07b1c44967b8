import { Key } from 'selenium-webdriver';
import { startBrowser } from '@/e2e/support/browser';
import { Page } from '@/e2e/support/page';
import { startServer } from '@/e2e/support/server';

/** Watches the page from within: the longest time it did not answer, and the largest JS heap. */
const WATCH = `
  window.watch = { gap: 0, task: 0, heap: 0, last: performance.now() };
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) window.watch.task = Math.max(window.watch.task, entry.duration);
  }).observe({ entryTypes: ['longtask'] });
  const channel = new MessageChannel();
  channel.port1.onmessage = () => {
    const now = performance.now();
    window.watch.gap = Math.max(window.watch.gap, now - window.watch.last);
    window.watch.last = now;
    setTimeout(() => channel.port2.postMessage(0), 4);
  };
  channel.port2.postMessage(0);
  setInterval(() => { window.watch.heap = Math.max(window.watch.heap, performance.memory.usedJSHeapSize); }, 200);
`;

interface Watched {
  /** Longest time between two turns of the page's event loop, waiting for a core included, ms. */
  readonly gap: number;
  /** Longest single piece of work on the main thread, ms; 0 when none took over 50. */
  readonly task: number;
  readonly heap: number;
}

/** Reads a Blob slice by slice in a worker of the page and does nothing with it; gives milliseconds. */
const READ_BLOB = `
  const done = arguments[arguments.length - 1];
  const file = window.benchFile;
  const code = "onmessage = async ({ data }) => { const start = performance.now(); for (let at = 0; at < data.size; at += 6291456) await data.slice(at, at + 6291456).arrayBuffer(); postMessage(performance.now() - start); }";
  const worker = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })));
  worker.onmessage = ({ data }) => { worker.terminate(); done(data); };
  worker.onerror = (error) => done(String(error.message));
  worker.postMessage(file);
`;

type Report = (what: string, start: number) => Promise<void>;

/** Opens the product, watches the page, and gives what it costs. */
async function watched(
  title: string,
  seconds: number,
  work: (page: Page, report: Report, lines: string[]) => Promise<void>,
): Promise<string[]> {
  const server = await startServer();
  const browser = await startBrowser().catch((error: unknown) => {
    server.stop();
    throw error;
  });
  const page = new Page(browser, server.base);
  const lines = [title];
  const report: Report = async (what, start) => {
    const took = (performance.now() - start) / 1000;
    const { gap, task, heap } = await page.driver.executeScript<Watched>(
      'const w = window.watch; const copy = {...w}; w.gap = 0; w.task = 0; return copy;',
    );
    lines.push(
      `  ${what.padEnd(34)} ${(seconds / took).toFixed(0).padStart(5)} × real time, longest silence of the page ${gap.toFixed(0)} ms, longest task ${task > 0 ? task.toFixed(0) : 'under 50'} ms, JS heap up to ${(heap / 1e6).toFixed(0)} MB`,
    );
  };
  try {
    await page.newProject();
    await page.driver.executeScript(WATCH);
    await work(page, report, lines);
  } finally {
    await browser.close();
    server.stop();
  }
  return lines;
}

/** Brings a file in; the time until it is measured, and until it is kept. */
async function bringIn(
  page: Page,
  path: string,
): Promise<{ readonly start: number; readonly measured: number }> {
  const start = performance.now();
  await page.upload(path);
  await page.until(
    'the file to be measured',
    async () => (await page.all('[data-phase=keeping], [data-source]')).length > 0,
    900_000,
  );
  const measured = performance.now();
  await page.until('the file to be in', async () => (await page.all('[data-source]')).length === 1, 900_000);
  return { start, measured };
}

/** A long file through the real interface: how long each part takes, whether the page answers, what the tab holds. */
export function benchBrowser(path: string, minutes: number): Promise<string[]> {
  return watched(
    `Chromium, ${minutes} min 48 kHz stereo 24-bit, through the interface`,
    minutes * 60,
    async (page, report, lines) => {
      await page.driver.executeScript(
        'document.querySelector("input[type=file]").addEventListener("change", (e) => { window.benchFile = e.target.files[0]; }, { capture: true, once: true });',
      );
      const { start: began, measured } = await bringIn(page, path);
      await report('in, measured and kept', began);
      await page.driver.manage().setTimeouts({ script: 600_000 });
      const reading = await page.driver.executeAsyncScript<number | string>(READ_BLOB);
      if (typeof reading === 'number')
        lines.push(`  measuring to reading the Blob alone ${((measured - began) / reading).toFixed(2)} : 1`);
      else lines.push(`  the Blob could not be read alone: ${reading}`);
      await (await page.find('[aria-label="Select all sources"]')).click();
      await page.press('Place end to end on');
      let start = performance.now();
      await page.press('Dialogue');
      await page.press('Programme');
      await page.measured(600_000);
      await report('placed, programme measured', start);
      await page.clipLevel(path.split('/').at(-1)!.replace('.wav', ''));
      await (await page.find('[data-clip]')).click();
      start = performance.now();
      await (await page.find('[data-gain-field]')).sendKeys(Key.chord(Key.CONTROL, 'a'), '-3', Key.ENTER);
      await page.measured(600_000);
      await report('its gain changed, measured anew', start);
      await page.press('Handover');
      start = performance.now();
      await page.press('Render and measure');
      await page.until(
        'its verdict',
        async () => (await page.all('[data-measured], [data-outcome]')).length > 0,
        600_000,
      );
      await report('rendered, read back and measured', start);
      await page.until('the file', async () => (await page.all('[data-file-verdict]')).length > 0, 600_000);
      await report('the same, with its checksum', start);
    },
  );
}

/** A very long file: what the tab holds while it comes in and is looked at. */
export function benchBrowserLong(path: string, minutes: number): Promise<string[]> {
  return watched(
    `Chromium, ${minutes} min 48 kHz 5.1 16-bit, through the interface`,
    minutes * 60,
    async (page, report, lines) => {
      const { start } = await bringIn(page, path);
      await report('in, measured and kept', start);
      const opened = performance.now();
      await page.press('Details of ');
      await page.find('[data-level-trace]');
      await report('opened in detail', opened);
      const all = await page.driver.executeAsyncScript<number>(
        'const done = arguments[arguments.length - 1]; performance.measureUserAgentSpecificMemory().then((m) => done(m.bytes), () => done(NaN));',
      );
      lines.push(`  page and workers together after that ${(all / 1e6).toFixed(0)} MB`);
    },
  );
}
