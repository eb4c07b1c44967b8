import { AudioFileError } from '@/core/formats/errors';
import { withFaults, withoutFaults } from './integrity';
import type { Layout } from './layout';
import type { AudioReader } from './reader';

/** The same sound with its channels declared to stand otherwise. @throws RangeError on another number of channels */
export function withLayout(reader: AudioReader, layout: Layout): AudioReader {
  const channels = reader.format.layout.labels.length;
  if (layout.labels.length !== channels) {
    throw new RangeError(`${layout.name} has ${layout.labels.length} channels, the sound ${channels}`);
  }
  return {
    format: { ...withoutFaults(reader.format, 'layoutAssumed'), layout },
    read: (start, count) => reader.read(start, count),
    ...(reader.pcm && { pcm: reader.pcm }),
  };
}

/**
 * Frames [start, start + frames) of a sound as if they were all there is.
 * @throws RangeError when they are not within it
 */
export function rangeOf(reader: AudioReader, start: number, frames: number): AudioReader {
  if (start < 0 || frames <= 0 || start + frames > reader.format.frames) {
    throw new RangeError('The range does not lie within the sound');
  }
  const { pcm } = reader;
  return {
    format: { ...reader.format, frames },
    async read(from, count) {
      const first = Math.min(Math.max(from, 0), frames);
      const end = Math.min(Math.max(from + count, first), frames);
      const samples = await reader.read(start + first, end - first);
      if (end - first === count) return samples;
      return samples.map((channel) => {
        const padded = new Float32Array(count);
        if (end > first) padded.set(channel, Math.max(0, first - from));
        return padded;
      });
    },
    ...(pcm && {
      pcm: {
        encoding: pcm.encoding,
        readBytes: (from: number, count: number, into?: Uint8Array) =>
          pcm.readBytes(start + from, count, into),
      },
    }),
  };
}

/**
 * Several sounds of one channel each as one sound of several. Shorter ones end in silence.
 * @param readers in the order of the layout's channels
 * @throws AudioFileError when they do not fit together
 */
export function combined(readers: readonly AudioReader[], layout: Layout): AudioReader {
  const wrong = (message: string, hint: string): AudioFileError =>
    new AudioFileError('doNotFit', message, hint);
  if (readers.length !== layout.labels.length) {
    throw wrong(
      `${layout.name} has ${layout.labels.length} channels, but there are ${readers.length} files.`,
      'Name one mono file for each channel, in order.',
    );
  }
  const stereo = readers.findIndex((reader) => reader.format.layout.labels.length !== 1);
  if (stereo >= 0) {
    throw wrong(
      `File ${stereo + 1} is not mono: it has ${readers[stereo]!.format.layout.labels.length} channels.`,
      'Only mono files can be put together.',
    );
  }
  const formats = readers.map((reader) => reader.format);
  const rates = new Set(formats.map((format) => format.sampleRate));
  if (rates.size > 1) {
    throw wrong(
      `The files have different sample rates: ${[...rates].join(', ')} Hz.`,
      'Export them all at the same rate.',
    );
  }
  const first = formats[0]!;
  const frames = Math.max(...formats.map((format) => format.frames));
  const shorter = formats.filter((format) => format.frames < frames).length;
  return {
    format: {
      ...first,
      bitDepth: Math.max(...formats.map((format) => format.bitDepth)),
      layout,
      frames,
      ...withFaults(
        formats.flatMap(({ integrity }, i) =>
          integrity.map(({ kind, sentence }) => ({ kind, sentence: `${layout.labels[i]}: ${sentence}` })),
        ),
        [
          ...formats.flatMap(({ warnings, integrity }, i) =>
            warnings.slice(integrity.length).map((warning) => `${layout.labels[i]}: ${warning}`),
          ),
          ...(shorter > 0 ? ['The files are not equally long; the shorter ones end in silence.'] : []),
        ],
      ),
      metadata: null,
    },
    read: async (start, count) =>
      (await Promise.all(readers.map((reader) => reader.read(start, count)))).map((channels) => channels[0]!),
  };
}
