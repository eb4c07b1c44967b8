import { programmeLayout } from '@/core/audio/layout';
import { wavFrame } from '@/core/formats/wav/write';
import type { WriteFormat } from '@/core/audio/pcm';
import type { Coder, Delivery, FileFormat, FileKind } from '@/core/programme/delivery';
import { programmeFrames, type Project } from '@/core/programme/model';

/** What is to be known of a kind of file. */
interface KindFacts {
  /** For people. */
  readonly name: string;
  /** How its samples can be stored; empty where they are coded with loss. */
  readonly depths: readonly WriteFormat[];
  /** Bit rates per file, where it is coded with loss. */
  readonly kbps: readonly number[];
  /** Most channels it holds here. */
  readonly mostChannels: number;
  /** Sample rates it takes, Hz; empty: any. */
  readonly rates: readonly number[];
  /** It has a place for the loudness that was measured. */
  readonly saysLoudness: boolean;
  /** It has places for texts. */
  readonly texts: boolean;
}

/** What codes sound with loss in a film's container, and what each takes. */
export const CODERS: Readonly<
  Record<Coder, Pick<KindFacts, 'name' | 'kbps' | 'mostChannels' | 'rates' | 'saysLoudness'>>
> = {
  opus: {
    ...{ name: 'Opus', kbps: [64, 96, 128, 160, 192, 256, 320], mostChannels: 2, rates: [48_000] },
    saysLoudness: false,
  },
  // Source: ETSI TS 102 366, clauses 4.4.1.3, 4.4.1.4; its dialnorm says the loudness.
  ac3: {
    ...{ name: 'AC-3', kbps: [192, 256, 320, 384, 448, 640], mostChannels: 6 },
    ...{ rates: [32_000, 44_100, 48_000], saysLoudness: true },
  },
};

/** What codes the sound of a film's container. */
export const coderOf = ({ coder }: FileFormat): Coder => coder ?? 'opus';

const OPUS_KBPS = CODERS.opus.kbps;
const INTEGERS = ['s16', 's24'] as const;
/** Plain samples in chunks, as the broadcast formats have them. */
const PLAIN = {
  ...{ depths: ['s16', 's24', 'f32'] as const, kbps: [], mostChannels: 32, rates: [] },
  ...{ saysLoudness: true, texts: true },
};
const FILM = {
  ...{ depths: INTEGERS, kbps: OPUS_KBPS, mostChannels: 8, rates: [], saysLoudness: false, texts: true },
};

/** The kinds of file that can be written. */
export const KINDS: Readonly<Record<FileKind, KindFacts>> = {
  wav: { ...PLAIN, name: 'WAV', saysLoudness: false, texts: false },
  bwf: { ...PLAIN, name: 'BWF' },
  rf64: { ...PLAIN, name: 'RF64' },
  bw64: { ...PLAIN, name: 'BW64' },
  aiff: { ...PLAIN, name: 'AIFF', saysLoudness: false },
  flac: { ...FILM, name: 'FLAC', kbps: [] },
  mp3: {
    ...{ name: 'MP3', depths: [], kbps: [128, 160, 192, 256, 320], mostChannels: 2, saysLoudness: false },
    ...{ rates: [32_000, 44_100, 48_000], texts: true },
  },
  opus: {
    ...{ name: 'Opus', depths: [], kbps: OPUS_KBPS, mostChannels: 2, rates: [48_000], saysLoudness: true },
    texts: true,
  },
  mov: { ...FILM, name: 'MOV, sound only' },
  mp4: { ...FILM, name: 'MP4, sound only' },
  mkv: { ...FILM, name: 'Matroska, sound only' },
};

export const DEPTH_NAMES: Readonly<Record<WriteFormat, string>> = {
  ...{ s16: '16-bit', s24: '24-bit', f32: 'float 32-bit' },
};

/** Whether its sound is coded with loss. */
export const isLossy = ({ kind, coded }: FileFormat): boolean =>
  KINDS[kind].depths.length === 0 || (KINDS[kind].kbps.length > 0 && coded);

/** Whether a container for films holds it, coded with loss. */
const isCodedFilm = (format: FileFormat): boolean => isLossy(format) && KINDS[format.kind].depths.length > 0;

/** Whether parts of such a file can be made apart and joined: its samples lie one after the other, and none depends on another. */
export const isCuttable = ({ kind, depth, dither }: FileFormat): boolean =>
  ['wav', 'bwf', 'rf64', 'bw64', 'aiff'].includes(kind) && !(dither && depth === 's16');

/** What holds of a format: where a film's container holds coded sound, what its coder takes. */
export const factsOf = (format: FileFormat): KindFacts => {
  const facts = KINDS[format.kind];
  return isCodedFilm(format) ? { ...facts, ...CODERS[coderOf(format)], name: facts.name } : facts;
};

/** A format in words: “WAV, 24-bit”, “MP3, 192 kbit/s”. */
export function formatWords(format: FileFormat): string {
  const { name, depths } = KINDS[format.kind];
  if (!isLossy(format))
    return `${name}, ${DEPTH_NAMES[format.depth]}${format.depth === 's16' && format.dither ? ', dithered' : ''}`;
  return `${name}${depths.length > 0 ? `, ${CODERS[coderOf(format)].name}` : ''}, ${format.kbps} kbit/s`;
}

/** The same of another kind: what that kind does not have gives way to the nearest that it has. */
export function asKind(format: FileFormat, kind: FileKind): FileFormat {
  const { depths, kbps } = KINDS[kind];
  return withRate({
    ...format,
    kind,
    depth: depths.length === 0 || depths.includes(format.depth) ? format.depth : 's24',
    coded: depths.length === 0 ? true : kbps.length > 0 && format.coded,
  });
}

/** A bit rate that every coder has. */
const USUAL_KBPS = 192;

/** With a bit rate that it can have. */
function withRate(format: FileFormat): FileFormat {
  const { kbps } = factsOf(format);
  return kbps.length === 0 || kbps.includes(format.kbps) ? format : { ...format, kbps: USUAL_KBPS };
}

/** The same coded by a coder in a film's container; `null`: in plain samples. */
export const codedBy = (format: FileFormat, coder: Coder | null): FileFormat =>
  withRate({ ...format, coded: coder !== null, ...(coder && { coder }) });

const MOST_AIFF = 4_294_000_000;

/** Why a delivery cannot be written in its format, a sentence with what to do; `null` when it can. */
export function formatFault(project: Project, delivery: Delivery): string | null {
  const { format } = delivery;
  const { mostChannels, rates } = factsOf(format);
  const name = isCodedFilm(format) ? CODERS[coderOf(format)].name : KINDS[format.kind].name;
  const layout = programmeLayout(delivery.layoutId ?? project.layoutId);
  const channels = layout.labels.length;
  const rate = delivery.sampleRate ?? project.sampleRate;
  if (channels > mostChannels)
    return `${name} holds ${mostChannels === 2 ? 'stereo' : `${mostChannels} channels`} at most here, and this has ${channels} channels: select another layout or format.`;
  if (rates.length > 0 && !rates.includes(rate))
    return `${name} cannot be written at ${rate.toLocaleString('en')} Hz: select ${rates.map((hz) => `${hz / 1000} kHz`).join(' or ')}.`;
  if (format.kind === 'aiff') {
    const seconds =
      programmeFrames(project) / project.sampleRate + delivery.headSeconds + delivery.tailSeconds;
    const width = format.depth === 's16' ? 2 : format.depth === 's24' ? 3 : 4;
    if (seconds * rate * channels * width > MOST_AIFF)
      return 'An AIFF file holds at most 4 GB, and this one would be larger: select RF64 or BW64.';
  }
  return null;
}

/** Whether a WAV file of this becomes RF64 because it is over 4 GB. */
export function becomesRf64(project: Project, delivery: Delivery, frames: number): boolean {
  const { kind, depth } = delivery.format;
  if (kind !== 'wav' && kind !== 'bwf') return false;
  const layout = programmeLayout(delivery.layoutId ?? project.layoutId);
  const { header } = wavFrame({ sampleRate: 48_000, layout, format: depth, frames });
  return header[1] === 'F'.charCodeAt(0);
}
