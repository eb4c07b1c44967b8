import { afterAll, afterEach, beforeAll, inject } from 'vitest';
import { startBrowser } from './browser';
import { TestFiles } from './files';
import { Page } from './page';

/** One browser and a folder for files, for all tests of a file. */
export interface Stage {
  page: Page;
  files: TestFiles;
}

/** Starts what a test file needs before its first test and ends it after its last. @param logRequests see `startBrowser` */
export function setStage(logRequests = false): Stage {
  const stage = {} as Stage;
  beforeAll(async () => {
    stage.files = new TestFiles();
    stage.page = new Page(await startBrowser(undefined, logRequests), inject('base'));
  });
  afterEach((context) => stage.page?.pictureOfFailure(context.task));
  afterAll(async () => {
    await stage.page?.browser.close();
    stage.files?.remove();
  });
  return stage;
}
