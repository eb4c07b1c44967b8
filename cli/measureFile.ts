import { openChosen } from '@/codecs/measureSound';
import { withNotFinite } from '@/core/audio/integrity';
import type { AudioFormat, AudioReader } from '@/core/audio/reader';
import type { SoundChoice } from '@/core/audio/soundChoice';
import { ForwardReader } from '@/core/audio/streamViews';
import { exactTruePeak, type ExactPeak } from '@/core/loudness/exactTruePeak';
import {
  joinSlices,
  measureReader,
  type ReaderMeasurement,
  type SliceMeasurement,
} from '@/core/loudness/measureReader';
import { overChannels } from '@/core/loudness/sound';
import type { BegunSound } from '@/codecs/measureSound';
import { checkUnchanged, stampOf, withFile } from './files';
import type { TaskPool } from './pool';
import { withCombined } from './work';

/** A file's format, with what else was noticed, and its measurement. */
export interface Measured {
  readonly format: AudioFormat;
  readonly measured: ReaderMeasurement;
}

type OnProgress = (done: number) => void;

let groups = 0;

const complete = (format: AudioFormat, measured: ReaderMeasurement): Measured => ({
  format: withNotFinite(format, measured.notFinite),
  measured,
});

/** Measures a file, its slices side by side where it is long and the pool has workers. */
export async function measureFile(
  file: string,
  choice: SoundChoice,
  pool: TaskPool,
  onProgress: OnProgress,
): Promise<Measured> {
  const before = await stampOf(file);
  const measured = await measureUnchecked(file, choice, pool, onProgress).catch(async (error: unknown) => {
    checkUnchanged(before, await stampOf(file));
    throw error;
  });
  // Its slices are read by several workers, each of which opens it anew.
  checkUnchanged(before, await stampOf(file));
  return measured;
}

async function measureUnchecked(
  file: string,
  choice: SoundChoice,
  pool: TaskPool,
  onProgress: OnProgress,
): Promise<Measured> {
  const group = ++groups;
  const begun = (await pool.run({ kind: 'begin', file, choice }, group, onProgress)) as BegunSound;
  const { format } = begun;
  if (begun.kind === 'done') return complete(format, begun.measured);
  // By itself, one slice after the other is no faster than the whole at once.
  const cuts = pool.jobs > 1 ? begun.cuts : [0, begun.cuts.at(-1)!];
  const doneOf = cuts.slice(1).map(() => 0);
  const stop = new AbortController();
  const slice = async (i: number): Promise<SliceMeasurement> => {
    const task = { kind: 'slice', file, choice, from: cuts[i]!, to: cuts[i + 1]! } as const;
    const far = (frames: number): void => {
      doneOf[i] = frames;
      onProgress(doneOf.reduce((a, b) => a + b, 0) / format.frames);
    };
    return (await pool.run(task, group, far, stop.signal)) as SliceMeasurement;
  };
  // The first that fails stops those that still wait.
  const parts = await Promise.all(doneOf.map((_, i) => slice(i))).catch((error: unknown) => {
    stop.abort();
    throw error;
  });
  return complete(format, joinSlices(parts, format));
}

/** Measures several mono files as one sound. */
export function measureTogether(
  files: readonly string[],
  layoutId: string,
  onProgress: OnProgress,
): Promise<Measured> {
  return withCombined(files, layoutId, async (reader) => {
    const measured = await measureReader(reader, (done) => {
      onProgress(done);
      return true;
    });
    return complete(reader.format, measured!);
  });
}

/**
 * Opens a sound that has been measured to be read once more, forward, while `withReader` runs.
 * @param format as it was measured
 * @param keepSeconds how far back a read may begin
 */
export async function readAgain<T>(
  file: string,
  choice: SoundChoice,
  format: AudioFormat,
  keepSeconds: number,
  withReader: (reader: AudioReader) => Promise<T>,
): Promise<T> {
  return withFile(file, async (source) => {
    const sound = await openChosen(source, choice);
    if (sound.kind === 'pcm') return withReader(sound.reader);
    try {
      return await withReader(
        new ForwardReader(sound.stream, format, Math.ceil(keepSeconds * format.sampleRate)),
      );
    } finally {
      sound.stream.close();
    }
  });
}

/** The exact true peak of a sound that has been measured. */
export function exactPeakOf(
  file: string,
  choice: SoundChoice,
  { format, measured }: Measured,
  onProgress: OnProgress,
): Promise<ExactPeak> {
  return readAgain(file, choice, format, 1, async (reader) => {
    const proceed = (done: number): boolean => {
      onProgress(done);
      return true;
    };
    return (await exactTruePeak(
      reader,
      overChannels(measured.history.truePeak),
      proceed,
      reader instanceof ForwardReader,
    ))!;
  });
}
