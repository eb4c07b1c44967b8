import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { MONO } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import { openPcm } from '@/core/formats/openPcm';
import { wavFrame } from '@/core/formats/wav/write';
import { voiceRanges } from '@/core/voice/voiceRanges';
import { VoiceDetector } from './voice';

const root = new URL('../', import.meta.url);
let detector: VoiceDetector;

beforeAll(async () => {
  const model = 'node_modules/@ricky0123/vad-web/dist/silero_vad_v6.onnx';
  detector = await VoiceDetector.load(readFileSync(new URL(model, root)));
});

/** The part of a sound of the demo in which somebody speaks. */
async function spoken(name: string): Promise<number> {
  const reader = await openPcm(bytesSource(readFileSync(new URL(`public/demo/${name}.wav`, root))));
  const seconds = reader.format.frames / reader.format.sampleRate;
  const certainty = await detector.certainty(reader, () => true);
  return voiceRanges(certainty!, seconds).reduce((sum, { from, to }) => sum + to - from, 0) / seconds;
}

describe('the voice detector', () => {
  it.each(['narrator-4-pressure', 'observer-outdoors-2-gust', 'valley-radio-call'])(
    'hears a voice in %s',
    async (name) => {
      expect(await spoken(name)).toBeGreaterThan(0.75);
    },
  );

  it.each(['music-frostline-theme', 'frost-alarm'])('hears none in %s', async (name) => {
    expect(await spoken(name)).toBe(0);
  });

  it('hears the same in a long sound, to which it listens at several places at a time', async () => {
    const names = ['narrator-4-pressure', 'frost-alarm', 'valley-radio-call', 'observer-outdoors-2-gust'];
    const parts = await Promise.all(
      names.map(async (name) => {
        const reader = await openPcm(bytesSource(readFileSync(new URL(`public/demo/${name}.wav`, root))));
        return (await reader.read(0, reader.format.frames))[0]!;
      }),
    );
    // One after the other and over again, until it is long enough for three places.
    const [rate, seconds] = [48_000, 125];
    const sound = new Float32Array(seconds * rate);
    let at = 0;
    for (let i = 0; at < sound.length; at += parts[i++ % parts.length]!.length)
      sound.set(parts[i % parts.length]!.subarray(0, sound.length - at), at);
    const spec = { sampleRate: rate, layout: MONO, format: 's16', frames: sound.length } as const;
    const { header, trailer } = wavFrame(spec);
    const { bytes } = encodePcm([sound], sound.length, 's16');
    const reader = await openPcm(bytesSource(Buffer.concat([header, bytes, trailer])));
    const spokenWith = async (places?: number): Promise<Uint8Array> => {
      const certainty = (await detector.certainty(reader, () => true, places))!;
      const ranges = voiceRanges(certainty, seconds);
      return certainty.map((_, k) =>
        ranges.some(({ from, to }) => k * 0.032 >= from && k * 0.032 < to) ? 1 : 0,
      );
    };
    const one = await spokenWith(1);
    const several = await spokenWith();
    const different = one.reduce((sum, spoken, k) => sum + Math.abs(spoken - several[k]!), 0);
    expect(different).toBeLessThan(0.01 * one.length);
    const spoken = one.reduce((a, b) => a + b, 0) / one.length;
    expect(spoken).toBeGreaterThan(0.5);
    expect(spoken).toBeLessThan(0.9);
  });

  it('stops when it is told to', async () => {
    const reader = await openPcm(bytesSource(readFileSync(new URL('public/demo/frost-alarm.wav', root))));
    expect(await detector.certainty(reader, () => false)).toBeNull();
  });
});
