import { describe, expect, it } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { measureClip } from '@/core/measuring/measureClip';
import type { Project, Source } from '@/core/programme/model';
import { clipSound } from '@/core/signal/clipSound';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { renderRange } from '@/core/signal/mix';
import { longPeak } from '@/core/testing/longPeak';
import { testClip, testProject } from '@/core/testing/projects';
import { memoryReader, noise } from '@/core/testing/signals';
import { levelProposal } from './levelProposal';
import { limitClip, limitsWanted, withLimits } from './limitedClip';
import { measuredClips, standingMeasurement } from './measuredClips';
import { PLAIN_REQUEST, type LevelRequest } from './proposal';

const RATE = 48_000;
const SECONDS = 10;
/** Quiet noise with claps that are near full scale, and a pause at the end. */
const sound = noise(SECONDS * RATE, 0.03, 3).map((x, i) =>
  i > 8.5 * RATE ? x / 100 : i % 24_000 < 120 ? x * 25 : x,
);
const reader = memoryReader([sound], RATE);

function project(trackDb: number): Project {
  const base = testProject([testClip({ id: 'c', sourceId: 'talk', length: SECONDS * RATE, trimDb: 2 })]);
  const talk: Source = {
    ...base.sources[0]!,
    ...{ id: 'talk', audioKey: 'talk', sampleRate: RATE, layout: layoutFor(1), frames: SECONDS * RATE },
  };
  const tracks = base.tracks.map((track) => (track.id === 't0' ? { ...track, gainDb: trackDb } : track));
  return { ...base, sources: [talk], tracks };
}

const REQUEST: LevelRequest = { ...PLAIN_REQUEST, goal: -20, ceilingDbtp: -3, policy: 'limit' };

async function levelled(before: Project, request = REQUEST) {
  const own = (await measureClip(reader, clipSound(before, before.clips[0]!)!, () => true))!;
  const entries = measuredClips(
    before,
    before.clips,
    standingMeasurement(before, () => own),
  );
  const plain = levelProposal(entries, request, {});
  const wanted = limitsWanted(before, plain.rows, request);
  const found = new Map(
    await Promise.all(
      wanted.map(
        async ({ clip, asked, key }) =>
          [key, (await limitClip(reader, clipSound(before, clip)!, asked, () => true))!] as const,
      ),
    ),
  );
  const proposal = withLimits(plain, before, request, wanted, found);
  return { proposal, plain, done: proposal.edit(before, proposal.rows) };
}

async function rendered(of: Project) {
  const samples = await renderRange(of, () => Promise.resolve(reader), 0, SECONDS * RATE);
  const meter = new LoudnessMeter(layoutFor(2), RATE);
  meter.push(samples);
  return { figures: figuresOf(meter.finish()), samples };
}

describe('a clip with a limiter of its own', () => {
  it('that is at work is left alone by gain, and says so; levelled through the limiter again, it stands', async () => {
    const { done } = await levelled(project(0));
    for (const mode of ['each', 'together'] as const) {
      const { plain } = await levelled(done, { ...REQUEST, policy: 'stop', mode });
      expect(plain.rows[0]).toMatchObject({ skipped: 'limiter', gainAfterDb: done.clips[0]!.gain.db });
      expect(plain.rows[0]!.sentence).toMatch(/its limiter is at work/);
    }
    const again = await levelled(done);
    expect(again.proposal.rows[0]!.gainAfterDb).toBeCloseTo(done.clips[0]!.gain.db, 2);
  });

  it('that has nothing to do is levelled like any other', async () => {
    const before = project(0);
    const clips = before.clips.map((clip) => ({
      ...clip,
      gain: { ...clip.gain, db: -20 },
      limiter: { ...SPEECH_AND_MUSIC, ceilingDbtp: -3, inputDb: 0 },
    }));
    const { plain } = await levelled({ ...before, clips }, { ...REQUEST, goal: -45, policy: 'stop' });
    expect(plain.rows[0]!.skipped).toBeNull();
    expect(plain.rows[0]!.after).toBeCloseTo(-45, 2);
  });
});

describe('a clip levelled through a limiter', () => {
  it.each([0, 5, -7])(
    'reaches its goal under the ceiling as it is heard, with %s dB on its track',
    async (trackDb) => {
      const { proposal, plain, done } = await levelled(project(trackDb));
      const [row] = proposal.rows;
      expect(plain.rows[0]!.truePeakAfter!).toBeGreaterThan(0);
      expect(row!.after!).toBeCloseTo(-20, 1);
      const raised = row!.gainAfterDb - plain.rows[0]!.gainAfterDb;
      expect(raised).toBeGreaterThan(0.1);
      expect(row!.noiseFloorAfter!).toBeCloseTo(plain.rows[0]!.noiseFloorAfter! + raised, 9);
      expect(row!.sentence).toMatch(/The limiter takes up to .* Gain alone would stop at/);
      const { figures, samples } = await rendered(done);
      expect(Math.abs(figures.integratedLufs! + 20)).toBeLessThan(0.02);
      expect(20 * Math.log10(longPeak(samples[0]!, 0.7))).toBeLessThan(-3 + 0.05);
      expect(done.clips[0]!.limiter!.ceilingDbtp).toBeCloseTo(-3 - trackDb, 9);
      expect(proposal.step(proposal.rows, 0)).toMatch(/, 1 limited to −3\.0 dBTP$/);
    },
  );

  it('gets none where no peak comes to the ceiling', async () => {
    const { proposal, plain, done } = await levelled(project(0), { ...REQUEST, goal: -40 });
    expect(proposal.rows).toEqual(plain.rows);
    expect(done.clips[0]!.limiter).toBeNull();
  });
});
