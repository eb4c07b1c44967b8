import type { ClipSound } from '@/core/signal/clipSound';
import { finishedSamples, pieceOf, samplesOf } from '@/core/signal/piece';
import { ALWAYS, plainStation, type Station } from '@/core/signal/station';
import type { TrackSound } from '@/core/signal/trackSound';

/** Turns a clip round that is called so, or the second half of it. */
export const polarity = plainStation<ClipSound>({
  name: 'polarity',
  key: ({ clip }) => (clip.name.startsWith('turned') ? [clip.name] : []),
  difference(a, b) {
    if (a.clip.name === b.clip.name) return null;
    return [a, b].some(({ clip }) => clip.name === 'turned') ? ALWAYS : { from: 96_000, to: Infinity };
  },
  apply(piece, { clip }, at) {
    const first = clip.name === 'turned' ? 0 : clip.name === 'turned late' ? 96_000 : Infinity;
    const samples = samplesOf(piece);
    for (const channel of samples)
      for (let i = Math.max(0, first - at); i < channel.length; i++) channel[i] = -channel[i]!;
    return { ...piece, sound: samples };
  },
  asRecorded: (project) => ({
    ...project,
    clips: project.clips.map((clip) => ({ ...clip, name: clip.name.replace('turned', 'plain') })),
  }),
});

export const BEFORE = 300;
export const AFTER = 120;

/** On a track that is called so: each sample held to the largest around it, and squared. Not linear, and reaches both ways. */
export const squeezed: Station<TrackSound> = {
  name: 'squeeze',
  key: ({ track: { name } }) => (name === 'Squeezed' ? [1] : []),
  difference: (a, b) => ((a.track.name === 'Squeezed') === (b.track.name === 'Squeezed') ? null : ALWAYS),
  reach: ({ track: { name } }) =>
    name === 'Squeezed' ? { before: BEFORE, after: AFTER } : { before: 0, after: 0 },
  linear: ({ track: { name } }) => name !== 'Squeezed',
  apply(piece, { track: { name } }) {
    if (name !== 'Squeezed') return piece;
    return pieceOf(
      finishedSamples(piece).map((x) =>
        Float32Array.from({ length: x.length - BEFORE - AFTER }, (_, i) => {
          const here = i + BEFORE;
          return x[here]! * (1 - Math.min(1, Math.abs(x[here - BEFORE]!) + Math.abs(x[here + AFTER]!)) / 2);
        }),
      ),
    );
  },
};
