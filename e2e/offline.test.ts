import { createServer, request as httpRequest } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { ANY_PROJECT } from '@/interface/offline/templates';
import { startBrowser } from './support/browser';
import { TestFiles } from './support/files';
import { Page } from './support/page';
import { startServer } from './support/server';

let server: Awaited<ReturnType<typeof startServer>>;
let page: Page;
let files: TestFiles;

beforeAll(async () => {
  server = await startServer({ DENGUNG_OFFLINE: '1' });
  files = new TestFiles();
  page = new Page(await startBrowser(), server.base);
});
afterAll(async () => {
  await page?.browser.close();
  server?.stop();
  files?.remove();
});

const integrated = async (): Promise<number> =>
  Number(await page.attribute('[data-figure=integrated]', 'data-value'));

describe('with the server gone after the first visit', () => {
  let project: string;

  it('a project goes on, and is opened again with its sound', async () => {
    await page.newProject();
    await page.upload(files.wav('ferry.wav', [noise(48_000 * 6, 0.1, 3)]));
    await page.placeSource('ferry.wav');
    await page.kept();
    await page.until('the copy to be held', () =>
      page.driver.executeScript<boolean>(
        'return navigator.serviceWorker.controller !== null && navigator.serviceWorker.controller.state === "activated"',
      ),
    );
    server.stop();
    await page.until('the server to be gone', () =>
      fetch(server.base).then(
        () => false,
        () => true,
      ),
    );
    for (const stage of ['Check', 'Handover', 'Sources', 'Programme']) await page.press(stage);
    await page.measured();
    const before = await integrated();
    project = (await page.driver.getCurrentUrl()).replace(/\/\w+$/, '/programme');
    await page.driver.get(project);
    await page.measured();
    expect(await integrated()).toBe(before);
    expect(await page.driver.getPageSource()).not.toContain(ANY_PROJECT);
  });

  it('a new one is made, sound is brought into it, and a file comes out', async () => {
    await page.driver.get(`${server.base}/`);
    await page.until('the shelf', async () => /ferry|New project/.test(await page.text('main')));
    expect(new URL(await page.driver.getCurrentUrl()).pathname).toBe('/projects');
    await page.press('New project');
    await page.upload(files.wav('gulls.wav', [noise(48_000 * 5, 0.1, 4)]));
    await page.placeSource('gulls.wav');
    await page.measured();
    await page.press('Handover');
    await page.press('Render and measure');
    await page.find('[data-file-verdict]');
    await page.driver.get(`${server.base}/audit`);
    await page.find('main');
    // That nobody answers is told in the console by the browser; nothing else is.
    const other = (await page.errors()).filter(
      (message) => !/ERR_CONNECTION_REFUSED|Failed to fetch RSC payload/.test(message),
    );
    expect(other).toEqual([]);
  });
});

describe('a new version', () => {
  it('waits until somebody asks for it, and then takes its place', async () => {
    const behind = await startServer({ DENGUNG_OFFLINE: '1' });
    let version = 1;
    /** The product, with its copying worker of a version of its own. */
    const front = createServer((request, response) => {
      if (request.url === '/serviceWorker.js') {
        void fetch(behind.base + request.url).then(async (answer) => {
          const headers = { 'Content-Type': 'text/javascript', 'Cache-Control': 'no-store' };
          response.writeHead(200, headers).end(`${await answer.text()}\n// ${version}`);
        });
        return;
      }
      const { method, headers } = request;
      const asked = httpRequest(behind.base + (request.url ?? '/'), { method, headers }, (answer) => {
        response.writeHead(answer.statusCode ?? 500, answer.headers);
        answer.pipe(response);
      });
      request.pipe(asked);
    });
    await new Promise<void>((resolve) => front.listen(0, '127.0.0.1', resolve));
    const base = `http://127.0.0.1:${(front.address() as AddressInfo).port}`;
    const other = new Page(await startBrowser(), base);
    const controlled = (): Promise<boolean> =>
      other.driver.executeScript<boolean>('return navigator.serviceWorker.controller?.state === "activated"');
    try {
      await other.newProject();
      const address = await other.driver.getCurrentUrl();
      await other.until('the copy to be held', controlled);
      expect(await other.text('body')).not.toContain('new version');
      version = 2;
      await other.driver.get(address);
      await other.until('the new version to be told of', async () =>
        (await other.text('body')).includes('There is a new version of Dengung'),
      );
      await other.driver.executeScript('window.before = true');
      await other.press('Load it');
      await other.until('the page to come anew', () =>
        other.driver.executeScript<boolean>(
          'return window.before === undefined && document.querySelector("[data-save]") !== null',
        ),
      );
      expect(await controlled()).toBe(true);
      const waiting = await other.driver.executeAsyncScript(
        'const done = arguments[0]; navigator.serviceWorker.getRegistration().then((one) => done(one.waiting === null));',
      );
      expect(waiting).toBe(true);
      expect(await other.text('body')).not.toContain('new version');
    } finally {
      await other.browser.close();
      front.close();
      behind.stop();
    }
  });
});
