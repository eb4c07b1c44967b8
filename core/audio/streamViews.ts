import type { Layout } from './layout';
import type { AudioReader, AudioFormat } from './reader';
import type { AudioStream, StreamEnd } from './stream';

/** The same stream with its channels declared to stand otherwise. */
export function streamWithLayout(stream: AudioStream, layout: Layout): AudioStream {
  return {
    format: { ...stream.format, layout, layoutAssumed: null },
    tracks: stream.tracks,
    track: stream.track,
    chunks: () => stream.chunks(),
    get done() {
      return stream.done;
    },
    close: () => stream.close(),
  };
}

/**
 * Frames [from, to) of a stream as if they were all there is; what comes after is not decoded any more.
 * @param to `Infinity` for its end
 */
export function streamRange(stream: AudioStream, from: number, to: number): AudioStream {
  async function* chunks(): AsyncGenerator<Float32Array[], StreamEnd, undefined> {
    const source = stream.chunks();
    let at = 0;
    while (at < to) {
      const next = await source.next();
      if (next.done) return next.value;
      const length = next.value[0]?.length ?? 0;
      const first = Math.max(0, from - at);
      const end = Math.min(length, to - at);
      if (end > first) yield next.value.map((channel) => channel.subarray(first, end));
      at += length;
    }
    return { integrity: [], remarks: [] };
  }
  return {
    format: { ...stream.format, frames: null },
    tracks: stream.tracks,
    track: stream.track,
    chunks,
    get done() {
      return stream.done;
    },
    close: () => stream.close(),
  };
}

/**
 * A stream read like a file, as long as one reads forward: each read may begin up to `keep` frames before the furthest
 * frame read yet.
 */
export class ForwardReader implements AudioReader {
  private readonly source: AsyncGenerator<Float32Array[], StreamEnd, undefined>;
  /** What has been decoded and may still be asked for, from frame `first` on. */
  private held: Float32Array[][] = [];
  private first = 0;
  private end = 0;
  private ended = false;

  /**
   * @param format with the true length, as a pass before has found it
   * @param keep frames
   */
  constructor(
    stream: AudioStream,
    readonly format: AudioFormat,
    private readonly keep: number,
  ) {
    this.source = stream.chunks();
  }

  /** @throws RangeError when what is asked for has been given up already */
  async read(start: number, count: number): Promise<Float32Array[]> {
    if (Math.max(0, start) < this.first) throw new RangeError('A stream is read forward only');
    while (!this.ended && this.end < start + count) {
      const next = await this.source.next();
      if (next.done) this.ended = true;
      else {
        this.held.push(next.value);
        this.end += next.value[0]!.length;
      }
    }
    const out = this.format.layout.labels.map(() => new Float32Array(count));
    let at = this.first;
    for (const chunk of this.held) {
      const length = chunk[0]!.length;
      const from = Math.max(0, start - at);
      const to = Math.min(length, start + count - at);
      if (to > from)
        chunk.forEach((channel, c) => out[c]!.set(channel.subarray(from, to), at + from - start));
      at += length;
    }
    while (this.held.length > 0 && this.first + this.held[0]![0]!.length <= start + count - this.keep) {
      this.first += this.held.shift()![0]!.length;
    }
    return out;
  }
}
