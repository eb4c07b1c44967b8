import { spawnSync } from 'node:child_process';
import { open } from 'node:fs/promises';
import { performance } from 'node:perf_hooks';
import { decodePcm, S24 } from '@/core/audio/pcm';
import { STEREO } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { LoudnessMeter } from '@/core/loudness/meter';
import { PlainKernel } from '@/core/kernels/plainKernel';
import { measureFile } from '@/cli/measureFile';
import { openPool } from '@/cli/pool';

const SLICE = 6 * 1024 * 1024;
const TIMES = 3;

/** The shortest of a few runs, seconds: what else the machine does only ever adds to them. */
async function best(work: () => Promise<unknown> | void): Promise<number> {
  let least = Infinity;
  for (let i = 0; i < TIMES; i++) {
    const start = performance.now();
    await work();
    least = Math.min(least, (performance.now() - start) / 1000);
  }
  return least;
}

/** Reads all bytes of a file and does nothing with them. */
async function readAll(path: string): Promise<void> {
  const handle = await open(path, 'r');
  const { size } = await handle.stat();
  for (let offset = 0; offset < size; offset += SLICE) {
    const bytes = Buffer.allocUnsafe(Math.min(SLICE, size - offset));
    await handle.read(bytes, 0, bytes.length, offset);
  }
  await handle.close();
}

const ratio = (a: number, b: number): string => `${(a / b).toFixed(2)} : 1`;

/**
 * Measuring a file in Node with one worker and with two, against reading its bytes and against a native program.
 * @param yardstick a program that measures the file named to it; `null` when there is none
 */
export async function benchFile(path: string, name: string, yardstick: string | null): Promise<string[]> {
  await readAll(path);
  const reading = await best(() => readAll(path));
  const times: number[] = [];
  let seconds = 0;
  let most = 0;
  for (const jobs of [1, 2]) {
    const pool = openPool(jobs);
    const measure = async (): Promise<void> => {
      const { format } = await measureFile(path, WHOLE_FIRST_SOUND, pool, () => {
        most = Math.max(most, process.memoryUsage().rss);
      });
      seconds = format.frames / format.sampleRate;
    };
    // Workers start with their first work.
    if (jobs > 1) await measure();
    times.push(await best(measure));
    await pool.close();
  }
  const [one, two] = times as [number, number];
  const native = yardstick && (await best(() => void spawnSync(yardstick, [path])));
  return [
    name,
    `  one worker   ${(seconds / one).toFixed(0).padStart(6)} × real time; to reading the bytes ${ratio(one, reading)}${native ? `; to the yardstick ${ratio(one, native)}` : ''}`,
    `  two workers  ${(seconds / two).toFixed(0).padStart(6)} × real time; to reading the bytes ${ratio(two, reading)}${native ? `; to the yardstick ${ratio(two, native)}` : ''}`,
  ];
}

/** The kernels in WebAssembly against their plain twin, on the same bytes in memory. */
export async function benchTwin(path: string): Promise<string> {
  const handle = await open(path, 'r');
  const frames = 60 * 48_000;
  const bytes = Buffer.alloc(frames * 6);
  await handle.read(bytes, 0, bytes.length, 44);
  await handle.close();
  const kernel = await best(() => {
    const meter = new LoudnessMeter(STEREO, 48_000);
    meter.pushBytes(bytes, S24);
    meter.finish();
  });
  const plain = await best(() => {
    const meter = new LoudnessMeter(STEREO, 48_000, {
      kernel: (rate, channels, capacity) => new PlainKernel(rate, channels, capacity),
    });
    meter.push(decodePcm(bytes, S24, 2, frames).channels);
    meter.finish();
  });
  return `Kernels against their plain twin: ${ratio(plain, kernel)}`;
}

/** Largest memory of a process that measures a file by itself, MB beyond what one that only starts takes. */
export function benchMemory(program: string, path: string): string {
  const peak = (...args: string[]): number => {
    const script = `process.on('exit', () => require('node:fs').writeSync(2, 'peak ' + process.resourceUsage().maxRSS))`;
    const { stderr } = spawnSync(
      process.execPath,
      ['-e', `${script}; process.argv.splice(1, 0, ''); import(${JSON.stringify(program)})`, '--', ...args],
      { encoding: 'utf8', maxBuffer: 1 << 28 },
    );
    return Number(/peak (\d+)/.exec(stderr)?.[1]) / 1000;
  };
  const start = peak('--version');
  const [one, two] = ['1', '2'].map((jobs) => peak('measure', '--json', '--jobs', jobs, path) - start);
  return `  memory beyond start: ${one!.toFixed(0)} MB with one worker, ${two!.toFixed(0)} MB with two`;
}
