import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
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

  it('stops when it is told to', async () => {
    const reader = await openPcm(bytesSource(readFileSync(new URL('public/demo/frost-alarm.wav', root))));
    expect(await detector.certainty(reader, () => false)).toBeNull();
  });
});
