import { FRAME } from './frames';
import { CLIPS, inLongProject } from './longProject';

/** After which what is waited for does not come any more, ms. */
const LIMIT_MS = 900_000;

/** Does something in the page and waits until what it brings is painted; gives what it took, and the longest task meanwhile, ms. */
const TIMED = `
  const [act, there, done] = [new Function(arguments[0]), new Function('return ' + arguments[1]), arguments[2]];
  let longest = 0;
  const observer = new PerformanceObserver((list) => { for (const { duration } of list.getEntries()) longest = Math.max(longest, duration); });
  observer.observe({ entryTypes: ['longtask'] });
  const start = performance.now();
  act();
  const look = () => {
    if (!there() && performance.now() - start < ${LIMIT_MS}) return requestAnimationFrame(look);
    requestAnimationFrame(() => {
      const took = performance.now() - start;
      // What it sets off afterwards counts as well.
      setTimeout(() => { observer.disconnect(); done({ took, longest }); }, 1500);
    });
  };
  look();
`;

interface Timed {
  readonly took: number;
  readonly longest: number;
}

const press = (label: string): string =>
  `[...document.querySelectorAll('a, button, [role=tab]')].find((one) => (one.getAttribute('aria-label') ?? one.textContent).trim().startsWith('${label}')).click();`;

/** What an editor does in a long project, and how long the page takes for it. */
export async function benchSession(): Promise<string[]> {
  const lines = [`A session in Chromium, ${CLIPS.toLocaleString('en')} clips over one hour on 12 tracks`];
  await inLongProject(async (page) => {
    const timed = async (what: string, act: string, there: string): Promise<void> => {
      const { took, longest } = await page.driver.executeAsyncScript<Timed>(TIMED, act, there);
      const task = longest > 0 ? `${(longest / FRAME).toFixed(1)} frames` : 'under 3 frames';
      lines.push(
        `  ${what.padEnd(38)} ${(took / FRAME).toFixed(1).padStart(6)} frames at 60 a second; longest task ${task}`,
      );
    };
    await page.driver.manage().setTimeouts({ script: LIMIT_MS + 10_000 });
    const lanes = `document.querySelectorAll('[data-lanes]').length >= 5`;
    await timed(
      'to Sources',
      press('Sources'),
      `!document.querySelector('[data-lanes]') && document.querySelector('[data-source]')`,
    );
    await timed('to Programme', press('Programme'), lanes);
    await timed(
      'to Check',
      press('Check'),
      `document.querySelector('main [aria-label="Face of the check"]')`,
    );
    const begun = performance.now();
    await timed('the check, with what mends it all', '', `document.querySelector('[data-check-state=done]')`);
    const played = 3_600_000 / (performance.now() - begun);
    lines.push(`  ${''.padEnd(38)} ${played.toFixed(0).padStart(6)} × as fast as it plays`);
    await timed(
      'to Handover',
      press('Handover'),
      `/Render and measure/.test(document.querySelector('main').textContent)`,
    );
    await timed('back to Programme', press('Programme'), lanes);
    await timed(
      'all clips selected',
      `document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'a', code: 'KeyA', ctrlKey: true, bubbles: true }));`,
      `/2,000 clips selected/.test(document.body.textContent)`,
    );
    const start = performance.now();
    await page.driver.navigate().refresh();
    await page.until('the lanes to be there', async () => (await page.all('[data-lanes]')).length > 4);
    lines.push(
      `  ${'opened again, to use'.padEnd(38)} ${((performance.now() - start) / FRAME).toFixed(0).padStart(6)} frames at 60 a second`,
    );
  });
  return lines;
}
