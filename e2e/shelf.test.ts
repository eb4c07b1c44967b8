import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { setStage } from './support/setup';

const stage = setStage();

const names = async (): Promise<string[]> =>
  Promise.all(
    (await stage.page.all('table[aria-label=Projects] tbody tr td:first-child')).map((cell) =>
      cell.getText(),
    ),
  );

describe('the shelf of projects', () => {
  it('is empty at first, and says what to do', async () => {
    await stage.page.open('/projects');
    await stage.page.until('the empty shelf', async () =>
      (await stage.page.text('main')).includes('No projects yet'),
    );
  });

  it('creates projects with names of their own', async () => {
    const { page } = stage;
    await page.newProject();
    await page.newProject({ besides: true });
    await page.open('/projects');
    await page.until('two projects', async () => (await names()).length === 2);
    expect((await names()).sort()).toEqual(['New project', 'New project 2']);
  });

  it('renames, on the shelf and inside, the latter with undo', async () => {
    const { page } = stage;
    await page.press('Actions for New project 2');
    await page.press('Rename');
    await (await page.field('New name')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Night train', Key.ENTER);
    await page.until('the new name', async () => (await names()).includes('Night train'));
    await page.press('Night train');
    await page.type('Project name', 'Night ferry\n');
    await page.button('Undo: Rename to Night ferry');
    await page.kept();
    await page.press('Dengung, to all projects');
    await page.until('the name from inside', async () => (await names()).includes('Night ferry'));
  });

  it('duplicates', async () => {
    const { page } = stage;
    await page.press('Actions for Night ferry');
    await page.press('Duplicate');
    await page.until('the copy', async () => (await names()).includes('Night ferry, copy'));
  });

  it('deletes with undo, and for good only after a clear question', async () => {
    const { page } = stage;
    await page.press('Actions for Night ferry, copy');
    await page.press('Delete');
    await page.until('it to be gone', async () => !(await names()).includes('Night ferry, copy'));
    await page.press('Undo');
    await page.until('it to be back', async () => (await names()).includes('Night ferry, copy'));
    await page.press('Actions for Night ferry, copy');
    await page.press('Delete');
    await page.press('Delete permanently');
    expect(await page.text('section[aria-label=Bin]')).toMatch(/deleted permanently/);
    await page.press('Keep');
    await page.press('Restore');
    await page.until('it to be back', async () => (await names()).includes('Night ferry, copy'));
    await page.press('Actions for Night ferry, copy');
    await page.press('Delete');
    await page.press('Delete permanently…');
    await page.press('Delete permanently');
    await page.until(
      'the bin to be empty',
      async () => (await page.all('section[aria-label=Bin]')).length === 0,
    );
    expect(await names()).toHaveLength(2);
  });

  it('says so when a project is not there', async () => {
    await stage.page.open('/project/nowhere/programme');
    await stage.page.until('the message', async () =>
      (await stage.page.text('main')).includes('There is no such project'),
    );
    expect(await stage.page.errors()).toEqual([]);
  });
});

describe('two tabs on one project', () => {
  it('the second is told and may take over; nothing is overwritten, and it can be taken back', async () => {
    const { page } = stage;
    const { driver } = page;
    await page.newProject({ besides: true });
    const address = await driver.getCurrentUrl();
    await page.type('Project name', 'Tide tables\n');
    await page.button('Undo: Rename to Tide tables');
    const first = await driver.getWindowHandle();
    await driver.switchTo().newWindow('tab');
    await driver.get(address);
    await page.until('it to be told', async () =>
      (await page.text('main')).includes('This project is open in another tab'),
    );
    await page.press('Take over');
    await page.button('Undo: Rename to Tide tables');
    await page.type('Project name', 'Tide tables, spring\n');
    await page.button('Undo: Rename to Tide tables, spring');
    await page.kept();
    const second = await driver.getWindowHandle();
    await driver.switchTo().window(first);
    await page.until('the first to be told', async () =>
      (await page.text('main')).includes('Another tab has taken this project over'),
    );
    await page.press('Take it back');
    await page.button('Undo: Rename to Tide tables, spring');
    await driver.switchTo().window(second);
    await page.until('the second to be told', async () =>
      (await page.text('main')).includes('Another tab has taken this project over'),
    );
    await driver.close();
    await driver.switchTo().window(first);
    expect(await page.attribute('[aria-label="Project name"]', 'value')).toBe('Tide tables, spring');
  });
});

describe('targets', () => {
  it('of one’s own are checked, kept, used and undone', async () => {
    const { page } = stage;
    await page.newProject({ besides: true });
    await page.press('EBU R 128');
    await page.press('Make your own from');
    await page.type('Name', 'Harbour radio');
    await page.type('Integrated (LUFS)', '5');
    await page.type('Max short-term (LUFS)', 'loud');
    await page.press('Save and use');
    await page.until('what is wrong', async () =>
      (await page.text('form')).includes('Integrated: a number from −60 to 0 LUFS'),
    );
    expect(await page.text('form')).toMatch(/Max short-term: a number from −60 to 10 LUFS/);
    await page.type('Integrated (LUFS)', '-20');
    await page.type('Max short-term (LUFS)', '-15');
    await page.press('Save and use');
    await page.button('Undo: Target Harbour radio');
    expect((await page.dial('integrated')).words).toMatch(/nothing to measure/);
    await page.find('[data-figure=maxShortTerm]');
    await page.press('Undo: Target');
    await page.until(
      'the old target',
      async () => (await page.all('[data-figure=maxShortTerm]')).length === 0,
    );
    await page.press('Redo: Target Harbour radio');
    await (await page.find('section[aria-label="Verdict on the programme"] button')).click();
    expect(await page.text('[role=menu]')).toMatch(
      /Your own\nHarbour radio\n−20\.0 LUFS ±0\.5, at most −1\.0 dBTP/,
    );
    await page.press('Web video');
    await page.button('Undo: Target Web video');
  });
});
