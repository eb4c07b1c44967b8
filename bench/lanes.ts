import { longCut } from '@/e2e/support/longCut';
import { startBrowser } from '@/e2e/support/browser';
import { TestFiles } from '@/e2e/support/files';
import { Page } from '@/e2e/support/page';
import { startServer } from '@/e2e/support/server';

const CLIPS = 2_000;
/** A frame at 60 a second, ms. */
const FRAME = 1000 / 60;

/** Runs one step on every frame for two seconds and gives what the main thread took for each, and how many came. */
const RUN = `
  const [step, done] = [new Function('n', arguments[0]), arguments[arguments.length - 1]];
  const took = [];
  const start = performance.now();
  let n = 0;
  const channel = new MessageChannel();
  let began = 0;
  channel.port1.onmessage = () => took.push(performance.now() - began);
  const frame = () => {
    began = performance.now();
    if (began - start > 2000) return done({ took, frames: n, seconds: (began - start) / 1000 });
    step(n++);
    channel.port2.postMessage(0);
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
`;

interface Ran {
  readonly took: readonly number[];
  readonly frames: number;
  readonly seconds: number;
}

const LANES = `const lanes = document.querySelector('[data-lanes]').parentElement.parentElement.parentElement;`;
const wheel = (ctrlKey: boolean): string =>
  `lanes.dispatchEvent(new WheelEvent('wheel', { deltaY: n % 60 < 30 ? -40 : 40, clientX: 700, clientY: 500, ctrlKey: ${ctrlKey}, bubbles: true, cancelable: true }));`;

/** The lanes of an hour with 2,000 clips: what a frame of scrolling and of zooming costs the page. */
export async function benchLanes(): Promise<string[]> {
  const server = await startServer();
  const browser = await startBrowser().catch((error: unknown) => {
    server.stop();
    throw error;
  });
  const page = new Page(browser, server.base);
  const files = new TestFiles();
  const lines = [`Lanes in Chromium, ${CLIPS.toLocaleString('en')} clips over one hour on 12 tracks`];
  const run = async (what: string, step: string): Promise<void> => {
    const { took, frames, seconds } = await page.driver.executeAsyncScript<Ran>(RUN, LANES + step);
    const sorted = [...took].sort((a, b) => a - b);
    const at = (part: number): number => sorted[Math.floor((sorted.length - 1) * part)]!;
    lines.push(
      `  ${what.padEnd(34)} ${(frames / seconds).toFixed(0).padStart(3)} frames a second; of a frame at 60 a second the page takes ${(at(0.5) / FRAME).toFixed(2)} (median), ${(at(0.95) / FRAME).toFixed(2)} (19 of 20), ${(at(1) / FRAME).toFixed(2)} (worst)`,
    );
  };
  try {
    await page.newProject();
    const { cut, media } = longCut(files, CLIPS, -26);
    await page.upload(cut, media);
    await page.find('[data-source]');
    await page.press('Place 2,000 clips');
    await page.press('Programme');
    await page.measured(300_000);
    await page.find('[data-clip]');
    // Every clip's own measurement as well: nothing else goes on while frames are counted.
    await new Promise((resolve) => setTimeout(resolve, 20_000));
    await run('the whole, zoomed in and out', wheel(true));
    await page.press('Show the whole programme');
    await run('all rows scrolled', 'lanes.scrollTop = (n * 9) % 500;');
    for (let i = 0; i < 7; i++) await page.press('Zoom in');
    await run('close, scrolled', 'lanes.scrollLeft += n % 120 < 60 ? 40 : -40;');
    await run('close, zoomed in and out', wheel(true));
  } finally {
    await browser.close();
    files.remove();
    server.stop();
  }
  return lines;
}
