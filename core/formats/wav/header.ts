import type { ByteSource } from '@/core/audio/byteSource';
import { fileLayout, type FileLayout } from '@/core/audio/layout';
import { layoutFault, withFaults, type IntegrityFault } from '@/core/audio/integrity';
import { metadataOrNull } from '@/core/audio/metadata';
import {
  bytesPerSample,
  encodingName,
  F32,
  F64,
  S16,
  S24,
  S32,
  U8,
  type SampleEncoding,
} from '@/core/audio/pcm';
import type { AudioFormat } from '@/core/audio/reader';
import { fourCc, isAllChunks, viewOf, walkChunks, type ChunkStyle } from '../chunks';
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
import { WavMetadata } from './metadata';

const TAG_PCM = 1;
const TAG_FLOAT = 3;
const TAG_EXTENSIBLE = 0xfffe;
const UNKNOWN_SIZE = 0xffffffff;

/** What the header of a WAV, RF64 or BW64 file says. */
export interface WavHeader {
  readonly format: AudioFormat;
  readonly place: PcmPlace;
}

/** The chunks of a WAV, RF64 or BW64 file. */
const CHUNKS: ChunkStyle = { bigEndian: false, padded: true, wide: false };

/** Sub-formats of ambisonic B-format: how the eight bytes end that follow the codec. Source: WAVE_FORMAT_EXTENSIBLE, B-format. */
const B_FORMAT = [0x21, 0x07, 0xd3, 0x11, 0x86, 0x44, 0xc8, 0xc1, 0xca, 0x00, 0x00, 0x00];

interface FormatChunk {
  readonly encoding: SampleEncoding;
  readonly validBits: number;
  readonly sampleRate: number;
  readonly layout: FileLayout;
}

function encodingOf(tag: number, bits: number): SampleEncoding | null {
  const stored = Math.ceil(bits / 8) * 8;
  if (tag === TAG_FLOAT) return stored === 32 ? F32 : stored === 64 ? F64 : null;
  if (tag !== TAG_PCM) return null;
  return ({ 8: U8, 16: S16, 24: S24, 32: S32 } as const)[stored as 8 | 16 | 24 | 32] ?? null;
}

const CODEC_NAMES: Readonly<Record<number, string>> = {
  0x0002: 'ADPCM',
  0x0006: 'A-law',
  0x0007: 'µ-law',
  0x0011: 'ADPCM',
  0x0050: 'MPEG audio',
  0x0055: 'MP3',
};

function parseFormat(chunk: Uint8Array): FormatChunk {
  if (chunk.length < 16) {
    throw new AudioFileError('damagedHeader', 'The format part of the file is too short.', EXPORT_AGAIN);
  }
  const view = viewOf(chunk);
  let tag = view.getUint16(0, true);
  const channels = view.getUint16(2, true);
  const sampleRate = view.getUint32(4, true);
  const blockAlign = view.getUint16(12, true);
  const bits = view.getUint16(14, true);
  let validBits = bits;
  let mask = 0;
  if (tag === TAG_EXTENSIBLE && chunk.length >= 40) {
    validBits = view.getUint16(18, true) || bits;
    mask = view.getUint32(20, true);
    tag = view.getUint16(24, true);
    if (B_FORMAT.every((byte, i) => chunk[28 + i] === byte))
      throw new AudioFileError(
        'unsupportedCodec',
        'The file holds ambisonic B-format, whose channels are no loudspeaker signals: it has no loudness as it is.',
        'Decode it to a loudspeaker layout, then add that.',
      );
  }
  const encoding = encodingOf(tag, bits);
  if (!encoding) {
    const codec =
      CODEC_NAMES[tag] ??
      (tag === TAG_PCM || tag === TAG_FLOAT
        ? `${bits}-bit samples`
        : `codec 0x${tag.toString(16).padStart(4, '0')}`);
    throw new AudioFileError('unsupportedCodec', `The file holds ${codec}, which is not read yet.`, CONVERT);
  }
  checkSound(channels, sampleRate);
  if (blockAlign !== channels * bytesPerSample(encoding)) {
    throw new AudioFileError(
      'damagedHeader',
      `The header contradicts itself: ${channels} channels of ${bits} bits do not make ${blockAlign} bytes a frame.`,
      EXPORT_AGAIN,
    );
  }
  return {
    encoding,
    validBits: Math.min(validBits, encoding.bits),
    sampleRate,
    layout: fileLayout(channels, mask),
  };
}

/** A 32-bit size that is too large for it says what is left of it modulo this. */
const WRAPS_AT = 2 ** 32;

const WRAPPED: IntegrityFault = {
  kind: 'lengthUncertain',
  sentence:
    'The sound is longer than the 32-bit size that the file states: it was read to its end. Other programs may read only the first part.',
};

interface DataChunk {
  readonly offset: number;
  readonly size: number;
  readonly faults: readonly IntegrityFault[];
}

/** How much sound a data chunk holds, whatever its size field says. */
async function dataChunk(
  source: ByteSource,
  offset: number,
  size: number,
  size64: number | null,
): Promise<DataChunk> {
  const rest = source.size - offset;
  const said = size === UNKNOWN_SIZE && size64 !== null && size64 > 0 ? size64 : size;
  const fits = (bytes: number): Promise<boolean> =>
    isAllChunks(source, offset + bytes + (bytes % 2), CHUNKS).then(
      // A last pad byte may be left out.
      (all) => all || offset + bytes === source.size,
    );
  if (said === UNKNOWN_SIZE || (said === 0 && rest > 0 && !(await fits(0))))
    return { offset, size: rest, faults: [LENGTH_NOT_STATED] };
  if (said <= rest && !(await fits(said)))
    for (let bytes = said + WRAPS_AT; bytes <= rest; bytes += WRAPS_AT)
      if (await fits(bytes)) return { offset, size: bytes, faults: [WRAPPED] };
  return { offset, size: said, faults: [] };
}

/**
 * Reads the header of a WAV, RF64 or BW64 file, and what it says beside the sound.
 * @throws AudioFileError when the file is damaged beyond use, or holds something not read
 * Sources: RIFF/WAVE; EBU Tech 3285 (BWF); EBU Tech 3306 (RF64); ITU-R BS.2088 (BW64).
 */
export async function readWavHeader(source: ByteSource): Promise<WavHeader> {
  const riff = fourCc(await source.read(0, 4), 0);
  const container = riff === 'RIFF' ? 'WAV' : riff;
  const metadata = new WavMetadata();
  let sound: FormatChunk | null = null;
  let data: DataChunk | null = null;
  let size64: number | null = null;
  const more: IntegrityFault[] = [];
  const end = await walkChunks(source, 12, CHUNKS, async (chunk) => {
    const { id, offset, size } = chunk;
    if (id === 'ds64' && container !== 'WAV') {
      const ds64 = await source.read(offset, 24);
      if (ds64.length === 24) size64 = Number(viewOf(ds64).getBigUint64(8, true));
    } else if (id === 'fmt ') {
      sound ??= parseFormat(await source.read(offset, Math.min(size, 40)));
    } else if (id === 'data') {
      if (!sound) return null;
      data ??= await dataChunk(source, offset, size, size64);
      if (data.offset === offset) return data.size;
      more.push(secondSound(Math.min(size, source.size - offset)));
    } else await metadata.take(source, chunk);
    return size;
  });
  const found = sound as FormatChunk | null;
  const there = data as DataChunk | null;
  if (!found)
    throw new AudioFileError('damagedHeader', 'The file does not say how its sound is stored.', EXPORT_AGAIN);
  if (!there) throw new AudioFileError('noSound', 'The file has a header but no sound in it.', EXPORT_AGAIN);
  const { encoding, validBits, sampleRate, layout } = found;
  const stride = layout.layout.labels.length * bytesPerSample(encoding);
  const { frames, faults } = framesThere(there.size, source.size - there.offset, stride, sampleRate);
  return {
    format: {
      container,
      codec: encodingName(encoding, validBits),
      bitDepth: validBits,
      sampleRate,
      layout: layout.layout,
      frames,
      metadata: metadataOrNull(metadata.done()),
      ...withFaults(
        [
          ...there.faults,
          ...faults,
          ...more,
          ...endFaults(end, source.size, there.offset + there.size),
          ...(layout.assumed === null ? [] : [layoutFault(layout.assumed)]),
        ],
        metadata.warnings,
      ),
    },
    place: { encoding, dataOffset: there.offset },
  };
}
