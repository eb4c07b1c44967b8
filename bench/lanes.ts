import { longCut } from '@/e2e/support/longCut';
import { startBrowser } from '@/e2e/support/browser';
import { TestFiles } from '@/e2e/support/files';
import { Page } from '@/e2e/support/page';
import { startServer } from '@/e2e/support/server';
import { RUN, tookWords, type Ran } from './frames';

const CLIPS = 2_000;
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
    lines.push(tookWords(what, await page.driver.executeAsyncScript<Ran>(RUN, LANES + step)));
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
