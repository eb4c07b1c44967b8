import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import papa from 'papaparse';
import { Key } from 'selenium-webdriver';
import { expect, it } from 'vitest';
import { tones } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();

/** What would do something if it were taken for markup, a formula or a path. */
const HIT = '"><img src=x onerror="window.hit=1"><script>window.hit=2</script>';
const NAME = `=HYPERLINK(1)${HIT}\u202e../..\u0007`;
/** As a file may be called. */
const FILE = `=1+1 "><img src=x onerror=window.hit=3>${'long '.repeat(20)}.wav`;

const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
const range = (start: number, length: number) => ({
  ...{ OTIO_SCHEMA: 'TimeRange.1', start_time: time(start), duration: time(length) },
});
const CUT = JSON.stringify({
  ...{ OTIO_SCHEMA: 'Timeline.1', name: NAME },
  tracks: {
    OTIO_SCHEMA: 'Stack.1',
    markers: [{ OTIO_SCHEMA: 'Marker.2', name: `marker ${NAME}`, marked_range: range(20, 1) }],
    children: [
      {
        ...{ OTIO_SCHEMA: 'Track.1', kind: 'Audio', name: `track ${NAME}` },
        children: [
          {
            ...{ OTIO_SCHEMA: 'Clip.2', name: `clip ${NAME}`, source_range: range(0, 100) },
            media_references: {
              DEFAULT_MEDIA: {
                OTIO_SCHEMA: 'ExternalReference.1',
                target_url: FILE,
                available_range: range(0, 100),
              },
            },
          },
        ],
      },
    ],
  },
});

it('names from outside stay names: on every screen, in reports, tables and names of files', async () => {
  const { page, files } = stage;
  const untouched = async (where: string): Promise<void> =>
    expect(await page.driver.executeScript('return window.hit ?? null;'), where).toBeNull();
  await page.newProject();
  await page.type('Project name', `${NAME}${Key.ENTER}`);
  await page.button('Undo: Rename to');
  await page.upload(
    files.wav(FILE, tones([{ dbfs: -14, seconds: 4 }], 48_000, 2)),
    files.write('reel.otio', CUT),
  );
  await page.press('Place 1 clip');
  await untouched('Sources');
  await page.press('Details of =1+1');
  await untouched('Details');
  for (const where of ['Programme', 'Check', 'Handover'] as const) {
    await page.press(where);
    await page.measured();
    await untouched(where);
  }
  await page.press('Programme');
  for (const face of ['Ledger', 'Ladder', 'Lanes']) {
    await page.press(face);
    await page.frames(3);
    await untouched(face);
  }
  await (await page.find('[data-clip]')).click();
  await page.driver.actions().sendKeys(Key.ARROW_DOWN).perform();
  await page.press('History');
  await untouched('History');
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.measured();
  await page.press('Handover');
  await page.press('Render and measure');
  await page.until('the file', async () => (await page.all('[data-outcome]')).length === 1);
  await (await page.find('[data-file] button')).click();
  await page.find('[data-file-verdict]');
  await untouched('the finished file');
  // What is saved is called something a system can hold, and stays in the folder.
  await page.press('Report…');
  await page.choose('In full, with findings and clips (HTML)');
  const saved = await page.until('the report', () =>
    Promise.resolve(readdirSync(page.browser.downloads).find((name) => name.endsWith('full report.html'))),
  );
  expect(saved).not.toMatch(/[<>:"/\\|?*\u0000-\u001f\u202e]/);
  await page.press('Back to the edit');
  await page.press('Table');
  await page.press('Save table (CSV)');
  const table = (await page.saved(saved.replace(' full report.html', ' gains.csv'))).toString();
  const cells = papa.parse<string[]>(table.replace(/^\ufeff/, '')).data.flat();
  expect(cells.some((cell) => cell.includes('<script>'))).toBe(true);
  expect(cells.filter((cell) => /^[=@\t\r]/.test(cell) || /^[+-](?![\d.]+$)/.test(cell))).toEqual([]);
  expect(await page.errors()).toEqual([]);
  await page.driver.get(pathToFileURL(join(page.browser.downloads, saved)).href);
  await page.until('the report to be read', async () => (await page.text('body')).includes('<script>'));
  await untouched('the report');
});
