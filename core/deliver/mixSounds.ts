import { programmeLayout } from '@/core/audio/layout';
import type { Id, Project } from '@/core/programme/model';
import type { ReadSound } from '@/core/signal/limiter/limitedReader';
import { EVERYTHING, pieceSeconds, renderTaps, type Tap } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';

/** Rendered at a time, seconds. */
const PIECE_SECONDS = 4;
/** Pieces kept: a reader may look back, and ahead, into the one beside its own. */
const KEPT = 3;

/** What a file hears of a mix. */
export interface Hearing {
  readonly tap: Tap;
  /** It goes through the limiters as the whole mix does: see `TapOptions.stems`. */
  readonly stem: boolean;
}

/** All of it. */
export const WHOLE_MIX: Hearing = { tap: EVERYTHING, stem: false };

/** Some of its clips, which add up to it with all others. @param clipIds `null`: all of it */
export const hearingOf = (clipIds: ReadonlySet<Id> | null): Hearing =>
  clipIds ? { tap: ({ id }) => clipIds.has(id), stem: true } : WHOLE_MIX;

/**
 * What several taps of one mix hear, as sounds to be read side by side: as long as they are read in step, every piece of the mix
 * is rendered once for all of them.
 * @param from programme frames; may begin before the programme and end behind it, where it is silent
 */
export function mixSounds(
  project: Project,
  openSource: OpenSource,
  from: number,
  to: number,
  hearings: readonly Hearing[],
): readonly ReadSound[] {
  const layout = programmeLayout(project.layoutId);
  const piece = Math.round(pieceSeconds(project, PIECE_SECONDS) * project.sampleRate);
  // What hears the same is rendered once.
  const distinct = [...new Set(hearings)];
  const taps = distinct.map(({ tap }) => tap);
  const stems = distinct.map(({ stem }) => stem);
  const kept = new Map<number, Promise<Float32Array[][]>>();
  const pieceAt = (k: number): Promise<Float32Array[][]> => {
    const there = kept.get(k);
    if (there) return there;
    const made = renderTaps(project, openSource, from + k * piece, piece, taps, { stems });
    kept.set(k, made);
    // One that failed is not kept: it is told once, and may be tried again.
    made.catch(() => kept.delete(k));
    if (kept.size > KEPT) kept.delete(kept.keys().next().value!);
    return made;
  };
  const frames = to - from;
  return hearings.map((hearing) => ({
    format: { layout, sampleRate: project.sampleRate, frames },
    async read(start, count) {
      const out = layout.labels.map(() => new Float32Array(count));
      const [first, end] = [Math.max(0, start), Math.min(frames, start + count)];
      for (let at = first; at < end;) {
        const k = Math.floor(at / piece);
        const until = Math.min(end, (k + 1) * piece);
        const sound = (await pieceAt(k))[distinct.indexOf(hearing)]!;
        out.forEach((channel, c) =>
          channel.set(sound[c]!.subarray(at - k * piece, until - k * piece), at - start),
        );
        at = until;
      }
      return out;
    },
  }));
}
