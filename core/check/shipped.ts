import type { Target } from './target';

function target(
  id: string,
  name: string,
  source: string,
  integratedLufs: number,
  toleranceLu: number,
  maxTruePeakDbtp: number,
  maxShortTermLufs: number | null = null,
): Target {
  return {
    id,
    name,
    source,
    integratedLufs,
    toleranceLu,
    maxTruePeakDbtp,
    maxShortTermLufs,
    maxMomentaryLufs: null,
    maxLoudnessRangeLu: null,
  };
}

export const EBU_R128 = target('ebu-r128', 'EBU R 128', 'EBU R 128', -23, 0.5, -1);

/**
 * The targets that come with the product; read-only, each can be copied and changed. Dialogue-anchored targets are
 * left out until dialogue can be measured on its own.
 */
export const SHIPPED_TARGETS: readonly Target[] = [
  EBU_R128,
  target('ebu-r128-live', 'EBU R 128, live', 'EBU R 128', -23, 1, -1),
  target('ebu-r128-s1', 'EBU R 128 s1, short form', 'EBU R 128 s1', -23, 0.5, -1, -18),
  target('atsc-a85', 'ATSC A/85', 'ATSC A/85', -24, 2, -2),
  target('op-59', 'Free TV OP-59', 'OP-59', -24, 1, -2),
  target('arib-tr-b32', 'ARIB TR-B32', 'TR-B32', -24, 1, -1),
  target('aes-td1008-speech', 'AES TD1008, speech', 'AES TD1008', -18, 1, -1),
  target('aes-td1008-music', 'AES TD1008, music', 'AES TD1008', -16, 1, -1),
  target('web-video', 'Web video', 'common practice', -14, 0.5, -1),
  target('podcast-stereo', 'Spoken podcast, stereo', 'common practice', -16, 1, -1),
  target('podcast-mono', 'Spoken podcast, mono', 'common practice', -19, 1, -1),
];
