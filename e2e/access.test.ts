import { readFileSync } from 'node:fs';
import type Axe from 'axe-core';
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage(true);

const AXE = readFileSync('node_modules/axe-core/axe.min.js', 'utf8');

/**
 * What axe finds that is serious in both themes, in words that lead to it; all else but colours is the same in both. The theme is
 * put on without a press: a sheet that is open stays so.
 * @param within the part of the page that is new since it was last looked at; all of it where left out
 */
async function serious(within?: string): Promise<string[]> {
  const { page } = stage;
  if (within) await page.find(within);
  await page.driver.executeScript(`if (!window.axe) { ${AXE} }`);
  return page.driver.executeAsyncScript(
    async (inside: string | undefined, done: (found: string[]) => void) => {
      const { axe } = window as unknown as { axe: typeof Axe };
      const found: string[] = [];
      for (const theme of ['light', 'dark']) {
        for (const name of ['light', 'dark'])
          document.documentElement.toggleAttribute(`data-${name}`, name === theme);
        const colours = { runOnly: { type: 'rule' as const, values: ['color-contrast'] } };
        const { violations } = await axe.run(inside ? { include: [[inside]] } : document, {
          resultTypes: ['violations'],
          ...(theme === 'light' ? {} : colours),
        });
        for (const { impact, id, nodes } of violations)
          if (impact === 'serious' || impact === 'critical')
            found.push(
              `${theme}, ${id}: ${nodes.map(({ html }) => html.replace(/class="[^"]*"/, '').slice(0, 200)).join(' | ')}`,
            );
      }
      done(found);
    },
    within,
  );
}

/** Every address the browser has asked since the last call. */
async function requests(): Promise<string[]> {
  const entries = await stage.page.driver.manage().logs().get('performance');
  return entries.flatMap((entry) => {
    const { message } = JSON.parse(entry.message) as {
      message: { method: string; params: { request?: { url: string } } };
    };
    return message.method === 'Network.requestWillBeSent' ? [message.params.request!.url] : [];
  });
}

describe('in both themes', () => {
  it('which a press changes', async () => {
    const { page } = stage;
    await page.open('/projects');
    const worn = (): Promise<string | null> =>
      page.driver.executeScript('return getComputedStyle(document.body).backgroundColor');
    const before = await worn();
    const [first] = await page.all('[aria-label^="Change to the"]');
    const to = /dark|light/.exec((await first!.getAttribute('aria-label'))!)![0];
    await first!.click();
    await page.find(`html[data-${to}]`);
    expect(await worn()).not.toBe(before);
    await page.press(`Change to the ${to === 'dark' ? 'light' : 'dark'} theme`);
    await page.until('it as before', async () => (await worn()) === before);
  });

  it('projects and audit', async () => {
    const { page, files } = stage;
    await page.open('/projects');
    expect(await serious()).toEqual([]);
    await page.open('/audit');
    await page.find('h1');
    expect(await serious()).toEqual([]);
    await page.upload(files.wav('x.wav', tones([{ dbfs: -30, seconds: 4 }], 48_000, 2)));
    await page.find('[data-mend]');
    expect(await serious()).toEqual([]);
  });

  it('an empty project', async () => {
    const { page } = stage;
    await page.newProject();
    expect(await serious()).toEqual([]);
    await page.press('Programme');
    await page.find('[role=toolbar]');
    expect(await serious()).toEqual([]);
  });

  it('the demo on every stage, with sheets open', async () => {
    const { page } = stage;
    await page.openDemo();
    expect(await serious()).toEqual([]);
    await (await page.clip('narrator-1-last-car')).click();
    await page.press('Level 1 clip');
    await page.find('[role=table][aria-label=Proposal]');
    expect(await serious('section:has([aria-label=Proposal])')).toEqual([]);
    await page.press('Close');
    await page.press('Find parts that stand out');
    await page.find('[aria-label="Parts that stand out"]');
    await page.driver.actions().sendKeys(Key.chord(Key.SHIFT, 'r')).perform();
    expect(await serious('[aria-label="Parts that stand out"]')).toEqual([]);
    await page.press('Close');
    await page.press('Plan…');
    await page.find('[data-plan-part]');
    await page.press('Ledger');
    await page.find('[data-ledger]');
    expect(await serious()).toEqual([]);
    await page.press('Ladder');
    await page.find('[data-ladder]');
    await page.press('Close');
    expect(await serious()).toEqual([]);
    await page.press('Lanes');
    for (const [open, there] of [
      ['Programme settings', '[aria-label="Start timecode"], [aria-label="Programme settings"] h2'],
      ['Commands', '[aria-label=Commands] input'],
    ] as const) {
      await page.press(open);
      await page.find(there);
      expect(await serious('.MuiModal-root')).toEqual([]);
      await page.driver.actions().sendKeys(Key.ESCAPE).perform();
      await page.until('it to be gone', async () => (await page.all('.MuiModal-root')).length === 0);
    }
    await page.driver.actions().sendKeys('?').perform();
    await page.find('[aria-label=Keys]');
    expect(await serious('.MuiModal-root')).toEqual([]);
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.until('the map to be gone', async () => (await page.all('.MuiModal-root')).length === 0);
    await page.press('Sources');
    await page.find('[data-source]');
    await page.press('Details of narrator-1');
    expect(await serious()).toEqual([]);
    await page.press('Handover');
    await page.press('Render and measure');
    await page.find('[data-file-verdict]');
    await page.press('Send');
    await page.find('[data-receipt]');
    expect(await serious()).toEqual([]);
    await page.press('Back to the edit');
    for (const form of ['Edit list', 'Media', 'Markers']) {
      await page.press(form);
      expect(await serious('[aria-label="Back to the edit"]')).toEqual([]);
    }
  });

  it('every face of the check', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.press('Check');
    await (await page.find('[data-finding]')).click();
    await page.find('section[aria-label="The finding"]');
    expect(await serious()).toEqual([]);
    // What mends the rest is not waited for here.
    await page.driver.executeScript(
      "[...document.querySelectorAll('[role=toolbar] button')].find((one) => one.textContent === 'Cancel')?.click();",
    );
    await page.press('Targets');
    await page.find('tr[data-target]');
    await page.press('Thresholds…');
    await page.find('[aria-label=Thresholds] input');
    expect(await serious()).toEqual([]);
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.until('it to be gone', async () => (await page.all('.MuiModal-root')).length === 0);
    await page.press('Over time');
    await page.find('[data-over-time]');
    expect(await serious()).toEqual([]);
    await page.press('What makes it loud');
    await page.find('[role=grid][aria-label=Parts]');
    expect(await serious()).toEqual([]);
    await page.press('Listener');
    await page.press('Change Video platform');
    await page.find('[aria-label="Service editor"] input');
    expect(await serious()).toEqual([]);
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.until('the editor to be gone', async () => (await page.all('.MuiModal-root')).length === 0);
    await page.press('Compare');
    const other = await page.find('input[type=file][aria-label="Compare with a file"]');
    await other.sendKeys(stage.files.wav('other.wav', tones([{ dbfs: -30, seconds: 6 }], 48_000, 2)));
    await page.find('[data-alignment]');
    expect(await serious()).toEqual([]);
  });

  it('the sheets for gain over time', async () => {
    const { page } = stage;
    await page.press('Programme');
    await (await page.clip('music-frostline-theme')).click();
    for (const [open, sheet] of [
      ['Duck…', 'Duck under speech'],
      ['Even out…', 'Even out'],
      ['Ride…', 'Ride'],
    ] as const) {
      await page.press(open);
      expect(await serious(`section[aria-label="${sheet}"]`)).toEqual([]);
    }
    await page.driver.actions().sendKeys('k').perform();
    expect(await serious('section[aria-label="Clicks at joins"]')).toEqual([]);
    await page.press('Close');
  });
});

describe('nothing leaves this machine', () => {
  it('every request of all of the above went to the product itself', async () => {
    const all = await requests();
    expect(all.length).toBeGreaterThan(50);
    const elsewhere = all.filter(
      (url) => !url.startsWith(stage.page.base) && !/^(blob|data|chrome(-untrusted)?|about):/.test(url),
    );
    expect(elsewhere).toEqual([]);
  });

  it('and the answers forbid anything else', async () => {
    const answer = await fetch(`${stage.page.base}/projects`);
    const policy = answer.headers.get('content-security-policy') ?? '';
    expect(policy).toMatch(/default-src 'none'/);
    expect(policy).toMatch(/script-src 'self' 'nonce-[^']+' 'wasm-unsafe-eval';/);
    expect(policy).not.toMatch(/unsafe-eval'[^;]*'unsafe|https?:/);
    expect(answer.headers.get('x-content-type-options')).toBe('nosniff');
    expect(answer.headers.get('referrer-policy')).toBe('no-referrer');
    expect(answer.headers.get('cross-origin-opener-policy')).toBe('same-origin');
  });
});
