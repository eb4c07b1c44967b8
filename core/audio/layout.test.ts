import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bytesSource } from './byteSource';
import { encodePcm } from './pcm';
import { wavFrame } from '@/core/formats/wav/write';
import { openPcm } from '@/core/formats/openPcm';
import { renderFile } from '@/core/deliver/renderFile';
import {
  DUAL_MONO,
  layoutFor,
  layoutOf,
  PROGRAMME_LAYOUTS,
  saidByWav,
  wavChannels,
  type Layout,
} from './layout';

/** A file of a layout, each channel one value, as it is read back: label by label what stands there. */
async function writtenAndRead(
  layout: Layout,
): Promise<{ labels: readonly string[]; weights: readonly number[]; values: number[] }> {
  const parts: Uint8Array[] = [];
  const values = layout.labels.map((_, i) => (i + 1) / 64);
  await renderFile(
    { sampleRate: 48_000, layout, frames: 2, format: 'f32' },
    (_, count) => Promise.resolve(values.map((value) => new Float32Array(count).fill(value))),
    (bytes) => void parts.push(bytes),
    () => true,
  );
  const reader = await openPcm(bytesSource(Uint8Array.from(parts.flatMap((part) => [...part]))));
  const samples = await reader.read(0, 1);
  const { labels, weights } = reader.format.layout;
  return { labels, weights, values: samples.map(([value]) => value!) };
}

const byLabel = (labels: readonly string[], values: readonly number[]): Map<string, number> =>
  new Map(labels.map((label, i) => [label, values[i]!]));

describe('layouts in WAV files', () => {
  it('that a programme can have say what they are', async () => {
    for (const layout of PROGRAMME_LAYOUTS) {
      expect(saidByWav(layout), layout.id).toBe(true);
      const { labels, weights } = await writtenAndRead(layout);
      expect(labels, layout.id).toEqual(layout.labels);
      expect(weights).toEqual(layout.weights);
    }
  });

  it('of any mask come back as they went, every channel where it belongs', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 0x3ffff }), async (mask) => {
        const channels = mask.toString(2).replaceAll('0', '').length;
        if (channels < 2) return;
        const layout = layoutFor(channels, mask);
        expect(saidByWav(layout)).toBe(true);
        const { labels, weights, values } = await writtenAndRead(layout);
        expect([...labels].sort()).toEqual([...layout.labels].sort());
        const sent = layout.labels.map((_, i) => (i + 1) / 64);
        expect(byLabel(labels, values)).toEqual(byLabel(layout.labels, sent));
        expect(byLabel(labels, weights)).toEqual(byLabel(layout.labels, layout.weights));
      }),
      { numRuns: 200 },
    );
  });

  it('in another order are put in that of the file', () => {
    const other = layoutOf([
      ['L', 1],
      ['C', 1],
      ['R', 1],
      ['Ls', 1.41],
      ['Rs', 1.41],
      ['LFE', 0],
    ]);
    const { mask, order, layout } = wavChannels(other);
    expect(mask).toBe(0x3f);
    expect(order).toEqual([0, 2, 1, 5, 3, 4]);
    expect(layout.id).toBe('5.1');
  });

  it('that it has no words for are known', () => {
    expect(saidByWav(DUAL_MONO)).toBe(false);
    expect(saidByWav(layoutFor(9))).toBe(true);
    const named = { ...layoutFor(3), labels: ['A', 'B', 'C'], weights: [1, 1, 1] };
    expect(saidByWav(named)).toBe(false);
    const { header } = wavFrame({ sampleRate: 48_000, layout: named, format: 's16', frames: 1 });
    expect(new DataView(header.buffer).getUint32(40, true)).toBe(0);
    expect(encodePcm([new Float32Array(1)], 1, 's16').bytes.length).toBe(2);
  });
});
