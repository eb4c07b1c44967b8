import * as ort from 'onnxruntime-web/wasm';
import { rateConverter } from '@/core/audio/resample';
import type { AudioReader } from '@/core/audio/reader';
import { certaintyByte, VOICE_FRAME, VOICE_RATE } from '@/core/voice/voiceRanges';

/** The model hears the end of the frame before in front of each frame. */
const BEFORE = 64;
/** The size of what the model remembers. */
const MEMORY = 128;
/** So many frames are read at a time, 5 s. */
const PIECE = 156;
/** A long sound is listened to at several places at a time, as the model hears several in little more time than one: places at most, and frames each has to itself at least, 40 s. */
const MOST_PLACES = 8;
const LEAST_EACH = 1_250;
/** So many frames are heard before each place, 6 s, so that the model has settled when it gets there. */
const SETTLING = 188;

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

/** Frames of the detector's [first, first + count); silence where the sound has none. @param all how many it has */
async function heardAt(
  reader: AudioReader,
  first: number,
  count: number,
  all: number,
): Promise<Float32Array> {
  const samples = new Float32Array(count * VOICE_FRAME);
  const [from, to] = [Math.max(0, first), Math.min(all, first + count)];
  if (from < to)
    samples.set(
      await heard(reader, from * VOICE_FRAME, (to - from) * VOICE_FRAME),
      (from - first) * VOICE_FRAME,
    );
  return samples;
}

/** Clears what is remembered of the first of several places. */
function forgetFirst(state: ort.Tensor, places: number): void {
  const memory = state.data as Float32Array;
  for (const layer of [0, 1]) memory.fill(0, layer * places * MEMORY, (layer * places + 1) * MEMORY);
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
   * @param mostPlaces at which it is listened to at a time; what is heard differs by some hundredths at most
   * @returns one byte a frame of 32 ms, see `certaintyByte`; `null` when stopped
   */
  async certainty(
    reader: AudioReader,
    proceed: (done: number) => boolean | Promise<boolean>,
    mostPlaces = MOST_PLACES,
  ): Promise<Uint8Array | null> {
    const { frames, sampleRate } = reader.format;
    const length = Math.ceil((frames * VOICE_RATE) / sampleRate);
    const count = Math.ceil(length / VOICE_FRAME);
    const sure = new Uint8Array(count);
    const rate = new ort.Tensor('int64', BigInt64Array.of(BigInt(VOICE_RATE)));
    const places = Math.max(1, Math.min(mostPlaces, Math.floor(count / LEAST_EACH)));
    const each = Math.ceil(count / places);
    const width = BEFORE + VOICE_FRAME;
    const input = new Float32Array(places * width);
    const start = places === 1 ? 0 : -SETTLING;
    let state = new ort.Tensor('float32', new Float32Array(2 * places * MEMORY), [2, places, MEMORY]);
    for (let step = start; step < each; step += PIECE) {
      const here = Math.min(PIECE, each - step);
      const samples: Float32Array[] = [];
      for (let p = 0; p < places; p++) samples.push(await heardAt(reader, p * each + step, here, count));
      for (let i = 0; i < here; i++) {
        for (let p = 0; p < places; p++) {
          const at = p * width;
          input.copyWithin(at, at + VOICE_FRAME, at + width);
          input.set(samples[p]!.subarray(i * VOICE_FRAME, (i + 1) * VOICE_FRAME), at + BEFORE);
        }
        // Nothing has been heard yet where the sound begins.
        if (step + i === 0) forgetFirst(state, places);
        const given = new ort.Tensor('float32', input, [places, width]);
        const out = await this.session.run({ input: given, state, sr: rate });
        const certainty = out['output']!.data as Float32Array;
        for (let p = 0; p < places; p++) {
          const frame = p * each + step + i;
          if (step + i >= 0 && frame < count) sure[frame] = certaintyByte(certainty[p]!);
        }
        state = out['stateN'] as typeof state;
      }
      if (!(await proceed((step + here - start) / (each - start)))) return null;
    }
    return sure;
  }
}
