import type { SignalDetails } from '@/core/loudness/details';

/** A place in a source worth listening to. */
export interface Place {
  readonly at: number;
  readonly words: string;
  /** Something is wrong there. */
  readonly bad: boolean;
}

function lengthWords(seconds: number): string {
  return seconds < 0.1 ? `${(seconds * 1000).toFixed(seconds < 0.01 ? 1 : 0)} ms` : `${seconds.toFixed(1)} s`;
}

/** Clipped places, drop-outs, digital silence and the largest values, in order of time. */
export function placesOf({ positions, clippedRuns, dropOuts, digitalSilence }: SignalDetails): Place[] {
  const largest: readonly (readonly [number | null, string])[] = [
    [positions.maxShortTerm, 'Max short-term'],
    [positions.maxMomentary, 'Max momentary'],
    [positions.truePeak, 'True peak'],
  ];
  return [
    ...largest.flatMap(([at, words]) => (at === null ? [] : [{ at, words, bad: false }])),
    ...clippedRuns.map(({ startSeconds, lengthSeconds, channel }) => ({
      at: startSeconds,
      words: `Clipped for ${lengthWords(lengthSeconds)}, channel ${channel}`,
      bad: true,
    })),
    ...dropOuts.map(({ startSeconds, lengthSeconds, channel }) => ({
      at: startSeconds,
      words: `Drop-out of ${lengthWords(lengthSeconds)}, channel ${channel}`,
      bad: true,
    })),
    ...digitalSilence.map(({ startSeconds, lengthSeconds }) => ({
      at: startSeconds,
      words: `Digital silence for ${lengthWords(lengthSeconds)}`,
      bad: false,
    })),
  ].sort((a, b) => a.at - b.at);
}
