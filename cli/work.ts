import { beginSound, type BegunSound, openChosen } from '@/codecs/measureSound';
import { open } from 'node:fs/promises';
import type { ByteSource } from '@/core/audio/byteSource';
import { WHOLE_FIRST_SOUND, type SoundChoice } from '@/core/audio/soundChoice';
import type { AudioFormat, AudioReader } from '@/core/audio/reader';
import { playOut } from '@/core/loudness/measureStream';
import { combined } from '@/core/audio/views';
import { declaredLayout } from '@/core/audio/layout';
import { AudioFileError } from '@/core/formats/errors';
import { measureSlice, type Proceed, type SliceMeasurement } from '@/core/loudness/measureReader';
import { withFile } from './files';

/** The work of measuring as it can be given to a worker: plain data in and out. */
export type Task =
  /** Opens a sound to be read in any order: what is compressed is decoded into a file at `to`. */
  | { readonly kind: 'unpack'; readonly file: string; readonly to: string }
  | { readonly kind: 'begin'; readonly file: string; readonly choice: SoundChoice }
  | {
      readonly kind: 'slice';
      readonly file: string;
      readonly choice: SoundChoice;
      readonly from: number;
      readonly to: number;
    };

/** A sound as it is read in any order: plain samples in the file itself, or what it was decoded to. */
export type Unpacked = { readonly plain: true } | { readonly plain: false; readonly format: AudioFormat };

export type Answer = BegunSound | SliceMeasurement | Unpacked;

/** Does one task. @param onProgress part done (0 to 1) for `begin`, frames done for `slice` */
export async function work(task: Task, onProgress: (done: number) => void): Promise<Answer> {
  const proceed: Proceed = (done) => {
    onProgress(done);
    return true;
  };
  return withFile(task.file, async (source) => {
    if (task.kind === 'unpack') return unpack(source, task.to, proceed);
    if (task.kind === 'begin') return (await beginSound(source, task.choice, proceed))!;
    const sound = await openChosen(source, task.choice);
    if (sound.kind !== 'pcm') throw new Error('Only plain samples are cut into slices');
    return (await measureSlice(sound.reader, task.from, task.to, proceed))!;
  });
}

async function unpack(source: ByteSource, to: string, proceed: Proceed): Promise<Unpacked> {
  const sound = await openChosen(source, WHOLE_FIRST_SOUND);
  if (sound.kind === 'pcm') return { plain: true };
  const { stream } = sound;
  const handle = await open(to, 'wx');
  try {
    const write = async (chunk: Float32Array[]): Promise<void> => {
      const { length } = chunk;
      const samples = new Float32Array((chunk[0]?.length ?? 0) * length);
      chunk.forEach((channel, c) => channel.forEach((x, i) => (samples[i * length + c] = x)));
      await handle.writeFile(new Uint8Array(samples.buffer));
    };
    return { plain: false, format: (await playOut(stream, write, proceed))! };
  } finally {
    await handle.close();
  }
}

/** Opens several mono files as one sound of several channels while `withReader` runs. */
export async function withCombined<T>(
  files: readonly string[],
  layoutId: string,
  withReader: (reader: AudioReader) => Promise<T>,
): Promise<T> {
  const readers: AudioReader[] = [];
  const next = (index: number): Promise<T> =>
    index === files.length
      ? withReader(combinedAs(readers, layoutId))
      : withFile(files[index]!, async (source) => {
          const sound = await openChosen(source, { track: 0, layoutId: null, range: null });
          if (sound.kind !== 'pcm') {
            sound.stream.close();
            throw new AudioFileError(
              'doNotFit',
              `${files[index]} is compressed; only files with plain samples can be put together.`,
              'Convert it to WAV first.',
            );
          }
          readers.push(sound.reader);
          return next(index + 1);
        });
  return next(0);
}

function combinedAs(readers: readonly AudioReader[], layoutId: string): AudioReader {
  const layout = declaredLayout(layoutId, readers.length);
  if (layout) return combined(readers, layout);
  throw new AudioFileError(
    'layoutDoesNotFit',
    `There are ${readers.length} files, but ${layoutId} has another number of channels.`,
    'Name one mono file for each channel of the layout, in order.',
  );
}
