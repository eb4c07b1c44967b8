import { closeSync, mkdtempSync, openSync, readSync, rmSync, statSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { sha256Of } from '@/codecs/hash';
import { soundWriter } from '@/codecs/write/soundWriter';
import type { ByteSource } from '@/core/audio/byteSource';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import { correctMix, measureMix } from '@/core/deliver/correctMix';
import { deliveredSound, NOTHING_GIVEN, type Given } from '@/core/deliver/deliveredSound';
import { mixSounds, WHOLE_MIX, type Hearing } from '@/core/deliver/mixSounds';
import { produceFiles, type FileTask } from '@/core/deliver/produce';
import { renderFile } from '@/core/deliver/renderFile';
import { openPcm } from '@/core/formats/openPcm';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { NO_TEXTS, WAV_24 } from '@/core/programme/delivery';
import { programmeFrames } from '@/core/programme/model';
import type { ReadSound } from '@/core/signal/limiter/limitedReader';
import { openProgramme } from './programme';

const TREATMENT = { layoutId: null, sampleRate: null, headSeconds: 0, tailSeconds: 0 };
const TRACKS_A_STEM = 2;

/** A file on the disk that is written at places, and read back. */
class DiskFile {
  private readonly handle: number;

  constructor(readonly path: string) {
    this.handle = openSync(path, 'w+');
  }

  readonly write = (bytes: Uint8Array, at: number): void =>
    void writeSync(this.handle, bytes, 0, bytes.length, at);

  source(): ByteSource {
    return {
      size: statSync(this.path).size,
      read: (offset, length, into) => {
        const bytes = into && into.length >= length ? into : Buffer.allocUnsafe(length);
        return Promise.resolve(bytes.subarray(0, readSync(this.handle, bytes, 0, length, offset)));
      },
    };
  }

  close(): void {
    closeSync(this.handle);
    rmSync(this.path);
  }
}

/** Four targets corrected by gain and six stems, on one core: rendered, read back, measured and hashed. */
export async function benchDeliver(minutes: number): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), 'dengung-deliver-'));
  const { project, open } = await openProgramme(minutes);
  const frames = programmeFrames(project);
  const seconds = frames / project.sampleRate;
  const lines: string[] = [];
  let mark = performance.now();
  const begun = mark;
  const lap = (what: string, sounds: number): void => {
    const now = performance.now();
    lines.push(
      `  ${what.padEnd(46)} ${((seconds * sounds) / ((now - mark) / 1000)).toFixed(0).padStart(5)} × real time`,
    );
    mark = now;
  };
  const make = async (files: readonly (readonly [DiskFile, ReadSound, Given])[]): Promise<void> => {
    const tasks = files.map(([file, sound, given]): FileTask => {
      const delivered = deliveredSound(sound, TREATMENT, given);
      return {
        key: file.path,
        sound: delivered,
        open: () =>
          soundWriter(
            { ...delivered.format, format: WAV_24, metadata: null, texts: NO_TEXTS, saidLufs: null },
            file.write,
          ),
      };
    });
    const fates = await produceFiles(
      tasks,
      () => true,
      () => true,
    );
    for (const fate of fates!.values()) if (!('ok' in fate)) throw new Error('a file failed');
  };

  const kept = new DiskFile(join(folder, 'mix.wav'));
  const [mix] = mixSounds(project, open, 0, frames, [WHOLE_MIX]);
  await renderFile(
    { ...mix!.format, format: 'f32' },
    (start, count) => mix!.read(start, count),
    kept.write,
    () => true,
  );
  lap('the mix, kept once', 1);
  const reader = await openPcm(kept.source());
  const measured = (await measureMix(reader, TREATMENT, () => true))!;
  lap('measured', 1);
  const targets = SHIPPED_TARGETS.slice(0, 4);
  const given: Given[] = [];
  for (const target of targets) {
    const correction = await correctMix(reader, TREATMENT, measured, target, 'gain', [], () => true);
    given.push(
      typeof correction === 'string' || !correction
        ? NOTHING_GIVEN
        : { gainDb: correction.gainDb, limiter: null },
    );
  }
  lap('gains for four targets', 4);
  const deliveries = targets.map((_, i) => new DiskFile(join(folder, `target ${i}.wav`)));
  await make(deliveries.map((file, i) => [file, reader, given[i]!]));
  lap('four targets written', 4);
  const hearings = Array.from({ length: 6 }, (_, i): Hearing => {
    const own = new Set(project.tracks.slice(i * TRACKS_A_STEM, (i + 1) * TRACKS_A_STEM).map(({ id }) => id));
    return { tap: ({ trackId }) => own.has(trackId), stem: true };
  });
  const stems = hearings.map((_, i) => new DiskFile(join(folder, `stem ${i}.wav`)));
  const sounds = mixSounds(project, open, 0, frames, hearings);
  await make(stems.map((file, i) => [file, sounds[i]!, NOTHING_GIVEN]));
  lap('six stems in one pass', 6);
  const all = [...deliveries, ...stems];
  for (const file of all) figuresOf((await measureReader(await openPcm(file.source()), () => true))!.history);
  lap('ten files read back and measured', 10);
  for (const file of all) await sha256Of(file.source(), () => true);
  lap('ten files hashed', 10);
  const whole = (performance.now() - begun) / 1000;
  const { rss } = process.memoryUsage();
  for (const file of [kept, ...all]) file.close();
  rmSync(folder, { recursive: true, force: true });
  return [
    `Four targets and six stems of ${minutes} min, 12 tracks, WAV 24-bit, one core`,
    ...lines,
    `  ${'in all'.padEnd(46)} ${((10 * seconds) / whole).toFixed(0).padStart(5)} × real time, ${(rss / 1e6).toFixed(0)} MB`,
  ];
}
