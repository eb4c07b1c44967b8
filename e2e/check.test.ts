import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { setStage } from './support/setup';

const stage = setStage();

/** Waits until the check of the programme as it stands is done. */
async function checked(): Promise<void> {
  const { page } = stage;
  await page.until(
    'the check to be done',
    async () =>
      (await page.all('[data-check-state="done"]')).length > 0 &&
      /break/.test(await page.text('[data-check-state="done"]')),
    120_000,
  );
}

const rows = async (css = ''): Promise<string[]> =>
  Promise.all((await stage.page.all(`[data-finding]${css}`)).map((row) => row.getText()));

describe('the demo, checked', () => {
  it('is brought to its target by what is found and mended, in Check alone', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.press('Check');
    await checked();
    const found = await rows('[data-weight="breaks"]');
    expect(found[0]).toMatch(/Loudness[\s\S]*all of it[\s\S]*on every track brings it to −23\.0 LUFS/);
    expect(found.some((row) => /True peak/.test(row))).toBe(true);
    await page.press('Mend all that breaks a limit…');
    await page.until('changes to be proposed', async () => (await page.all('[data-change]')).length > 0);
    expect(await page.all('[data-left]')).toHaveLength(0);
    await page.press('Preview');
    await page.measured();
    expect((await page.dial('integrated')).state).toBe('within');
    const changes = (await page.all('[data-change]')).length;
    await page.press(`Apply ${changes} change${changes === 1 ? '' : 's'}`);
    await page.measured();
    await checked();
    expect(await rows('[data-weight="breaks"]')).toEqual([]);
    expect((await page.dial('truePeak')).state).toBe('within');
    // One named step: gone with one undo.
    await page.press(`Undo: Mend all: ${changes} change${changes === 1 ? '' : 's'}`);
    await page.measured();
    expect((await page.dial('integrated')).state).toBe('over');
    expect(await page.errors()).toEqual([]);
  });

  it('a single finding is gone to, previewed, mended; another is accepted with a note', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.press('Check');
    await checked();
    const [click] = await page.all('[data-finding="click"]');
    await click!.click();
    const panel = 'section[aria-label="The finding"]';
    expect(await page.text(panel)).toMatch(/Click[\s\S]*Smallest fix[\s\S]*fade/i);
    const id = await page.attribute('[data-finding="click"]', 'id');
    const ids = async (): Promise<string[]> =>
      Promise.all((await page.all('[data-finding]')).map((row) => row.getAttribute('id').then(String)));
    expect(await ids()).toContain(id);
    await page.press('Apply this fix');
    await page.measured();
    await checked();
    expect(await ids()).not.toContain(id);
    // By keys: the next finding is walked to, and accepted.
    const grid = await page.find('[role=grid][aria-label=Findings]');
    await grid.sendKeys(Key.HOME);
    await page.type('Why it may stay', 'The client wants it');
    await page.press('Accept it');
    await page.until('it to be accepted', async () => (await page.all('[data-accepted]')).length === 1);
    expect(await page.text('[data-accepted-note]')).toMatch(/The client wants it/);
    await page.measured();
    await checked();
    expect(await page.text('[data-accepted]')).toBe('Accepted: The client wants it');
  });

  it('stands against three targets at once; another one can lead', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.press('Check');
    await checked();
    await page.press('Targets');
    for (const name of ['Web video', 'EBU R 128 s1, short form']) {
      await page.press('Add a target…');
      await page.press(name);
      await page.until(`${name} to be in force`, async () =>
        (await Promise.all((await page.all('tr[data-target] th')).map((head) => head.getText()))).some(
          (text) => text.startsWith(name),
        ),
      );
    }
    const state = (target: string, figure: string): Promise<string> =>
      page.attribute(`tr[data-target="${target}"] [data-cell-figure="${figure}"]`, 'data-state');
    expect(await page.all('tr[data-target]')).toHaveLength(3);
    expect(await state('ebu-r128', 'integrated')).toBe('over');
    expect(await state('ebu-r128-s1', 'maxShortTerm')).toBe('over');
    expect(await page.all('tr[data-target="web-video"] [data-cell-figure="maxShortTerm"]')).toHaveLength(0);
    const lead = await page.find('tr[data-target="web-video"] button');
    await lead.click();
    await page.until(
      'it to lead',
      async () => (await page.attribute('tr[data-leads="true"]', 'data-target')) === 'web-video',
    );
    await page.measured();
    expect((await page.dial('integrated')).words).toMatch(/over/);
    // A track by itself is judged like the whole.
    await page.pick('Judged', 'All music');
    await page.until('music to be measured', async () => (await page.all('tr[data-target]')).length === 3);
    const music = await page.text('tr[data-leads="true"] [data-cell-figure="integrated"]');
    expect(music).toMatch(/LUFS/);
    expect(await page.text('tr[data-leads="true"]')).toMatch(/for this part/);
    expect(await page.errors()).toEqual([]);
  });
});
