import type { FadeShape, Role, SegmentShape } from '@/core/programme/model';

/** “20 ms”, “1.25 s”. */
export const secondsText = (seconds: number): string =>
  seconds < 1 ? `${Number((seconds * 1000).toFixed(seconds < 0.1 ? 1 : 0))} ms` : `${seconds.toFixed(2)} s`;

/** What a fade is called by its shape. */
export const fadeShapeWords = (shape: FadeShape): string =>
  typeof shape === 'number'
    ? `by correlation ${shape.toFixed(2).replace('-', '−')}`
    : { equalPower: 'Equal power', straight: 'Straight', smooth: 'Smooth', exponential: 'Exponential' }[
        shape
      ];

/** What a segment of a curve is called by its shape. */
export const SEGMENT_WORDS: Readonly<Record<SegmentShape | 'straight', string>> = {
  straight: 'Straight',
  easeStart: 'Eased at start',
  easeEnd: 'Eased at end',
  ease: 'Eased',
  step: 'Step',
};

export const ROLE_NAMES: Readonly<Record<Role, string>> = {
  dialogue: 'Dialogue',
  narration: 'Narration',
  music: 'Music',
  effects: 'Effects',
  ambience: 'Ambience',
};
