/**
 * Long trials of the product as it is built: npm run endure -- kills [--count 1000] [--seed 1], or -- handovers [--count 50] [--busy].
 * They end with 1 when something was lost, or stood still.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { layoutFor } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';
import { noise } from '@/core/testing/signals';
import { startBrowser } from '../support/browser';
import { Page } from '../support/page';
import { startServer } from '../support/server';
import { actionsWith } from './actions';
import { handoverTrial } from './handovers';
import { endOnce, type Ended } from './kills';
import { randomFrom } from './random';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    count: { type: 'string', default: '1000' },
    seed: { type: 'string', default: '1' },
    minutes: { type: 'string', default: '60' },
    busy: { type: 'boolean', default: false },
  },
});
const [count, seed, minutes] = [values.count, values.seed, values.minutes].map(Number) as [
  number,
  number,
  number,
];
if (positionals.join() === 'handovers') process.exit((await handoverTrial(count, values.busy)) > 0 ? 1 : 0);
if (
  positionals.join() !== 'kills' ||
  ![count, seed, minutes].every((one) => Number.isInteger(one) && one >= 0)
) {
  console.error(
    'npm run endure -- kills [--count N] [--seed N] [--minutes N of sound that is brought in first]\n' +
      'npm run endure -- handovers [--count N] [--busy]',
  );
  process.exit(2);
}

const folder = mkdtempSync(join(tmpdir(), 'dengung-endure-'));

function wav(name: string, seconds: number): string {
  const samples = [noise(seconds * 48_000, 0.1, 3)];
  const { header, trailer } = wavFrame({
    ...{ sampleRate: 48_000, layout: layoutFor(1), format: 's16', frames: samples[0]!.length },
  });
  const path = join(folder, name);
  writeFileSync(path, Buffer.concat([header, encodePcm(samples, samples[0]!.length, 's16').bytes, trailer]));
  return path;
}

const server = await startServer();
const page = new Page(await startBrowser(), server.base);
const random = randomFrom(seed);
const actions = actionsWith(wav('knock.wav', 2));
const all: Ended[] = [];
try {
  await page.openDemo();
  await page.kept();
  const address = await page.driver.getCurrentUrl();
  if (minutes > 0) {
    await page.press('Sources');
    await page.upload(wav('a long night.wav', minutes * 60));
    await page.find('[data-source="a long night.wav"] [data-figure=integratedLufs]');
    await page.kept();
    await page.press('Programme');
  }
  for (let i = 0; i < count; i++) {
    const ended = await endOnce(page, address, actions, random);
    all.push(ended);
    for (const fault of ended.faults)
      console.log(`${i + 1}: ${ended.end} after ${ended.actions.join(', ')}: ${fault}`);
    if ((i + 1) % 25 === 0) console.log(`${i + 1} of ${count}`);
  }
} catch (error) {
  await page.pictureOfFailure({ name: `end ${all.length + 1}`, result: { state: 'fail' } });
  throw error;
} finally {
  await page.browser.close();
  server.stop();
  rmSync(folder, { recursive: true, force: true });
}
const sum = (of: (ended: Ended) => number): number => all.reduce((total, one) => total + of(one), 0);
const byEnd = new Map<string, number>();
for (const { end } of all) byEnd.set(end, (byEnd.get(end) ?? 0) + 1);
const [steps, refused, imports] = [
  sum(({ actions: { length } }) => length),
  sum((one) => one.refused),
  sum((one) => one.imports),
];
const orphans = all.at(-1)?.orphans ?? 0;
const faulty = all.filter(({ faults }) => faults.length > 0).length;
console.log(
  `${all.length} ends (${[...byEnd].map(([end, times]) => `${times} × ${end}`).join(', ')}), seed ${seed}`,
);
console.log(
  `  ${steps} actions, ${refused} of them refused by the page; ${imports} imports begun, ${orphans} sounds stored that no project names`,
);
console.log(`  ${faulty} with something lost`);
process.exit(faulty > 0 || orphans > imports || refused * 2 > steps ? 1 : 0);
