import { expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { actionsWith } from './endure/actions';
import { endOnce } from './endure/kills';
import { randomFrom } from './endure/random';
import { placeNight, setStage } from './support/setup';

const stage = setStage();
/** More in one go: npm run endure -- kills. */
const ENDS = 10;
const SEED = 11;

it('what was shown as saved is there after the browser, the tab or its process has ended at any moment', async () => {
  const { page, files } = stage;
  await placeNight(stage, 6);
  await page.kept();
  const address = await page.driver.getCurrentUrl();
  const actions = actionsWith(files.wav('knock.wav', [noise(48_000, 0.2, 5)]));
  const random = randomFrom(SEED);
  // The first one too may be undone and let go.
  let [imports, orphans, done, refused] = [1, 0, 0, 0];
  for (let i = 0; i < ENDS; i++) {
    const ended = await endOnce(page, address, actions, random);
    expect(ended.faults, `${ended.end} after ${ended.actions.join(', ')}`).toEqual([]);
    imports += ended.imports;
    ({ orphans } = ended);
    done += ended.actions.length;
    refused += ended.refused;
  }
  // Sound that was on its way in when it ended, or whose step was undone and left behind: no more.
  expect(orphans).toBeLessThanOrEqual(imports);
  expect(refused).toBeLessThan(done / 2);
});
