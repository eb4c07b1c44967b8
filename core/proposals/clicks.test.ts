import { describe, expect, it } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import type { Clip, Project, Source } from '@/core/programme/model';
import { renderRange } from '@/core/signal/mix';
import { testClip, testProject } from '@/core/testing/projects';
import { memoryReader, noise } from '@/core/testing/signals';
import { CLICK_LIMITS, clickProposal, findClicks } from './clicks';

const RATE = 48_000;
const sine = (hz: number, phase: number): Float32Array =>
  Float32Array.from({ length: 4 * RATE }, (_, i) => 0.3 * Math.sin((2 * Math.PI * hz * i) / RATE + phase));
const SOUNDS: Readonly<Record<string, Float32Array>> = {
  hum: sine(200, 1),
  whistle: sine(1_900, 0.4),
  wind: noise(4 * RATE, 0.2, 3),
};
const open = (source: Source) => Promise.resolve(memoryReader([SOUNDS[source.id]!], RATE));

function project(clips: readonly Clip[]): Project {
  const base = testProject(clips);
  const sources = Object.keys(SOUNDS).map((id) => ({
    ...base.sources[0]!,
    ...{ id, audioKey: id, sampleRate: RATE, layout: layoutFor(1), frames: 4 * RATE },
  }));
  return { ...base, sources };
}
const clip = (sourceId: string, change: Partial<Clip> = {}): Clip =>
  testClip({ id: sourceId, sourceId, start: RATE, sourceStart: RATE, length: RATE, ...change });
const find = async (of: Project) => (await findClicks(of, CLICK_LIMITS, open, () => true))!;

/** Largest step from sample to sample around a place, of what is rendered. */
async function step(of: Project, at: number): Promise<number> {
  const [left] = await renderRange(of, open, at - 200, 400);
  let most = 0;
  for (let i = 150; i < 250; i++) most = Math.max(most, Math.abs(left![i]! - left![i - 1]!));
  return most;
}

describe('clicks where clips begin and end', () => {
  it('are found in a tone that is cut off, and mended by a fade that leaves no step', async () => {
    const cut = project([clip('hum')]);
    const found = await find(cut);
    expect(found.map(({ kind, at }) => [kind, at])).toEqual([
      ['start', RATE],
      ['end', 2 * RATE],
    ]);
    // The step is the height of the tone there.
    const height = Math.abs(SOUNDS['hum']![RATE]!) * Math.SQRT1_2;
    expect(Math.abs(found[0]!.click.dbfs - 20 * Math.log10(height))).toBeLessThan(1);
    const proposal = clickProposal(cut, found);
    const done = proposal.edit(cut, proposal.rows);
    expect(await find(done)).toEqual([]);
    expect(await step(done, RATE)).toBeLessThan((await step(cut, RATE)) / 5);
    expect(done.clips[0]!.fadeIn).toBeGreaterThan(0);
    expect(done.clips[0]!.fadeIn).toBeLessThan(0.03 * RATE);
  });

  it('are none in noise, in silence, nor where a fade is', async () => {
    expect(await find(project([clip('wind')]))).toEqual([]);
    const faded = { fadeIn: 500, fadeOut: 500, fadeInShape: 'smooth', fadeOutShape: 'smooth' } as const;
    expect(await find(project([clip('hum', faded)]))).toEqual([]);
    expect(await find(project([clip('hum', { curve: [{ at: 0, db: -120 }] })]))).toEqual([]);
  });

  it('are none where a clip was only split', async () => {
    const split = [
      clip('hum', { id: 'a', start: 0, sourceStart: 0, length: RATE, fadeIn: 500 }),
      clip('hum', { id: 'b', start: RATE, sourceStart: RATE, length: RATE, fadeOut: 500 }),
    ];
    expect((await find(project(split))).filter(({ kind }) => kind === 'join')).toEqual([]);
  });

  it('where two tones follow on one another are crossed over', async () => {
    const joined = project([
      clip('hum', { start: 0, fadeIn: 600, fadeInShape: 'smooth' }),
      clip('whistle', { start: RATE, fadeOut: 600, fadeOutShape: 'smooth' }),
    ]);
    const found = await find(joined);
    expect(found.map(({ kind, mend }) => [kind, mend?.kind])).toEqual([['join', 'crossfade']]);
    const proposal = clickProposal(joined, found);
    const done = proposal.edit(joined, proposal.rows);
    expect(done.clips[0]!.fadeOut).toBe(done.clips[1]!.fadeIn);
    expect(done.clips[0]!.fadeOut).toBeGreaterThan(0);
    expect((await find(done)).filter(({ kind }) => kind === 'join')).toEqual([]);
  });

  it('where no sound beyond the cut could cross get a fade on both sides', async () => {
    const joined = project([
      clip('hum', { start: 0, sourceStart: 3 * RATE, fadeIn: 600, fadeInShape: 'smooth' }),
      clip('whistle', { start: RATE, sourceStart: 0, fadeOut: 600, fadeOutShape: 'smooth' }),
    ]);
    const proposal = clickProposal(joined, await find(joined));
    expect(proposal.rows.map(({ sentence }) => sentence)).toEqual([
      expect.stringMatching(/No sound beyond the cut to cross with: fades of \d+ ms on both sides leave/),
    ]);
    const done = proposal.edit(joined, proposal.rows);
    expect(done.clips[0]!.fadeOut).toBe(done.clips[1]!.fadeIn);
    expect((await find(done)).filter(({ at }) => at === RATE)).toEqual([]);
  });

  it('without room for a fade are told, and left', async () => {
    const short = project([clip('hum', { fadeOut: RATE - 20, fadeOutShape: 'smooth' })]);
    const rows = clickProposal(short, await find(short)).rows;
    expect(rows.map(({ found }) => found.kind)).toEqual(['start']);
    for (const row of rows) expect([row.skipped, row.after]).toEqual(['notMended', row.before]);
  });

  it('are given up when told to', async () => {
    expect(await findClicks(project([clip('hum')]), CLICK_LIMITS, open, () => false)).toBeNull();
  });
});
