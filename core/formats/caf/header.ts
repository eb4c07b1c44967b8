import type { ByteSource } from '@/core/audio/byteSource';
import { layoutFault, withFaults, type IntegrityFault } from '@/core/audio/integrity';
import { fileLayout, layoutOf, type Layout } from '@/core/audio/layout';
import { bytesPerSample, encodingName, type SampleEncoding } from '@/core/audio/pcm';
import type { AudioFormat } from '@/core/audio/reader';
import { fourCc, viewOf, walkChunks } from '../chunks';
import { AudioFileError } from '../errors';
import {
  checkSound,
  CONVERT,
  endFaults,
  EXPORT_AGAIN,
  framesThere,
  LENGTH_NOT_STATED,
  secondSound,
} from '../limits';
import type { PcmPlace } from '../pcmReader';

const FLAG_FLOAT = 1;
const FLAG_LITTLE_ENDIAN = 2;
const LAYOUT_BY_BITMAP = 0x10000;

const L = ['L', 1] as const;
const R = ['R', 1] as const;
const C = ['C', 1] as const;
const LFE = ['LFE', 0] as const;
const LS = ['Ls', 1.41] as const;
const RS = ['Rs', 1.41] as const;

/** Channel orders of the layout tags that name 5.0 and 5.1. Source: Core Audio Format, channel layout tags. */
const TAGGED: Readonly<Record<number, Layout>> = {
  [(117 << 16) | 5]: layoutOf([L, R, C, LS, RS]),
  [(121 << 16) | 6]: layoutOf([L, R, C, LFE, LS, RS]),
  [(122 << 16) | 6]: layoutOf([L, R, LS, RS, C, LFE]),
  [(123 << 16) | 6]: layoutOf([L, C, R, LS, RS, LFE]),
  [(124 << 16) | 6]: layoutOf([C, L, R, LS, RS, LFE]),
};

interface Description {
  readonly codec: string;
  readonly channels: number;
  readonly sampleRate: number;
  readonly bits: number;
  readonly encoding: SampleEncoding | null;
}

function readDescription(bytes: Uint8Array): Description {
  if (bytes.length < 32)
    throw new AudioFileError('damagedHeader', 'The format part of the file is too short.', EXPORT_AGAIN);
  const view = viewOf(bytes);
  const flags = view.getUint32(12);
  const packet = view.getUint32(16);
  const channels = view.getUint32(24);
  const bits = view.getUint32(28);
  const stored = channels > 0 ? (packet / channels) * 8 : 0;
  const float = (flags & FLAG_FLOAT) !== 0;
  const known = float ? stored === 32 || stored === 64 : [8, 16, 24, 32].includes(stored);
  return {
    codec: fourCc(bytes, 8),
    channels,
    sampleRate: view.getFloat64(0),
    bits,
    encoding: known
      ? {
          kind: float ? 'float' : 'signed',
          bits: stored as SampleEncoding['bits'],
          bigEndian: (flags & FLAG_LITTLE_ENDIAN) === 0,
        }
      : null,
  };
}

/**
 * Reads the header of a Core Audio Format file with plain samples.
 * @throws AudioFileError when the file is damaged beyond use, or holds something not read
 * Source: Core Audio Format specification 1.0.
 */
export async function readCafHeader(source: ByteSource): Promise<{ format: AudioFormat; place: PcmPlace }> {
  let description: Description | null = null;
  let sound: { offset: number; size: number } | null = null;
  let tag = 0;
  let bitmap = 0;
  const more: IntegrityFault[] = [];
  const end = await walkChunks(
    source,
    8,
    { bigEndian: true, padded: false, wide: true },
    async ({ id, offset, size }) => {
      if (id === 'desc') description = readDescription(await source.read(offset, 32));
      else if (id === 'chan') {
        const bytes = await source.read(offset, 12);
        if (bytes.length === 12) {
          tag = viewOf(bytes).getUint32(0);
          bitmap = viewOf(bytes).getUint32(4);
        }
      } else if (id === 'data' && !sound) {
        // The sound follows a count of edits; a size of −1 means up to the end.
        sound = { offset: offset + 4, size: size < 0 ? -1 : Math.max(0, size - 4) };
        return size < 0 ? null : size;
      } else if (id === 'data') more.push(secondSound(Math.min(size, source.size - offset)));
      return size;
    },
  );
  const said = description as Description | null;
  const there = sound as { offset: number; size: number } | null;
  if (!said)
    throw new AudioFileError('damagedHeader', 'The file does not say how its sound is stored.', EXPORT_AGAIN);
  if (said.codec !== 'lpcm' || !said.encoding) {
    const what = said.codec === 'lpcm' ? `${said.bits}-bit samples` : `the codec “${said.codec.trim()}”`;
    throw new AudioFileError('unsupportedCodec', `The file holds ${what}, which is not read.`, CONVERT);
  }
  if (!there) throw new AudioFileError('noSound', 'The file has a header but no sound in it.', EXPORT_AGAIN);
  checkSound(said.channels, said.sampleRate);
  const { encoding, sampleRate, channels } = said;
  const stride = channels * bytesPerSample(encoding);
  const rest = source.size - there.offset;
  const unknown = there.size < 0;
  const { frames, faults } = framesThere(unknown ? rest : there.size, rest, stride, sampleRate);
  const validBits =
    encoding.kind === 'float' ? encoding.bits : Math.min(said.bits || encoding.bits, encoding.bits);
  const tagged = TAGGED[tag];
  const layout =
    tagged?.labels.length === channels
      ? { layout: tagged, assumed: null }
      : fileLayout(channels, tag === LAYOUT_BY_BITMAP ? bitmap : 0);
  return {
    format: {
      container: 'CAF',
      codec: encodingName(encoding, validBits),
      bitDepth: validBits,
      sampleRate,
      layout: layout.layout,
      frames,
      metadata: null,
      ...withFaults([
        ...(unknown ? [LENGTH_NOT_STATED] : []),
        ...faults,
        ...more,
        ...endFaults(end, source.size, there.offset + there.size),
        ...(layout.assumed === null ? [] : [layoutFault(layout.assumed)]),
      ]),
    },
    place: { encoding, dataOffset: there.offset },
  };
}
