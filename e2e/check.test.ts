import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { setStage } from './support/setup';

const stage = setStage();

/** Waits until something of the check is there. */
const there = (css: string): Promise<unknown> =>
  stage.page.until(`${css} to be there`, async () => (await stage.page.all(css)).length > 0);

/** Waits until so many findings break a limit, as the programme now stands. */
const breaking = (count: number): Promise<unknown> =>
  stage.page.until(
    `${count} findings to break a limit`,
    async () =>
      (await stage.page.all('[data-check-state="old"]')).length === 0 &&
      (await stage.page.text('[aria-label="Findings shown"]')).includes(`Break a limit ${count}`),
  );

const rows = async (css = ''): Promise<string[]> =>
  Promise.all((await stage.page.all(`[data-finding]${css}`)).map((row) => row.getText()));

describe('the demo, checked', () => {
  it('is brought to its target by what is found and mended, in Check alone; what may stay is accepted', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.press('Check');
    await there('[data-finding="integrated"] [data-fix]');
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
    await breaking(0);
    expect(await rows('[data-weight="breaks"]')).toEqual([]);
    expect((await page.dial('truePeak')).state).toBe('within');
    // One named step: gone with one undo.
    await page.press(`Undo: Mend all: ${changes} change${changes === 1 ? '' : 's'}`);
    await page.measured();
    expect((await page.dial('integrated')).state).toBe('over');
    await breaking(3);
    // A single finding is gone to and mended.
    await there('[data-finding="click"] [data-fix]');
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
    await page.until('it to be gone', async () => !(await ids()).includes(id));
    // By keys: the next finding is walked to, and accepted.
    const grid = await page.find('[role=grid][aria-label=Findings]');
    await grid.sendKeys(Key.HOME);
    await page.type('Why it may stay', 'The client wants it');
    await page.press('Accept it');
    await page.until('it to be accepted', async () => (await page.all('[data-accepted]')).length === 1);
    expect(await page.text('[data-accepted-note]')).toMatch(/The client wants it/);
    await breaking(2);
    expect(await page.text('[data-accepted]')).toBe('Accepted: The client wants it');
    // In the report it stands as accepted.
    await page.press('Report…');
    await page.press('Data (JSON)', 'self::li');
    const report = JSON.parse((await page.saved('Frostline findings.json')).toString('utf8')) as {
      findings: { accepted: boolean; note: string }[];
    };
    expect(report.findings.filter(({ accepted }) => accepted).map(({ note }) => note)).toEqual([
      'The client wants it',
    ]);
  });

  it('stands against three targets at once; another one can lead', async () => {
    const { page } = stage;
    await page.openDemo();
    await page.press('Check');
    await page.press('Targets');
    await there('[data-cell-figure]');
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
    // Over time: a click goes there and plays; what is drawn is saved as a table.
    await page.press('Over time');
    const chart = await page.find('[data-over-time]');
    await chart.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await page.until('the readout', async () => /^0:02\.0 .*LUFS/.test(await page.text('[data-readout]')));
    await page.press('Save as…');
    await page.press('Table (CSV)', 'self::li');
    const table = (await page.saved('Frostline over time.csv')).toString('utf8').split('\n');
    expect(table[0]).toMatch(/^seconds,momentaryLufs,shortTermLufs,integratedSoFarLufs,truePeakDbtp L/);
    expect(table.length).toBeGreaterThan(1_800);
    // What a service does with it: of all that is louder than its reference, only so many per cent are played.
    await page.press('Listener');
    const integrated = (await page.dial('integrated')).value;
    const percent = Number(
      await page.attribute('tr[data-service="video-down-14"] [data-percent]', 'data-percent'),
    );
    expect(percent).toBeCloseTo(Math.min(100, 100 * 10 ** ((-14 - integrated) / 20)), 0);
    // It begins from the programme's own loudness.
    expect(await page.text('[data-published]')).toContain(
      `Published at ${integrated.toFixed(1).replace('-', '−')} LUFS`,
    );
    await page.type('Published at (LUFS)', '-9.2');
    expect(await page.text('[data-published]')).toMatch(/played at 58 %: −4\.8 dB/);
    await page.press('Targets');
    expect(music).toMatch(/LUFS/);
    expect(await page.errors()).toEqual([]);
  });
});
