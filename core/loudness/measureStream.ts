import { layoutFault, withFaults } from '@/core/audio/integrity';
import { joinOverview, OverviewBuilder } from '@/core/audio/overview';
import type { AudioFormat } from '@/core/audio/reader';
import type { AudioStream, StreamEnd } from '@/core/audio/stream';
import { AudioFileError } from '@/core/formats/errors';
import { LoudnessMeter } from './meter';
import type { ReaderMeasurement } from './measureReader';
import { joinScans, SignalScanner } from './signalScan';

/** What a decoded sound turned out to be, from its format, its length and what was damaged. */
function streamedFormat(
  { format }: Pick<AudioStream, 'format'>,
  frames: number,
  end: StreamEnd,
): AudioFormat {
  const { layoutAssumed, ...rest } = format;
  const assumed = layoutAssumed === null ? [] : [layoutFault(layoutAssumed)];
  return { ...rest, frames, ...withFaults([...assumed, ...end.integrity], end.remarks), metadata: null };
}

/**
 * Goes through a stream from its start to its end.
 * @param take given each piece
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @returns the format with its true length, or `null` when stopped
 * @throws AudioFileError when nothing comes out
 */
export async function playOut(
  stream: AudioStream,
  take: (chunk: Float32Array[]) => void | Promise<void>,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<AudioFormat | null> {
  const chunks = stream.chunks();
  let frames = 0;
  try {
    for (;;) {
      const next = await chunks.next();
      if (next.done) {
        if (frames > 0) return streamedFormat(stream, frames, next.value);
        throw new AudioFileError(
          'noSound',
          'No sound could be decoded from this file.',
          'Export or copy the file again from where it came from.',
        );
      }
      frames += next.value[0]?.length ?? 0;
      await take(next.value);
      if (!(await proceed(stream.done))) return null;
    }
  } finally {
    stream.close();
  }
}

/**
 * Measures a stream as it is decoded.
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @param keep given each piece, for whoever wants to keep it
 * @returns `null` when stopped
 */
export async function measureStream(
  stream: AudioStream,
  proceed: (done: number) => boolean | Promise<boolean>,
  keep?: (chunk: Float32Array[]) => void,
): Promise<{ readonly format: AudioFormat; readonly measurement: ReaderMeasurement } | null> {
  const { layout, sampleRate } = stream.format;
  const overview = new OverviewBuilder();
  const scanner = new SignalScanner(layout.labels, sampleRate);
  const meter = new LoudnessMeter(layout, sampleRate, { listeners: [overview, scanner] });
  const take = (chunk: Float32Array[]): void => {
    keep?.(chunk);
    meter.push(chunk);
  };
  try {
    const format = await playOut(stream, take, proceed);
    if (!format) return null;
    const history = meter.finish();
    return {
      format,
      measurement: {
        history,
        overview: joinOverview([overview.part()], history.frames),
        scan: joinScans([scanner.finish()], sampleRate),
        notFinite: meter.notFinite,
      },
    };
  } finally {
    meter.release();
  }
}
