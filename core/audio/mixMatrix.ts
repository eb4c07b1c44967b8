import { DUAL_MONO, type Layout } from './layout';

/** gain[to][from]: how much of each incoming channel goes to each outgoing one. */
export type MixMatrix = readonly (readonly number[])[];

const HALF_POWER = Math.SQRT1_2;

type Share = readonly [label: string, gain: number];

/**
 * Where a channel goes that the programme's layout does not have: the first of these whose loudspeakers are all there.
 * Source: ITU-R BS.775-3, Annex 4, table 2; loudspeakers that it does not know go where the nearest one that it knows
 * goes, at the same gain.
 */
const FOLD: Readonly<Record<string, readonly (readonly Share[])[]>> = {
  C: both(HALF_POWER),
  M: [[['C', 1]], ...both(HALF_POWER)],
  Ls: side('L', HALF_POWER),
  Rs: side('R', HALF_POWER),
  Lc: side('L', 1),
  Rc: side('R', 1),
  Cs: [
    [
      ['Ls', HALF_POWER],
      ['Rs', HALF_POWER],
    ],
    ...both(0.5),
  ],
  LFE: [],
};

function both(gain: number): Share[][] {
  return [
    [
      ['L', gain],
      ['R', gain],
    ],
  ];
}

function side(label: string, gain: number): Share[][] {
  return [[[label, gain]]];
}

/** The loudspeaker of BS.775 that stands nearest. */
const NEAREST: Readonly<Record<string, string>> = {
  Lss: 'Ls',
  Rss: 'Rs',
  Lrs: 'Ls',
  Rrs: 'Rs',
  Ltf: 'L',
  Rtf: 'R',
  Ctf: 'C',
  Ltr: 'Ls',
  Rtr: 'Rs',
  Ctr: 'Cs',
  Tc: 'Cs',
  FL: 'L',
  FR: 'R',
  FC: 'C',
  LFE1: 'LFE',
  LFE2: 'LFE',
  FLc: 'Lc',
  FRc: 'Rc',
  SiL: 'Ls',
  SiR: 'Rs',
  BL: 'Ls',
  BR: 'Rs',
  BC: 'Cs',
  TpFL: 'L',
  TpFR: 'R',
  TpFC: 'C',
  TpC: 'Cs',
  TpSiL: 'Ls',
  TpSiR: 'Rs',
  TpBL: 'Ls',
  TpBR: 'Rs',
  TpBC: 'Cs',
  BtFL: 'L',
  BtFR: 'R',
  BtFC: 'C',
};

/** Into one channel: left and right at −3 dB each, centre in full, surrounds at −6 dB (BS.775-3, Annex 4, table 2). */
const INTO_MONO: Readonly<Record<string, number>> = {
  L: HALF_POWER,
  R: HALF_POWER,
  C: 1,
  M: 1,
  Ls: 0.5,
  Rs: 0.5,
  Lc: HALF_POWER,
  Rc: HALF_POWER,
  Cs: 0.5,
  LFE: 0,
};

/**
 * How a source's channels are laid into a programme's.
 *
 * A mono source in a stereo programme goes to both sides at −3.01 dB (constant power): the two together are as loud
 * as the source is by itself, so what a clip measures is what it brings to the programme. In a programme with a
 * centre it goes there in full. Mono declared as meant for two loudspeakers is 3.01 dB more.
 */
export function mixMatrix(from: Layout, to: Layout): MixMatrix {
  const gain = to.labels.map(() => from.labels.map(() => 0));
  // What is meant for two loudspeakers reaches each in full.
  const toMono = to.labels.length === 1;
  const lift = from.id === DUAL_MONO.id && !toMono ? Math.SQRT2 : 1;
  from.labels.forEach((own, channel) => {
    if (toMono) {
      gain[0]![channel] = INTO_MONO[NEAREST[own] ?? own] ?? HALF_POWER;
      return;
    }
    const near = NEAREST[own] ?? own;
    const ways: readonly (readonly Share[])[] = [
      [[own, 1]],
      [[near, 1]],
      ...(FOLD[near] ?? both(HALF_POWER)),
    ];
    const way = ways.find((shares) => shares.every(([label]) => to.labels.includes(label)));
    for (const [label, amount] of way ?? []) gain[to.labels.indexOf(label)]![channel]! += amount * lift;
  });
  return gain;
}

/** Whether a matrix passes every channel on as it is. */
export function isIdentity(matrix: MixMatrix): boolean {
  return matrix.every(
    (row, to) => row.length === matrix.length && row.every((gain, from) => gain === (to === from ? 1 : 0)),
  );
}
