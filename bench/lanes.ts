import { RUN, tookWords, type Ran } from './frames';
import { CLIPS, inLongProject } from './longProject';

const LANES = `const lanes = document.querySelector('[data-lanes]').parentElement.parentElement.parentElement;`;
const wheel = (ctrlKey: boolean): string =>
  `lanes.dispatchEvent(new WheelEvent('wheel', { deltaY: n % 60 < 30 ? -40 : 40, clientX: 700, clientY: 500, ctrlKey: ${ctrlKey}, bubbles: true, cancelable: true }));`;

/** The lanes of an hour with 2,000 clips: what a frame of scrolling and of zooming costs the page. */
export async function benchLanes(): Promise<string[]> {
  const lines = [`Lanes in Chromium, ${CLIPS.toLocaleString('en')} clips over one hour on 12 tracks`];
  await inLongProject(async (page) => {
    const run = async (what: string, step: string): Promise<void> => {
      lines.push(tookWords(what, await page.driver.executeAsyncScript<Ran>(RUN, LANES + step)));
    };
    await run('the whole, zoomed in and out', wheel(true));
    await page.press('Show the whole programme');
    await run('all rows scrolled', 'lanes.scrollTop = (n * 9) % 500;');
    for (let i = 0; i < 7; i++) await page.press('Zoom in');
    await run('close, scrolled', 'lanes.scrollLeft += n % 120 < 60 ? 40 : -40;');
    await run('close, zoomed in and out', wheel(true));
  });
  return lines;
}
