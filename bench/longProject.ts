import { startBrowser } from '@/e2e/support/browser';
import { TestFiles } from '@/e2e/support/files';
import { longCut } from '@/e2e/support/longCut';
import { Page } from '@/e2e/support/page';
import { startServer } from '@/e2e/support/server';

/** How many clips there are over its hour, on 12 tracks. */
export const CLIPS = 2_000;
/** Every clip's own measurement is behind it as well: nothing else goes on while something is timed. */
const SETTLING_MS = 20_000;

/** Opens a project of an hour with 2,000 clips on Programme, measured and stored, and closes all of it when the work is done. */
export async function inLongProject(work: (page: Page) => Promise<void>): Promise<void> {
  const server = await startServer();
  const browser = await startBrowser().catch((error: unknown) => {
    server.stop();
    throw error;
  });
  const page = new Page(browser, server.base);
  const files = new TestFiles();
  try {
    await page.newProject();
    const { cut, media } = longCut(files, CLIPS, -26);
    await page.upload(cut, media);
    await page.find('[data-source]');
    await page.press('Place 2,000 clips');
    await page.press('Programme');
    await page.measured(300_000);
    await page.find('[data-clip]');
    await page.kept();
    await new Promise((resolve) => setTimeout(resolve, SETTLING_MS));
    await work(page);
  } finally {
    await browser.close();
    files.remove();
    server.stop();
  }
}
