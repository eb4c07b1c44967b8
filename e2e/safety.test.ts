import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { noise, tones } from '@/core/testing/signals';
import { clip, cutText } from '@/cli/testing/cuts';
import { setStage } from './support/setup';

const stage = setStage();

/** From now on the browser refuses to keep anything, as it does when its storage is full; or it is well again. */
const fillStorage = (full: boolean): Promise<unknown> =>
  stage.page.driver.executeScript(
    `const real = (window.realPut ??= IDBObjectStore.prototype.put);
     IDBObjectStore.prototype.put = arguments[0]
       ? function () { throw new DOMException('Full.', 'QuotaExceededError'); }
       : real;`,
    full,
  );

const rename = async (name: string): Promise<void> => {
  const { page } = stage;
  await page.type('Project name', name);
  await (await page.field('Project name')).sendKeys(Key.ENTER);
  await page.button(`Undo: Rename to ${name}`);
};

const projectName = (): Promise<string> => stage.page.attribute('[aria-label="Project name"]', 'value');

/** Puts a record straight into the browser's storage. */
const putRecord = (store: string, key: string, value: unknown): Promise<unknown> =>
  stage.page.driver.executeAsyncScript(
    `const [store, key, value, done] = arguments;
     const open = indexedDB.open('dengung');
     open.onsuccess = () => {
       const change = open.result.transaction(store, 'readwrite');
       change.objectStore(store).put(value, key);
       change.oncomplete = () => { open.result.close(); done(null); };
     };`,
    store,
    key,
    value,
  );

describe('when the browser’s storage is full', () => {
  it('steps are tried again, asked about before they are left, and offered as a file', async () => {
    const { page } = stage;
    await page.newProject();
    await page.kept();
    await fillStorage(true);
    await rename('Salt road');
    await page.find('[data-save=failed]');
    await page.press('Save as a file');
    const file = JSON.parse((await page.saved('Salt road.dengung.json')).toString()) as {
      project: { name: string };
      past: { name: string }[];
    };
    expect(file.project.name).toBe('Salt road');
    expect(file.past.at(-1)!.name).toBe('Rename to Salt road');
    await page.press('Dengung, to all projects');
    await page.until('the question', async () =>
      (await page.text('[role=dialog]')).includes('The last steps are not saved'),
    );
    await page.press('Stay');
    await page.until('it to be gone', async () => (await page.all('[role=dialog]')).length === 0);
    // Left all the same, they are held, and there again when one comes back.
    await page.press('Dengung, to all projects');
    await page.press('Leave');
    await page.until('the shelf to say so', async () =>
      (await page.text('main')).includes('The last steps in “Salt road” could not be saved'),
    );
    await fillStorage(false);
    await page.press('Open it');
    await page.until('the name', async () => (await projectName()) === 'Salt road');
    await page.kept();
    await page.driver.navigate().refresh();
    await page.until('the name', async () => (await projectName()) === 'Salt road');
  });

  it('saves by itself once there is room again', async () => {
    const { page } = stage;
    await fillStorage(true);
    await rename('Salt road, east');
    await page.find('[data-save=failed]');
    await fillStorage(false);
    await page.kept();
  });

  it('the browser asks before the page goes', async () => {
    const { page } = stage;
    await fillStorage(true);
    await rename('Salt road, west');
    await page.find('[data-save=failed]');
    const asked = await page.driver.executeScript<boolean>(
      `const leaving = new Event('beforeunload', { cancelable: true });
       window.dispatchEvent(leaving);
       return leaving.defaultPrevented;`,
    );
    expect(asked).toBe(true);
    await fillStorage(false);
    await page.kept();
  });

  it('a tab that takes over is not said to have all', async () => {
    const { page } = stage;
    const { driver } = page;
    const address = await driver.getCurrentUrl();
    await fillStorage(true);
    await rename('Salt road, north');
    await page.find('[data-save=failed]');
    const first = await driver.getWindowHandle();
    await driver.switchTo().newWindow('tab');
    await driver.get(address);
    await page.press('Take over');
    await page.until('it to be open', async () => (await projectName()) === 'Salt road, west');
    await driver.switchTo().window(first);
    await page.until('it to be told', async () =>
      (await page.text('main')).includes('The last steps could not be saved here'),
    );
    await page.press('Save as a file');
    const file = JSON.parse((await page.saved('Salt road, north.dengung.json')).toString()) as {
      project: { name: string };
    };
    expect(file.project.name).toBe('Salt road, north');
    await driver.close();
    await driver.switchTo().window((await driver.getAllWindowHandles())[0]!);
  });
});

describe('the shelf', () => {
  it('changes no project that is open in another tab', async () => {
    const { page } = stage;
    const { driver } = page;
    await page.newProject();
    await rename('Open elsewhere');
    await page.kept();
    const first = await driver.getWindowHandle();
    await driver.switchTo().newWindow('tab');
    await page.open('/projects');
    await page.press('Actions for Open elsewhere');
    await page.press('Delete');
    await page.until('it to be told', async () =>
      (await page.text('main')).includes('“Open elsewhere” is open in another tab'),
    );
    expect(await page.all('section[aria-label=Bin]')).toEqual([]);
    await driver.switchTo().window(first);
    await rename('Still here');
    await page.kept();
    await page.press('Dengung, to all projects');
    await page.press('Actions for Still here');
    await page.press('Delete');
    await page.find('section[aria-label=Bin]');
    await driver.close();
    await driver.switchTo().window((await driver.getAllWindowHandles())[0]!);
  });

  it('shows what can be read, and offers what cannot as a file', async () => {
    const { page } = stage;
    await page.newProject();
    await rename('Whole');
    await page.kept();
    // The list of targets is there once it has been looked at.
    await (await page.find('section[aria-label="Verdict on the programme"] button')).click();
    await page.find('[role=menu]');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await putRecord('shelf', 'odd date', { id: 'odd date', name: 'Odd', modifiedAt: 1e300 });
    await putRecord('shelf', 'nothing', null);
    await putRecord('projects', 'broken', { project: { schema: 5, name: {} }, past: [], future: [] });
    await putRecord('settings', 'own-targets', [{ id: 'x', name: 'Odd', integratedLufs: 'loud' }]);
    await page.open('/projects');
    const listed = await page.find('section[aria-label="Cannot be read"]');
    const told = await listed.getText();
    expect(told).toMatch(/broken\nThis project is damaged: .+\./);
    expect(told).toMatch(/nothing\nNothing but a damaged note of it is left\./);
    expect(told).toMatch(/Odd\n/);
    await page.press('Whole');
    await (await page.find('section[aria-label="Verdict on the programme"] button')).click();
    expect(await page.text('[role=menu]')).toMatch(/1 target of yours cannot be read: save as a file/);
    await page.choose('1 target of yours');
    expect((await page.saved('unreadable targets.json')).toString()).toContain('"loud"');
    await page.open('/project/broken/programme');
    await page.until('the reason', async () => (await page.text('main')).includes('This project is damaged'));
    await page.press('Save as a file');
    expect((await page.saved('unreadable project broken.dengung.json')).toString()).toContain('"schema":5');
    await page.press('To all projects');
    await page.find('table[aria-label=Projects]');
  });

  it('opens a project file again', async () => {
    const { page } = stage;
    const path = stage.files.write('salt.dengung.json', await page.saved('Salt road.dengung.json'));
    await page.open('/projects');
    await (await page.find('input[aria-label="Project file"]')).sendKeys(path);
    await page.button('Salt road');
    await (
      await page.find('input[aria-label="Project file"]')
    ).sendKeys(stage.files.write('none.json', '{}'));
    await page.until('what is wrong', async () =>
      (await page.text('main')).includes('This is not a project'),
    );
  });
});

describe('a cut whose media share a name', () => {
  it('asks which is which, where nothing decides', async () => {
    const { page, files } = stage;
    await page.newProject();
    const paths = [noise(96_000, 0.1, 1), noise(96_000, 0.2, 2)].map((samples, i) => {
      files.sounds(`day${i + 1}`, { 'take.wav': samples });
      return `${files.folder}/day${i + 1}/take.wav`;
    });
    await page.upload(...paths);
    await page.until('both to be there', async () => (await page.all('[data-source]')).length === 2);
    await page.upload(files.write('reel.otio', cutText([clip('take.wav', 0, 25, 0, 50)])));
    await page.until('the question', async () =>
      (await page.text('[data-cut="reel.otio"] [data-unsure]')).includes('Several sources could be take.wav'),
    );
    await page.pick('Which take.wav?', 'take.wav');
    await page.press('Place 1 clip');
    await page.button('Undo: Place timeline reel.otio');
  });

  it('with data thousands of levels deep is read', async () => {
    const { page, files } = stage;
    let deep = '{"a":1}';
    for (let i = 0; i < 5_000; i++) deep = `{"in":${deep}}`;
    const text = cutText([clip('take.wav', 0, 25, 0, 50)]).replace(
      '"effects"',
      `"metadata":${deep},"effects"`,
    );
    await page.upload(files.write('deep.otio', text));
    await page.until('it to be read', async () =>
      (await page.text('[data-cut="deep.otio"]')).includes('1 clip'),
    );
  });
});

describe('a file that is written', () => {
  it('keeps its layout when it is mended, and the ceiling by the exact true peak', async () => {
    const { page, files } = stage;
    await page.open('/audit');
    const layout = { id: 'mask', name: 'L, R and LFE', labels: ['L', 'R', 'LFE'], weights: [1, 1, 0] };
    const three = files.wav(
      'three.wav',
      [1, 2, 3].map((seed) => noise(144_000, 0.02, seed)),
      48_000,
      's24',
      layout,
    );
    await page.upload(three);
    await page.press('Correct it');
    await page.press('Save file');
    const cells = await page.all('[data-compare="integratedLufs"] td');
    expect(Number(await cells[1]!.getAttribute('data-value'))).toBeCloseTo(-23, 1);
    // A burst of samples at random signs, the hardest there is for a short filter.
    const x = noise(48_000 * 30, 0.02, 5).map((v, i) => (i > 60_000 && i < 61_500 ? Math.sign(v) * 0.3 : v));
    await page.upload(files.wav('hard.wav', [x, x.slice()]));
    await page.until('the exact peak', async () =>
      /at .+ dB the exact true peak reaches −1\.0 dBTP/.test(await page.text('[data-mend]')),
    );
  });

  it('that is cut off at full scale is not offered as right', async () => {
    const { page, files } = stage;
    await page.newProject();
    const [left, right] = tones([{ dbfs: -1, seconds: 4 }], 48_000);
    await page.upload(files.wav('hot.wav', [left!, right!]));
    await page.until('it to be there', async () => (await page.all('[data-source]')).length === 1);
    await page.upload(files.write('hot.otio', cutText([clip('hot.wav', 0, 100, 6, 100)])));
    await page.press('Place 1 clip');
    await page.press('Handover');
    await page.press('Render and measure');
    await page.until('the warning', async () =>
      /samples went past full scale and were cut off there/.test(
        await page.text('section[aria-label="The finished file"]'),
      ),
    );
    expect(await page.text('[data-disagrees]')).toMatch(/does not measure what was predicted/);
    await page.button('Save anyway');
  });
});
