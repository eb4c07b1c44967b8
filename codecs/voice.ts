import * as ort from 'onnxruntime-web/wasm';
import { rateConverter } from '@/core/audio/resample';
import type { AudioReader } from '@/core/audio/reader';
import { certaintyByte, VOICE_FRAME, VOICE_RATE } from '@/core/voice/voiceRanges';

/** The model hears the end of the frame before in front of each frame. */
const BEFORE = 64;
/** So many seconds are read at a time. */
const PIECE_SECONDS = 10;

/** Frames [start, start + count) of a sound at the detector's rate, all channels but the LFE as one. */
async function heard(reader: AudioReader, start: number, count: number): Promise<Float32Array> {
  const { sampleRate, layout } = reader.format;
  const same = sampleRate === VOICE_RATE;
  const converter = same ? null : rateConverter(sampleRate, VOICE_RATE, true);
  const from = converter?.inputStart(start) ?? start;
  const channels = await reader.read(from, converter?.inputCount(start, count) ?? count);
  const some = channels.filter((_, c) => channels.length === 1 || layout.labels[c] !== 'LFE');
  const mono = new Float32Array(some[0]!.length);
  for (const channel of some) for (let i = 0; i < mono.length; i++) mono[i]! += channel[i]!;
  for (let i = 0; i < mono.length; i++) mono[i]! /= some.length;
  return converter ? converter.convert(mono, start, count) : mono;
}

/** Says of every 32 ms of a sound how surely somebody speaks in it. */
export class VoiceDetector {
  private constructor(private readonly session: ort.InferenceSession) {}

  /** @param model the bytes of the network that comes with the product */
  static async load(model: Uint8Array): Promise<VoiceDetector> {
    ort.env.wasm.numThreads = 1;
    ort.env.logLevel = 'error';
    return new VoiceDetector(await ort.InferenceSession.create(model, { executionProviders: ['wasm'] }));
  }

  /**
   * @param proceed asked between pieces with the part done; `false` stops
   * @returns one byte a frame of 32 ms, see `certaintyByte`; `null` when stopped
   */
  async certainty(
    reader: AudioReader,
    proceed: (done: number) => boolean | Promise<boolean>,
  ): Promise<Uint8Array | null> {
    const { frames, sampleRate } = reader.format;
    const length = Math.ceil((frames * VOICE_RATE) / sampleRate);
    const count = Math.ceil(length / VOICE_FRAME);
    const sure = new Uint8Array(count);
    const rate = new ort.Tensor('int64', BigInt64Array.of(BigInt(VOICE_RATE)));
    const perPiece = Math.floor((PIECE_SECONDS * VOICE_RATE) / VOICE_FRAME);
    const input = new Float32Array(BEFORE + VOICE_FRAME);
    let state: ort.Tensor = new ort.Tensor('float32', new Float32Array(2 * 128), [2, 1, 128]);
    for (let first = 0; first < count; first += perPiece) {
      const here = Math.min(perPiece, count - first);
      const samples = await heard(reader, first * VOICE_FRAME, here * VOICE_FRAME);
      for (let i = 0; i < here; i++) {
        input.copyWithin(0, VOICE_FRAME);
        input.set(samples.subarray(i * VOICE_FRAME, (i + 1) * VOICE_FRAME), BEFORE);
        const given = new ort.Tensor('float32', input, [1, input.length]);
        const out = await this.session.run({ input: given, state, sr: rate });
        sure[first + i] = certaintyByte((out['output']!.data as Float32Array)[0]!);
        state = out['stateN']!;
      }
      if (!(await proceed((first + here) / count))) return null;
    }
    return sure;
  }
}
