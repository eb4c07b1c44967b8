/** How the channels of a signal stand in the room. */
export interface Layout {
  readonly id: string;
  /** For people: “stereo”, “5.1”. */
  readonly name: string;
  /** One label per channel, in file order. */
  readonly labels: readonly string[];
  /** Channel weights G_i. Source: ITU-R BS.1770-5, Annex 1, table 3, and Annex 3; LFE is left out (0). */
  readonly weights: readonly number[];
}

const SURROUND = 1.41;

function layout(
  id: string,
  name: string,
  channels: readonly (readonly [label: string, weight: number])[],
): Layout {
  return {
    id,
    name,
    labels: channels.map(([label]) => label),
    weights: channels.map(([, weight]) => weight),
  };
}

export const MONO = layout('mono', 'mono', [['M', 1]]);
export const STEREO = layout('stereo', 'stereo', [
  ['L', 1],
  ['R', 1],
]);
const LCR = layout('3.0', 'LCR', [
  ['L', 1],
  ['R', 1],
  ['C', 1],
]);
const QUAD = layout('4.0', 'quad', [
  ['L', 1],
  ['R', 1],
  ['Ls', SURROUND],
  ['Rs', SURROUND],
]);
export const SURROUND_5_0 = layout('5.0', '5.0', [
  ['L', 1],
  ['R', 1],
  ['C', 1],
  ['Ls', SURROUND],
  ['Rs', SURROUND],
]);
/** Rear loudspeakers stand beyond ±120°, those overhead higher than 30°: both weigh 1. */
const FIVE_ONE = [
  ['L', 1],
  ['R', 1],
  ['C', 1],
  ['LFE', 0],
  ['Ls', SURROUND],
  ['Rs', SURROUND],
] as const;
const SEVEN_ONE = [
  ['L', 1],
  ['R', 1],
  ['C', 1],
  ['LFE', 0],
  ['Lrs', 1],
  ['Rrs', 1],
  ['Lss', SURROUND],
  ['Rss', SURROUND],
] as const;
const OVERHEAD = [
  ['Ltf', 1],
  ['Rtf', 1],
  ['Ltr', 1],
  ['Rtr', 1],
] as const;
export const SURROUND_5_1 = layout('5.1', '5.1', FIVE_ONE);
const SURROUND_7_1 = layout('7.1', '7.1', SEVEN_ONE);
const SURROUND_5_1_4 = layout('5.1.4', '5.1.4', [...FIVE_ONE, ...OVERHEAD]);
const SURROUND_7_1_4 = layout('7.1.4', '7.1.4', [...SEVEN_ONE, ...OVERHEAD]);
/** In the order of ITU-R BS.2051 (system H); front left and right stand at ±60°. */
const SURROUND_22_2 = layout('22.2', '22.2', [
  ['FL', SURROUND],
  ['FR', SURROUND],
  ['FC', 1],
  ['LFE1', 0],
  ['BL', 1],
  ['BR', 1],
  ['FLc', 1],
  ['FRc', 1],
  ['BC', 1],
  ['LFE2', 0],
  ['SiL', SURROUND],
  ['SiR', SURROUND],
  ['TpFL', 1],
  ['TpFR', 1],
  ['TpFC', 1],
  ['TpC', 1],
  ['TpBL', 1],
  ['TpBR', 1],
  ['TpSiL', 1],
  ['TpSiR', 1],
  ['TpBC', 1],
  ['BtFC', 1],
  ['BtFL', 1],
  ['BtFR', 1],
]);
/** One channel that two loudspeakers will play: it counts twice, +3.01 dB. */
export const DUAL_MONO = layout('dual-mono', 'mono for two loudspeakers', [['M', 2]]);

/** The usual layout for so many channels. */
const BY_CHANNELS: readonly Layout[] = [
  MONO,
  STEREO,
  LCR,
  QUAD,
  SURROUND_5_0,
  SURROUND_5_1,
  SURROUND_7_1,
  SURROUND_5_1_4,
  SURROUND_7_1_4,
  SURROUND_22_2,
];

/** Layouts that can be declared for a sound whose file does not say, or says it wrongly. */
export const DECLARABLE: readonly Layout[] = [...BY_CHANNELS, DUAL_MONO];

/** The layouts a programme can have. */
export const PROGRAMME_LAYOUTS: readonly Layout[] = [
  MONO,
  STEREO,
  LCR,
  SURROUND_5_0,
  SURROUND_5_1,
  SURROUND_7_1,
  SURROUND_5_1_4,
  SURROUND_7_1_4,
];

/** Most channels that can be measured. */
export const MAX_CHANNELS = 32;

/** WAVE_FORMAT_EXTENSIBLE dwChannelMask bits, in file order, with the label this product uses. */
const MASK_BITS: readonly (readonly [bit: number, label: string, weight: number])[] = [
  [0x1, 'L', 1],
  [0x2, 'R', 1],
  [0x4, 'C', 1],
  [0x8, 'LFE', 0],
  [0x10, 'Ls', SURROUND],
  [0x20, 'Rs', SURROUND],
  [0x40, 'Lc', 1],
  [0x80, 'Rc', 1],
  [0x100, 'Cs', 1],
  [0x200, 'Ls', SURROUND],
  [0x400, 'Rs', SURROUND],
  [0x800, 'Tc', 1],
  [0x1000, 'Ltf', 1],
  [0x2000, 'Ctf', 1],
  [0x4000, 'Rtf', 1],
  [0x8000, 'Ltr', 1],
  [0x10000, 'Ctr', 1],
  [0x20000, 'Rtr', 1],
];
const MASK_BACK = 0x30;
const MASK_SIDE = 0x600;
/** With loudspeakers at the side as well, those called “back” stand beyond ±120°. */
const WITH_SIDES: Readonly<Record<number, readonly [label: string, weight: number]>> = {
  0x10: ['Lrs', 1],
  0x20: ['Rrs', 1],
  0x200: ['Lss', SURROUND],
  0x400: ['Rss', SURROUND],
};

/** dwChannelMask bits by label. Surround is said to be at the back, as is usual, or else at the side. */
const BACK_BITS: Readonly<Record<string, number>> = {
  ...Object.fromEntries(MASK_BITS.map(([bit, label]) => [label, bit])),
  M: 0x4,
  Ls: 0x10,
  Rs: 0x20,
  ...Object.fromEntries(Object.entries(WITH_SIDES).map(([bit, [label]]) => [label, Number(bit)])),
};
const SIDE_BITS: Readonly<Record<string, number>> = { ...BACK_BITS, Ls: 0x200, Rs: 0x400 };

/** How the channels of a layout lie in a WAV file. */
export interface WavChannels {
  /** dwChannelMask; 0 where it has no words for the layout. */
  readonly mask: number;
  /** The layout's channels in the order of the file. */
  readonly order: readonly number[];
  /** The layout as the file has it. */
  readonly layout: Layout;
}

/** The channels of a layout in the order in which a WAV file has them, which is that of the bits of its mask. */
export function wavChannels(layout: Layout): WavChannels {
  const { labels } = layout;
  const ascending = (bits: readonly number[]): boolean =>
    bits.every((bit, i) => i === 0 || bits[i - 1]! < bit);
  const [back, side] = [BACK_BITS, SIDE_BITS].map((of) => labels.map((label) => of[label] ?? 0));
  const bits = ascending(back!) || !ascending(side!) ? back! : side!;
  const known = bits.every((bit) => bit > 0) && new Set(bits).size === bits.length;
  if (!known) return { mask: 0, order: labels.map((_, i) => i), layout };
  const order = labels.map((_, i) => i).sort((a, b) => bits[a]! - bits[b]!);
  return {
    mask: bits.reduce((a, b) => a | b, 0),
    order,
    layout: ascending(bits) ? layout : layoutOf(order.map((i) => [labels[i]!, layout.weights[i]!])),
  };
}

/** Whether a WAV file with its mask says of itself that it has this layout. */
export function saidByWav(layout: Layout): boolean {
  const { mask, layout: written } = wavChannels(layout);
  const read = layoutFor(layout.labels.length, mask);
  return read.labels.join() === written.labels.join() && read.weights.join() === written.weights.join();
}

/** Channels of which nothing is known: each weighs 1. */
const discrete = (channels: number): Layout =>
  layout(
    'discrete',
    `${channels} channels`,
    Array.from({ length: channels }, (_, i) => [String(i + 1), 1]),
  );

/** A layout from labels in file order, one of the known ones if they agree. */
export function layoutOf(channels: readonly (readonly [label: string, weight: number])[]): Layout {
  const found = layout('mask', `${channels.length} channels`, channels);
  return BY_CHANNELS.find((known) => known.labels.join() === found.labels.join()) ?? found;
}

/**
 * The layout of a file.
 * @param channels 1 to {@link MAX_CHANNELS}
 * @param mask dwChannelMask of the file, 0 when it gives none: then the usual layout for that many channels
 */
export function layoutFor(channels: number, mask = 0): Layout {
  if (channels === 1) return MONO;
  const named = MASK_BITS.filter(([bit]) => (mask & bit) !== 0);
  if (named.length === channels) {
    const sides = (mask & MASK_BACK) !== 0 && (mask & MASK_SIDE) !== 0;
    return layoutOf(named.map(([bit, label, weight]) => (sides && WITH_SIDES[bit]) || [label, weight]));
  }
  return BY_CHANNELS.find((usual) => usual.labels.length === channels) ?? discrete(channels);
}

const KNOWN_BITS = MASK_BITS.reduce((all, [bit]) => all | bit, 0);
/** How many loudspeakers a mask names. */
const namedBy = (mask: number): number => MASK_BITS.filter(([bit]) => (mask & bit) !== 0).length;
/** A single channel can only be one of these: front left, right or centre. */
const ONE_FRONT = 0x7;

/** The layout of a file, and why it is not certain: a full sentence, or `null`. */
export interface FileLayout {
  readonly layout: Layout;
  readonly assumed: string | null;
}

/**
 * The layout of a file by its channel mask. What the mask does not say, or says of another number of channels, is assumed, and
 * that is said.
 * @param channels 1 to {@link MAX_CHANNELS}
 * @param mask dwChannelMask of the file; 0 where it gives none
 */
export function fileLayout(channels: number, mask = 0): FileLayout {
  const layout = layoutFor(channels, mask);
  const taken = `they were taken as ${layout.name} (${layout.labels.join(' ')})`;
  const said = namedBy(mask);
  if (mask === 0)
    return {
      layout,
      assumed:
        channels > 2
          ? `The file does not say what its ${channels} channels are: ${taken}. Declare the layout.`
          : null,
    };
  if (channels === 1)
    return {
      layout,
      assumed:
        said === 1 && (mask & ONE_FRONT) !== 0
          ? null
          : 'The file says that its one channel is not a front channel: it was measured as mono. Declare the layout.',
    };
  // Loudspeakers that the mask names beyond those known here count as well.
  return {
    layout,
    assumed:
      said === channels && (mask & ~KNOWN_BITS) === 0
        ? null
        : `The file has ${channels} channels, and its channel mask names ${said} loudspeakers: ${taken}. Declare the layout.`,
  };
}

/**
 * The layout somebody declares.
 * @returns `null` when there is none of that id, or it has another number of channels
 */
export function declaredLayout(id: string, channels: number): Layout | null {
  const found = DECLARABLE.find((candidate) => candidate.id === id);
  return found?.labels.length === channels ? found : null;
}

/** A layout the programme can have, by its id. */
export function programmeLayout(id: string): Layout {
  const found = PROGRAMME_LAYOUTS.find((candidate) => candidate.id === id);
  if (!found) throw new RangeError(`Not a programme layout: ${id}`);
  return found;
}
