import { Key } from 'selenium-webdriver';
import { afterAll, afterEach, beforeAll, inject } from 'vitest';
import { noise } from '@/core/testing/signals';
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

/** A new project of one clip, “night”. */
export async function placeNight({ page, files }: Stage, seconds = 4): Promise<void> {
  await page.newProject();
  await page.upload(files.wav('night.wav', [noise(48_000 * seconds, 0.1, 3)]));
  await page.placeSource('night.wav');
}

/** Raises that clip by a key. */
export async function raiseNight({ page }: Stage): Promise<void> {
  await (await page.clip('night')).click();
  await page.driver.actions().sendKeys(Key.ARROW_UP).perform();
  await page.button('Undo: Change gain of 1 clip by +0.5 dB');
}
