import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveDbAt } from '@/core/programme/curve';
import { DUCK_TIMING, type DuckTiming } from '@/core/programme/ducking';
import { movePoints } from '@/core/programme/edits/points';
import type { Clip, Project } from '@/core/programme/model';
import {
  measuresOf,
  musicUnderSpeech,
  RATE,
  renderedLoudness,
  SPEECH,
} from '@/core/testing/musicUnderSpeech';
import { isCurveStale } from '../curveFor';
import { duckProposal, type DuckRequest } from './duckProposal';
import { duckCurve, duckSpans, edgesOf } from './spans';

const DISTANCE: DuckRequest = {
  ...{ way: 'distance', amountDb: 12, distanceLu: 18, aloneLu: -4 },
  timing: DUCK_TIMING,
};
const music = (of: Project): Clip[] => of.clips.filter(({ trackId }) => trackId === 't1');

async function ducked(of: Project, request = DISTANCE): Promise<Project> {
  const proposal = duckProposal(of, music(of), request, await measuresOf(of));
  return proposal.edit(of, proposal.rows);
}

describe('ducking to a distance', () => {
  it('puts the music as far under each range of speech as asked, whatever its level was', async () => {
    for (const musicDb of [9, -15]) {
      const done = await ducked(musicUnderSpeech(musicDb));
      for (const [words, span] of [
        [SPEECH[0]!, { from: 10, to: 20 }],
        [SPEECH[2]!, SPEECH[2]!],
      ] as const) {
        const said = await renderedLoudness(done, ['voice'], words);
        const under = said - (await renderedLoudness(done, ['theme', 'pad'], span));
        expect(Math.abs(under - 18)).toBeLessThan(0.05);
      }
    }
  });

  it('brings each clip to its level while nobody speaks', async () => {
    const done = await ducked(musicUnderSpeech(3));
    for (const id of ['theme', 'pad'])
      expect(await renderedLoudness(done, [id], { from: 0, to: 9 })).toBeCloseTo(
        done.target.integratedLufs - 4,
        1,
      );
  });

  it('is down before the first word, bridges short pauses, and takes few points', async () => {
    const done = await ducked(musicUnderSpeech());
    const { curve } = done.clips[1]!;
    expect(curve.length).toBeLessThanOrEqual(8);
    const at = (seconds: number): number => curveDbAt(curve, seconds * RATE);
    for (const seconds of [10, 13, 16.7, 20]) expect(at(seconds)).toBeCloseTo(at(12), 9);
    expect(at(25)).toBeCloseTo(at(0), 9);
    expect(at(12)).toBeLessThan(at(0) - 5);
  });

  it('done again, changes nothing; after the cut has changed, it is stale', async () => {
    const done = await ducked(musicUnderSpeech());
    expect(await ducked(done)).toBe(done);
    expect(done.clips.some((clip) => isCurveStale(done, clip))).toBe(false);
    const later = { ...done, clips: done.clips.map((c) => (c.id === 'voice' ? { ...c, start: RATE } : c)) };
    expect(music(later).every((clip) => isCurveStale(later, clip))).toBe(true);
    const again = await ducked(later);
    expect(music(again).some((clip) => isCurveStale(again, clip))).toBe(false);
    // Split, each half is as it was.
    const [, theme] = done.clips;
    const half = { ...theme!, length: 12 * RATE };
    const other = { ...theme!, start: 12 * RATE, sourceStart: 12 * RATE, length: 28 * RATE };
    expect([half, other].map((clip) => isCurveStale(done, clip))).toEqual([false, false]);
    // Moved all together, nothing is stale.
    const moved = { ...done, clips: done.clips.map((c) => ({ ...c, start: c.start + 7 * RATE })) };
    expect(music(moved).some((clip) => isCurveStale(moved, clip))).toBe(false);
  });

  it('leaves a curve alone that a hand has set, until told otherwise', async () => {
    const done = await ducked(musicUnderSpeech());
    const { curve } = done.clips[1]!;
    const owner = { kind: 'clip', id: 'theme' } as const;
    const hand = movePoints(done, owner, new Set([curve[1]!.at]), { frames: 0, db: -1 });
    const of = await measuresOf(hand);
    const rows = duckProposal(hand, music(hand), DISTANCE, of).rows;
    expect(rows.map(({ skipped }) => skipped)).toEqual(['byHand', null]);
    const released = duckProposal(hand, music(hand), DISTANCE, of, true);
    expect(released.edit(hand, released.rows).clips[1]!.curve).toEqual(curve);
  });
});

describe('ducking by an amount', () => {
  const request: DuckRequest = { ...DISTANCE, way: 'amount' };

  it('goes down by just that, and says what it comes to', async () => {
    const before = musicUnderSpeech();
    const proposal = duckProposal(before, music(before), request, await measuresOf(before));
    for (const row of proposal.rows) {
      expect(row.gainAfterDb).toBeCloseTo(-12, 9);
      expect(row.after! - row.before!).toBeCloseTo(-12, 9);
    }
    const done = proposal.edit(before, proposal.rows);
    for (const span of [{ from: 10, to: 20 }]) {
      const change =
        (await renderedLoudness(done, ['theme'], span)) - (await renderedLoudness(before, ['theme'], span));
      expect(change).toBeCloseTo(-12, 2);
      expect(await renderedLoudness(done, ['theme'], span)).toBeCloseTo(proposal.rows[0]!.after!, 0);
    }
  });

  it('takes another amount that is typed for one', async () => {
    const before = musicUnderSpeech();
    const proposal = duckProposal(before, music(before), request, await measuresOf(before));
    const typed = proposal.typed(proposal.rows[0]!, -6);
    expect(typed.gainAfterDb).toBeCloseTo(-6, 9);
    expect(curveDbAt(typed.curve, 12 * RATE)).toBeCloseTo(-6, 9);
  });
});

const timing = fc.record({
  lookAheadMs: fc.integer({ min: 0, max: 3000 }),
  attackMs: fc.integer({ min: 5, max: 3000 }),
  holdMs: fc.integer({ min: 0, max: 3000 }),
  releaseMs: fc.integer({ min: 5, max: 5000 }),
  bridgeMs: fc.integer({ min: 0, max: 4000 }),
}) satisfies fc.Arbitrary<DuckTiming>;

const speech = fc
  .array(fc.tuple(fc.integer({ min: 20, max: 400 }), fc.integer({ min: 30, max: 500 })), { maxLength: 8 })
  .map((pairs) => {
    let at = 0;
    return pairs.map(([gap, length]) => {
      const from = (at += gap) / 100;
      return { from, to: (at += length) / 100 };
    });
  });

describe('the curve', () => {
  const clip = { start: 2 * RATE, length: 30 * RATE, sourceStart: 5 * RATE };

  it('stays between its levels, is down wherever it is to be, and never moves faster than said', () => {
    fc.assert(
      fc.property(
        timing,
        speech,
        fc.array(fc.double({ min: -30, max: -2, noNaN: true }), { minLength: 8, maxLength: 8 }),
        (time, words, levels) => {
          const spans = duckSpans(words, time);
          const under = spans.map((_, i) => levels[i]!);
          const curve = duckCurve(clip, RATE, spans, under, -1, time);
          const at = (seconds: number): number =>
            curveDbAt(curve, Math.round(seconds * RATE) - clip.start + clip.sourceStart);
          for (const { db } of curve) {
            expect(db).toBeLessThanOrEqual(-1 + 1e-9);
            expect(db).toBeGreaterThanOrEqual(Math.min(-1, ...under) - 1e-9);
          }
          spans.forEach((span, i) => {
            const { down, holds } = edgesOf(span, time);
            for (const seconds of [down + 0.001, (down + holds) / 2, holds - 0.001])
              if (seconds > down && seconds < holds && seconds >= 2 && seconds <= 32)
                expect(at(seconds)).toBeCloseTo(under[i]!, 2);
          });
        },
      ),
    );
  });

  it('covers every word, in order', () => {
    fc.assert(
      fc.property(timing, speech, (time, words) => {
        const spans = duckSpans(words, time);
        expect(spans.flatMap((span) => span.words)).toEqual(words);
        spans.forEach((span, i) => {
          const next = spans[i + 1];
          if (next) expect(next.from - span.to).toBeGreaterThanOrEqual(time.bridgeMs / 1000);
        });
      }),
    );
  });
});
