import { Key, Origin } from 'selenium-webdriver';
import type { Page } from '../support/page';
import { oneOf } from './random';

type Random = () => number;

async function keys(page: Page, ...pressed: string[]): Promise<void> {
  await page.driver
    .actions()
    .sendKeys(...pressed)
    .perform();
}

/** Presses keys while Control is held. @param pressed modifiers first */
export async function withControl(page: Page, ...pressed: string[]): Promise<void> {
  const actions = page.driver.actions().keyDown(Key.CONTROL);
  const held = pressed.slice(0, -1);
  for (const key of held) actions.keyDown(key);
  actions.sendKeys(pressed.at(-1)!);
  for (const key of held) actions.keyUp(key);
  await actions.keyUp(Key.CONTROL).perform();
}

async function selectClip(page: Page, random: Random): Promise<void> {
  const clips = await page.all('[data-clip]');
  if (clips.length > 0) await oneOf(clips, random).click();
}

/** Goes to a stage; what is in the way is closed first. */
async function stage(page: Page, name: string): Promise<void> {
  await keys(page, Key.ESCAPE);
  await page.press(name);
}

/** Takes a clip's waterline, or the clip itself, and drags it somewhere. */
async function drag(page: Page, random: Random): Promise<void> {
  const clips = await page.all('[data-clip]');
  if (clips.length === 0) return;
  const actions = page.driver.actions();
  await actions
    .move({ origin: oneOf(clips, random) })
    .press()
    .move({
      origin: Origin.POINTER,
      x: Math.round((random() - 0.5) * 120),
      y: Math.round((random() - 0.5) * 60),
    })
    .move({ origin: Origin.POINTER, x: 3, y: 3 })
    .release()
    .perform();
}

/** Things that an editor does, as they come; each by the real input. */
export type Action = readonly [name: string, does: (page: Page, random: Random) => Promise<void>];

/** @param sound a small file to bring in */
export const actionsWith = (sound: string): readonly Action[] => [
  [
    'gain',
    async (page, random) => {
      await selectClip(page, random);
      await keys(page, random() < 0.5 ? Key.ARROW_UP : Key.ARROW_DOWN);
    },
  ],
  [
    'gains',
    async (page, random) => {
      await selectClip(page, random);
      await keys(page, (random() < 0.5 ? Key.ARROW_UP : Key.ARROW_DOWN).repeat(1 + Math.floor(random() * 9)));
    },
  ],
  ['drag', drag],
  [
    'duplicate',
    async (page, random) => {
      await selectClip(page, random);
      await withControl(page, 'd');
    },
  ],
  [
    'remove',
    async (page, random) => {
      await selectClip(page, random);
      await keys(page, Key.DELETE);
    },
  ],
  [
    'split',
    async (page, random) => {
      await selectClip(page, random);
      await keys(page, '/');
    },
  ],
  ['undo', (page) => withControl(page, 'z')],
  ['undo', (page) => withControl(page, 'z')],
  ['redo', (page) => withControl(page, Key.SHIFT, 'z')],
  [
    'rename',
    async (page, random) => {
      await page.type('Project name', `Reel ${Math.floor(random() * 1e6)}${Key.ENTER}`);
    },
  ],
  [
    'import',
    async (page) => {
      await stage(page, 'Sources');
      await page.upload(sound);
    },
  ],
  [
    'render',
    async (page) => {
      await stage(page, 'Handover');
      await page.press('Render and measure');
    },
  ],
  ['play', (page) => keys(page, ' ')],
];
