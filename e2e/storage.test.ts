import { unzipSync } from 'fflate';
import { afterEach, describe, expect, it } from 'vitest';
import { placeNight, raiseNight, setStage } from './support/setup';

const stage = setStage();

/** Pages that are opened from now on begin with this. @returns takes it back */
async function beginWith(source: string): Promise<() => Promise<void>> {
  const { driver } = stage.page;
  const { identifier } = (await driver.sendAndGetDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
    source,
  })) as unknown as { identifier: string };
  return () => driver.sendDevToolsCommand('Page.removeScriptToEvaluateOnNewDocument', { identifier });
}

let undo: (() => Promise<void>) | null = null;
afterEach(async () => {
  // Pages with unsaved steps ask before they are left; nobody answers here, and the driver would wait.
  await stage.page.driver.executeScript(
    `addEventListener('beforeunload', (event) => event.stopImmediatePropagation(), true);`,
  );
  await undo?.();
  undo = null;
});

describe('a browser that stores nothing', () => {
  it.each([
    [
      'refuses',
      `IDBFactory.prototype.open = function () { throw new DOMException('No.', 'SecurityError'); };`,
    ],
    [
      'fails',
      `IDBFactory.prototype.open = function () {
         const asked = new EventTarget();
         asked.error = new DOMException('Internal error.', 'UnknownError');
         setTimeout(() => { asked.onerror?.(Object.assign(new Event('error'), {})); }, 5);
         return asked;
       };`,
    ],
  ])(
    'and %s to open its database: work goes on in memory, is said to, and is saved as a file',
    async (_, source) => {
      const { page } = stage;
      undo = await beginWith(source);
      await page.open('/projects');
      await page.until('it to be said', async () =>
        (await page.text('main')).includes('This browser stores nothing here.'),
      );
      await placeNight(stage);
      await raiseNight(stage);
      await page.driver.executeScript('delete window.showSaveFilePicker;');
      await page.press('In memory only: save as a file');
      const parts = unzipSync(await page.saved('New project.dengung'));
      const text = (name: string): string => new TextDecoder().decode(parts[name]);
      expect(text('project.json')).toContain('"night.wav"');
      expect(text('project.json')).toContain('Change gain of 1 clip by +0.5 dB');
      expect(Object.keys(parts).some((name) => name.endsWith('.wav'))).toBe(true);
    },
  );
});
