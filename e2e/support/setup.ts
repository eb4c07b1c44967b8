import { afterAll, afterEach, beforeAll } from 'vitest';
import { startBrowser } from './browser';
import { TestFiles } from './files';
import { Page } from './page';
import { startServer } from './server';

/** One server, one browser and a folder for files, for all tests of a file. */
export interface Stage {
  page: Page;
  files: TestFiles;
}

/** Starts what a test file needs before its first test and ends it after its last. */
export function setStage(): Stage {
  const stage = {} as Stage;
  let stopServer: (() => void) | undefined;
  beforeAll(async () => {
    const server = await startServer();
    stopServer = server.stop;
    stage.files = new TestFiles();
    stage.page = new Page(await startBrowser(), server.base);
  });
  afterEach((context) => stage.page?.pictureOfFailure(context.task));
  afterAll(async () => {
    await stage.page?.browser.close();
    stage.files?.remove();
    stopServer?.();
  });
  return stage;
}
