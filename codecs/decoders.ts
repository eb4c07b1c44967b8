import { AudioFileError } from '@/core/formats/errors';

/** Samples that came out of a decoder. */
export interface Decoded {
  readonly channelData: readonly Float32Array[];
  readonly samplesDecoded: number;
  readonly sampleRate: number;
  readonly bitDepth?: number;
  readonly errors: readonly { readonly message: string }[];
}

/** A decoder that is fed a file's bytes, or a container's packets, in order. */
export interface ByteDecoder {
  decode(bytes: Uint8Array): Decoded | Promise<Decoded>;
  /** What is left when the last bytes have been given. */
  flush(): Decoded | Promise<Decoded> | null;
  free(): void;
}

/** Gives back what a decoder holds; one that broke off cannot even be freed. */
export function release(decoder: ByteDecoder | null): void {
  try {
    decoder?.free();
  } catch {
    // Its memory goes with it.
  }
}

/** How long a decoder may take to be ready: where its code is not allowed to run it would wait for ever. */
const READY_MS = 20_000;

async function ready<T extends { ready: Promise<void> }>(decoder: T, name: string): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const tooLong = new Promise<never>((_, reject) => {
    timer = setTimeout(
      () =>
        reject(
          new AudioFileError(
            'noDecoder',
            `The ${name} decoder could not be started.`,
            'Reload the page and try again.',
          ),
        ),
      READY_MS,
    );
  });
  try {
    await Promise.race([decoder.ready, tooLong]);
    return decoder;
  } finally {
    clearTimeout(timer);
  }
}

export async function flacDecoder(): Promise<ByteDecoder> {
  const { FLACDecoder } = await import('@wasm-audio-decoders/flac');
  const decoder = await ready(new FLACDecoder(), 'FLAC');
  return {
    decode: (bytes) => decoder.decode(bytes),
    flush: () => decoder.flush(),
    free: () => decoder.free(),
  };
}

/**
 * @param gapless take off the delay and padding that the file declares
 * @param channels of the sound, as its frames say: the decoder gives two of whatever it is
 */
export async function mp3Decoder(gapless: boolean, channels: number): Promise<ByteDecoder> {
  const { MPEGDecoder } = await import('mpg123-decoder');
  const decoder = await ready(new MPEGDecoder({ enableGapless: gapless }), 'MP3');
  return {
    decode(bytes) {
      const decoded = decoder.decode(bytes);
      return { ...decoded, channelData: decoded.channelData.slice(0, channels) };
    },
    flush: () => null,
    free: () => decoder.free(),
  };
}

export async function vorbisDecoder(): Promise<ByteDecoder> {
  const { OggVorbisDecoder } = await import('@wasm-audio-decoders/ogg-vorbis');
  const decoder = await ready(new OggVorbisDecoder(), 'Vorbis');
  return {
    decode: (bytes) => decoder.decode(bytes),
    flush: () => decoder.flush(),
    free: () => decoder.free(),
  };
}

export async function oggOpusDecoder(): Promise<ByteDecoder> {
  const { OggOpusDecoder } = await import('ogg-opus-decoder');
  const decoder = await ready(new OggOpusDecoder(), 'Opus');
  return {
    decode: (bytes) => decoder.decode(bytes),
    flush: () => decoder.flush(),
    free: () => decoder.free(),
  };
}

/**
 * Opus packets as they lie in a container.
 * @param head the identification header, as containers keep it (RFC 7845, clause 5.1)
 */
export async function opusPacketDecoder(head: Uint8Array): Promise<ByteDecoder> {
  const { OpusDecoder } = await import('opus-decoder');
  const channels = head[9] ?? 2;
  const preSkip = (head[10] ?? 0) + 256 * (head[11] ?? 0);
  const mapped = (head[18] ?? 0) !== 0 && head.length >= 21 + channels;
  const decoder = await ready(
    new OpusDecoder({
      channels,
      preSkip,
      ...(mapped && {
        streamCount: head[19]!,
        coupledStreamCount: head[20]!,
        channelMappingTable: [...head.subarray(21, 21 + channels)],
      }),
    }),
    'Opus',
  );
  return { decode: (bytes) => decoder.decodeFrame(bytes), flush: () => null, free: () => decoder.free() };
}
