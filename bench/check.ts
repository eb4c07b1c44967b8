import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { VoiceDetector } from '@/codecs/voice';
import { checkFile } from '@/core/check/fileCheck';
import { checkDetails } from '@/core/check/findings/details';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import { findingsOf, judgedOf } from '@/core/check/findings/findAll';
import type { Finding } from '@/core/check/findings/finding';
import type { CheckMaterial } from '@/core/check/findings/material';
import { programmeMaterial } from '@/core/check/findings/programmeMaterial';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import { overTime } from '@/core/check/overTime';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { verdictOf } from '@/core/check/verdict';
import { measureReader } from '@/core/loudness/measureReader';
import { KeptParts } from '@/core/measuring/keptParts';
import { measureParts } from '@/core/measuring/measureParts';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { voiceRanges } from '@/core/voice/voiceRanges';
import { startBrowser } from '@/e2e/support/browser';
import { Page } from '@/e2e/support/page';
import { startServer } from '@/e2e/support/server';
import { RUN, tookWords, type Ran } from './frames';
import { madeMix } from './madeMix';
import { makeProgramme } from './makeProgramme';
import { openProgramme, timed } from './programme';

/** What the issue of speed asks: an hour's findings within so much, ms. */
const FINDINGS_MS = 2000;
const FRAME_MS = 1000 / 60;

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;

function kindsOf(findings: readonly Finding[]): string {
  const counts = new Map<string, number>();
  for (const { kind } of findings) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return findings.length === 0 ? 'none' : [...counts].map(([kind, count]) => `${kind} ${count}`).join(', ');
}

async function work(material: CheckMaterial, truePeak: readonly Float32Array[]) {
  const [ms, findings] = await timed(() => {
    const found = findingsOf(material, judgedOf(material), EBU_R128, USUAL_THRESHOLDS);
    checkDetails(material);
    overTime(material, truePeak);
    return found;
  });
  return { ms, findings };
}

const part = (ms: number, of: number): string =>
  `${(ms / of).toFixed(3)} of ${of >= 100 ? of : of.toFixed(1)} ms allowed`;

async function ofProgramme(minutes: number): Promise<string[]> {
  const { project, open } = await openProgramme(minutes);
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  const [measureMs] = await timed(() => measurement.measure(open, () => true));
  const measured = { history: measurement.history!, signal: measurement.signal!, apart: null };
  const [materialMs, material] = await timed(() =>
    programmeMaterial(project, measured, { clipped: [], dropOuts: [], clicks: [] }, []),
  );
  const { ms } = await work(material, measured.history.truePeak);
  const kept = new KeptParts();
  const ranges = kept.update(project);
  const some = ranges.slice(0, Math.max(1, Math.floor(ranges.length / 20)));
  const [partsMs] = await timed(async () => {
    for (const range of some) kept.put((await measureParts(kept.project, range, open, () => true))!);
  });
  const perPiece = measureMs / ranges.length;
  return [
    `  findings, figures, course              ${part(ms + materialMs, FINDINGS_MS)}; ${((ms + materialMs) / measureMs).toFixed(4)} of measuring it`,
    `  its parts taken apart (roles, tracks, clips) ${(partsMs / some.length / perPiece).toFixed(1)} × measuring it`,
  ];
}

async function ofFile(root: string, minutes: number): Promise<string[]> {
  const { reader, speech } = await madeMix(root, minutes * 60, 'ambience-hut-generator', 22);
  const measured = (await measureReader(reader, () => true))!;
  const material = fileMaterial(measured, reader.format, speech);
  const { ms } = await work(material, measured.history.truePeak);
  const targets = Array.from({ length: 12 }, (_, i): Target => ({
    ...SHIPPED_TARGETS[i % SHIPPED_TARGETS.length]!,
    id: `t${i}`,
  }));
  const judged = judgedOf(material);
  const verdicts: number[] = [];
  for (let i = 0; i < 50; i++)
    verdicts.push((await timed(() => targets.map((target) => verdictOf(judged, target))))[0]);
  const { findings } = checkFile(material, [EBU_R128], USUAL_THRESHOLDS);
  const alarms = findings.filter(({ kind }) => kind !== 'integrated' && kind !== 'truePeak');
  return [
    `  findings, figures, course of a file    ${part(ms, FINDINGS_MS)}`,
    `  verdicts of 12 targets (median)        ${part(median(verdicts), 16)}`,
    `  false alarms in it, nothing planted    ${kindsOf(alarms)}`,
  ];
}

const secondsOf = (ranges: readonly { from: number; to: number }[]): number =>
  ranges.reduce((sum, { from, to }) => sum + to - from, 0);

async function detection(root: string): Promise<string[]> {
  const path = createRequire(import.meta.url).resolve('@ricky0123/vad-web/dist/silero_vad_v6.onnx');
  const detector = await VoiceDetector.load(readFileSync(path));
  const lines: string[] = [];
  for (const bed of ['ambience-hut-generator', 'ambience-wind-ridge', 'music-frostline-theme'])
    for (const under of [20, 10, 3]) {
      const seconds = 300;
      const { reader, speech } = await madeMix(root, seconds, bed, under);
      const found = voiceRanges((await detector.certainty(reader, () => true))!, seconds);
      const tenths = Array.from({ length: seconds * 10 }, (_, k) => (k + 0.5) / 10);
      const within = (list: readonly { from: number; to: number }[]) => (t: number) =>
        list.some(({ from, to }) => t >= from && t < to);
      const [spoken, heard] = [within(speech), within(found)];
      const hits = tenths.filter((t) => spoken(t) && heard(t)).length;
      const all = tenths.filter(spoken).length;
      // Breaths within speech belong to it: only what is farther away than that counts as wrong.
      const wide = within(speech.map(({ from, to }) => ({ from: from - 0.5, to: to + 0.5 })));
      const wrong = tenths.filter((t) => !wide(t) && heard(t)).length;
      const silent = tenths.filter((t) => !wide(t)).length;
      lines.push(
        `  speech ${String(under).padStart(2)} LU over ${bed.padEnd(24)} found ${((100 * hits) / all).toFixed(1)} % of ${secondsOf(speech).toFixed(0)} s; ${((100 * wrong) / Math.max(1, silent)).toFixed(1)} % of the pauses taken for speech`,
      );
    }
  return lines;
}

const OVER_TIME = `const box = document.querySelector('[data-over-time]');`;
const wheel = (ctrlKey: boolean): string =>
  `box.dispatchEvent(new WheelEvent('wheel', { deltaX: ${ctrlKey ? 0 : 'n % 60 < 30 ? -40 : 40'}, deltaY: ${ctrlKey ? 'n % 60 < 30 ? -40 : 40' : 0}, clientX: 500, clientY: 560, ctrlKey: ${ctrlKey}, bubbles: true, cancelable: true }));`;

async function charts(path: string): Promise<string[]> {
  const server = await startServer();
  const browser = await startBrowser().catch((error: unknown) => {
    server.stop();
    throw error;
  });
  const page = new Page(browser, server.base);
  try {
    await page.open('/audit');
    await page.upload(path);
    await page.until('it to be checked', async () => (await page.all('[data-mend]')).length > 0, 600_000);
    await page.press('Over time');
    await page.find('canvas[data-panel=loudness]');
    await page.driver.executeScript(OVER_TIME + wheel(true).replace('n % 60 < 30 ? -40 : 40', '-600'));
    const lines: string[] = [];
    for (const [what, step] of [
      ['charts, moving along', wheel(false)],
      ['charts, zooming', wheel(true)],
    ] as const)
      lines.push(tookWords(what, await page.driver.executeAsyncScript<Ran>(RUN, OVER_TIME + step)));
    return lines;
  } finally {
    await browser.close();
    server.stop();
  }
}

/** What a check costs beyond the measurement, what it finds where nothing is wrong, and how well speech is found. */
export async function benchCheck(root: string, minutes: number): Promise<string[]> {
  const long = makeProgramme({
    ...{ kind: 'speech', minutes: minutes * 4, channels: 1, sampleRate: 48_000, format: 's16' },
  });
  return [
    `Check of a programme of ${minutes} min, 1,500 clips an hour on 12 tracks`,
    ...(await ofProgramme(minutes)),
    `Check of a file of ${minutes} min: speech over a room`,
    ...(await ofFile(root, minutes)),
    'Speech detection in made mixes of 5 min',
    ...(await detection(root)),
    `Charts of ${minutes * 4} min in Chromium, frames of ${FRAME_MS.toFixed(1)} ms`,
    ...(await charts(long)),
  ];
}
