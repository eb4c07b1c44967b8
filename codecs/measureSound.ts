import { declaredLayout, DECLARABLE, type Layout } from '@/core/audio/layout';
import type { ByteSource } from '@/core/audio/byteSource';
import type { AudioFormat, AudioReader } from '@/core/audio/reader';
import type { AudioStream } from '@/core/audio/stream';
import { streamRange, streamWithLayout } from '@/core/audio/streamViews';
import type { SoundChoice } from '@/core/audio/soundChoice';
import { rangeOf, withLayout } from '@/core/audio/views';
import { AudioFileError } from '@/core/formats/errors';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { measureReader, slices, type ReaderMeasurement } from '@/core/loudness/measureReader';
import { measureStream } from '@/core/loudness/measureStream';
import { clock } from '@/core/text/figures';
import { openSound, type Sound } from './open';

/** What a first look at a file brings: it is measured, or it is long and says at which peak blocks to cut it. */
export type BegunSound =
  | { readonly kind: 'done'; readonly format: AudioFormat; readonly measured: ReaderMeasurement }
  | { readonly kind: 'cut'; readonly format: AudioFormat; readonly cuts: readonly number[] };

/** Sound is cut into slices of about this much work, in samples of all channels: a fraction of a second of it. */
const STRETCH_SAMPLES = 14_000_000;
/** Each slice has kernels of its own, whose memory the machine is slow to take back. */
const MOST_STRETCHES = 24;

function layoutFor(id: string, channels: number): Layout {
  const layout = declaredLayout(id, channels);
  if (layout) return layout;
  const fitting = DECLARABLE.filter(({ labels }) => labels.length === channels).map((fits) => fits.id);
  throw new AudioFileError(
    'layoutDoesNotFit',
    `The file has ${channels} channels, which ${id} has not.`,
    fitting.length > 0
      ? `Of so many channels there is: ${fitting.join(', ')}.`
      : 'Leave the layout to the file.',
  );
}

/** First frame of a range, and the frame after its last within `frames`. */
function framesOf({ from, to }: TimeRange, sampleRate: number, frames: number): [number, number] {
  const first = Math.round(from * sampleRate);
  const end = Math.min(frames, Math.round(Math.min(to, frames / sampleRate) * sampleRate));
  if (first < end) return [first, end];
  throw new AudioFileError(
    'rangeOutside',
    `The range begins at ${clock(from)}, but the sound is ${clock(frames / sampleRate)} long.`,
    'Select a range within the sound.',
  );
}

/** The layout that was chosen for so many channels; `null` where the file's own holds. */
const chosenLayout = ({ layoutId, as }: SoundChoice, channels: number): Layout | null =>
  as ?? (layoutId === null ? null : layoutFor(layoutId, channels));

function chosenReader(reader: AudioReader, choice: SoundChoice): AudioReader {
  const { range } = choice;
  const { frames, sampleRate, layout } = reader.format;
  const chosen = chosenLayout(choice, layout.labels.length);
  const declared = chosen === null ? reader : withLayout(reader, chosen);
  if (!range) return declared;
  const [from, to] = framesOf(range, sampleRate, frames);
  return rangeOf(declared, from, to - from);
}

function chosenStream(stream: AudioStream, choice: SoundChoice): AudioStream {
  const { range } = choice;
  const { sampleRate, layout } = stream.format;
  const chosen = chosenLayout(choice, layout.labels.length);
  const declared = chosen === null ? stream : streamWithLayout(stream, chosen);
  if (!range) return declared;
  return streamRange(declared, Math.round(range.from * sampleRate), Math.round(range.to * sampleRate));
}

/**
 * Opens a file and gives what of it was chosen.
 * @throws AudioFileError when it cannot be used, or has no such sound, layout or range
 */
export async function openChosen(source: ByteSource, choice: SoundChoice): Promise<Sound> {
  const sound = await openSound(source, choice.track);
  if (sound.kind === 'pcm') return { kind: 'pcm', reader: chosenReader(sound.reader, choice) };
  try {
    return { kind: 'stream', stream: chosenStream(sound.stream, choice) };
  } catch (error) {
    sound.stream.close();
    throw error;
  }
}

/**
 * Opens a file; decodes and measures it if it is compressed, measures it if it is short, else says how to cut it.
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @param keep given what is decoded, with the bits its samples had
 * @returns `null` when stopped
 */
export async function beginSound(
  source: ByteSource,
  choice: SoundChoice,
  proceed: (done: number) => boolean | Promise<boolean>,
  keep?: (chunk: Float32Array[], bitDepth: number) => void,
): Promise<BegunSound | null> {
  const sound = await openChosen(source, choice);
  if (sound.kind === 'stream') {
    const { stream } = sound;
    const { bitDepth } = stream.format;
    const result = await measureStream(stream, proceed, keep && ((chunk) => keep(chunk, bitDepth)));
    return result && { kind: 'done', format: result.format, measured: result.measurement };
  }
  const { reader } = sound;
  const { frames, layout, sampleRate } = reader.format;
  const parts = Math.min(MOST_STRETCHES, Math.ceil((frames * layout.labels.length) / STRETCH_SAMPLES));
  const cuts = slices(frames, sampleRate, parts);
  if (cuts.length > 2) return { kind: 'cut', format: reader.format, cuts };
  const measured = await measureReader(reader, proceed);
  return measured && { kind: 'done', format: reader.format, measured };
}
