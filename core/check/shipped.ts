import type { Target } from './target';
import { asksTheSame } from './targetFields';

/** How all of them are measured. */
const EDITION = 'ITU-R BS.1770-5';
const PRACTICE = 'common practice';

function target(
  id: string,
  name: string,
  source: string,
  [integratedLufs, toleranceLu, maxTruePeakDbtp]: readonly [number, number, number],
  more: Partial<Target> = {},
): Target {
  return {
    ...{ id, name, source, edition: EDITION, integratedLufs, toleranceLu, maxTruePeakDbtp },
    ...{ maxShortTermLufs: null, maxMomentaryLufs: null, maxLoudnessRangeLu: null },
    ...more,
  };
}

export const EBU_R128 = target('ebu-r128', 'EBU R 128', 'EBU R 128', [-23, 0.5, -1]);

/** The targets that come with the product; read-only, each can be copied and changed. */
export const SHIPPED_TARGETS: readonly Target[] = [
  EBU_R128,
  target('ebu-r128-live', 'EBU R 128, live', 'EBU R 128', [-23, 1, -1]),
  target('ebu-r128-s1', 'EBU R 128 s1, short form', 'EBU R 128 s1', [-23, 0.5, -1], {
    maxShortTermLufs: -18,
  }),
  target('atsc-a85', 'ATSC A/85', 'ATSC A/85', [-24, 2, -2]),
  target('atsc-a85-dialogue', 'ATSC A/85, dialogue', 'ATSC A/85', [-24, 2, -2], { anchor: 'dialogue' }),
  target('op-59', 'Free TV OP-59', 'OP-59', [-24, 1, -2]),
  target('arib-tr-b32', 'ARIB TR-B32', 'TR-B32', [-24, 1, -1]),
  target('aes-td1008-speech', 'AES TD1008, speech', 'AES TD1008', [-18, 1, -1]),
  target('aes-td1008-music', 'AES TD1008, music', 'AES TD1008', [-16, 1, -1]),
  target('web-video', 'Web video', PRACTICE, [-14, 0.5, -1]),
  target('podcast-stereo', 'Spoken podcast, stereo', PRACTICE, [-16, 1, -1]),
  target('podcast-mono', 'Spoken podcast, mono', PRACTICE, [-19, 1, -1]),
  target('drama-dialogue', 'Dialogue-anchored drama', PRACTICE, [-27, 2, -2], { anchor: 'dialogue' }),
];

/**
 * The shipped target that a project's copy came from, where its figures have changed since: the copy is never replaced unasked.
 * @returns `null` when they are the same, or it is none of them
 */
export function newerShipped(copy: Target): Target | null {
  const shipped = SHIPPED_TARGETS.find(({ id }) => id === copy.id);
  return shipped && !asksTheSame(shipped, copy) ? shipped : null;
}
