import { Key } from 'selenium-webdriver';
import { HISTORY_LIMIT } from '@/core/programme/history';
import { SIZE } from '../support/browser';
import type { Page } from '../support/page';
import { withControl, type Action } from './actions';
import { oneOf } from './random';

/** What a page shows of a project. */
interface Seen {
  readonly saved: boolean;
  /** Steps done. */
  readonly steps: number;
  /** What undo would take back. */
  readonly undo: string;
}

/** What ends the work: the browser, the tab's process, the tab, a reload. */
const ENDS = ['browser', 'browser', 'browser', 'tab process', 'tab', 'reload'] as const;
type End = (typeof ENDS)[number];

/** What came of one end. */
export interface Ended {
  readonly end: End;
  readonly actions: readonly string[];
  /** Actions that the page did not take: something was in their way. */
  readonly refused: number;
  /** Sounds stored that no project names, and imports begun. */
  readonly orphans: number;
  readonly imports: number;
  /** What is wrong; empty when nothing is. */
  readonly faults: readonly string[];
}

const look = (page: Page): Promise<Seen | null> =>
  page.driver.executeScript<Seen | null>(
    `const note = document.querySelector('[data-save][data-steps]');
    const undo = document.querySelector('button[aria-label^="Undo"]');
    return note && undo
      ? { saved: note.dataset.save === 'saved', steps: Number(note.dataset.steps), undo: undo.getAttribute('aria-label') }
      : null;`,
  );

/** Names of sounds that are stored though no project names them, and of sounds that a project names and that are not there. */
const soundsOf = (page: Page): Promise<{ orphans: number; lost: readonly string[] }> =>
  page.driver.executeAsyncScript(
    `const done = arguments[0];
    const open = indexedDB.open('dengung');
    open.onerror = () => done({ orphans: -1, lost: ['the storage does not open'] });
    open.onsuccess = () => {
      const db = open.result;
      const all = (name, method) => new Promise((resolve, reject) => {
        const asked = db.transaction(name).objectStore(name)[method]();
        asked.onsuccess = () => resolve(asked.result);
        asked.onerror = () => reject(asked.error);
      });
      const files = async () => {
        const sizes = new Map();
        const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('sound', { create: true });
        for await (const [key, handle] of folder.entries()) sizes.set(key, (await handle.getFile()).size);
        return sizes;
      };
      Promise.all([all('audio', 'getAllKeys'), all('audio', 'getAll'), all('projects', 'getAll'), files()]).then(([keys, records, texts, sizes]) => {
        // Projects are stored as text, steps apart.
        const projects = texts.map(({ project, past, future }) => ({
          project: JSON.parse(project), past: past.map((step) => JSON.parse(step)), future: future.map((step) => JSON.parse(step)),
        }));
        // What a record calls a file has to be one, of the right length; a file counts whether a record names it or not.
        const whole = keys.filter((key, i) => !key.includes('/') && (records[i].pieces !== null || sizes.get(key) === records[i].size));
        const stored = new Set(whole);
        const every = new Set([...JSON.stringify(projects).matchAll(/"audioKey":"([^"]+)"/g)].map(([, key]) => key));
        const now = projects.flatMap(({ project }) => project.sources.map(({ audioKey }) => audioKey));
        db.close();
        done({
          orphans: [...new Set([...stored, ...sizes.keys()])].filter((key) => !every.has(key)).length,
          lost: now.filter((key) => !stored.has(key)),
        });
      }, (error) => done({ orphans: -1, lost: [String(error)] }));
    };`,
  );

async function end(page: Page, how: End): Promise<void> {
  if (how === 'browser') {
    await page.browser.kill();
    return page.comeBack();
  }
  const { driver } = page;
  if (how === 'reload') return driver.navigate().refresh();
  const old = await driver.getWindowHandle();
  await driver.switchTo().newWindow('tab');
  const fresh = await driver.getWindowHandle();
  await driver.switchTo().window(old);
  // A tab that crashed answers nothing any more.
  if (how === 'tab process') await driver.sendDevToolsCommand('Page.crash', {}).catch(() => undefined);
  else await driver.close();
  await driver.switchTo().window(fresh);
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', SIZE);
}

const same = (a: Seen, b: Seen): boolean => a.steps === b.steps && a.undo === b.undo;

/**
 * Does things at random on an open project, ends all of it at a random moment, and looks at what is there again.
 * @param address of the project
 * @param random the same numbers do the same things
 */
export async function endOnce(
  page: Page,
  address: string,
  actions: readonly Action[],
  random: () => number,
): Promise<Ended> {
  const done: string[] = [];
  const trail: Seen[] = [];
  let refused = 0;
  let lastSaved = 0;
  const note = async (): Promise<void> => {
    const seen = await look(page);
    if (!seen) return;
    trail.push(seen);
    if (seen.saved) lastSaved = trail.length - 1;
  };
  await page.kept();
  await note();
  for (let left = 1 + Math.floor(random() * 7); left > 0; left--) {
    const [name, does] = oneOf(actions, random);
    done.push(name);
    await does(page, random).catch(() => refused++);
    await note();
    await new Promise((resolve) => setTimeout(resolve, random() * 120));
    await note();
  }
  await new Promise((resolve) => setTimeout(resolve, random() * 250));
  await note();
  const how = oneOf(ENDS, random);
  await end(page, how);
  // Pages that are left with something unsaved ask first.
  await page.driver
    .switchTo()
    .alert()
    .then(
      (alert) => alert.accept(),
      () => undefined,
    );
  if (how !== 'reload') await page.driver.get(address);
  const faults: string[] = [];
  const opened = `the project to open after ${how} in ${done.join(', ')}`;
  const after = await page.until(opened, async () => {
    const seen = await look(page);
    return seen?.saved ? seen : null;
  });
  const possible = trail.slice(lastSaved);
  // What was on its way in may have come in, and been saved, after the last look; where as many steps are held as can be,
  // the oldest goes for it.
  const { steps: before } = trail.at(-1)!;
  const isMore = after.steps > before || (before === HISTORY_LIMIT && after.steps === HISTORY_LIMIT);
  const cameIn = done.includes('import') && after.undo.startsWith('Undo: Add ') && isMore;
  if (!cameIn && !possible.some((seen) => same(seen, after)))
    faults.push(`shown as saved: ${JSON.stringify(trail[lastSaved])}; there again: ${JSON.stringify(after)}`);
  if (after.steps > 0) {
    const stepsAre = (steps: number) =>
      page.until(`${steps} steps`, async () => (await look(page))?.steps === steps);
    await withControl(page, 'z');
    await stepsAre(after.steps - 1);
    await withControl(page, Key.SHIFT, 'z');
    await stepsAre(after.steps);
  }
  await page.kept();
  const { orphans, lost } = await soundsOf(page);
  if (lost.length > 0) faults.push(`sound that is not there: ${lost.join(', ')}`);
  const imports = done.filter((name) => name === 'import').length;
  return { end: how, actions: done, refused, orphans, imports, faults };
}
