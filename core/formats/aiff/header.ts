import type { ByteSource } from '@/core/audio/byteSource';
import { layoutFault, withFaults, type IntegrityFault } from '@/core/audio/integrity';
import { fileLayout } from '@/core/audio/layout';
import { metadataOrNull, NO_METADATA, type Marker } from '@/core/audio/metadata';
import { bytesPerSample, encodingName, type SampleEncoding } from '@/core/audio/pcm';
import type { AudioFormat } from '@/core/audio/reader';
import { fourCc, textIn, viewOf, walkChunks } from '../chunks';
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

const MOST_MARKERS = 10_000;

/** An 80-bit IEEE 754 extended number, as AIFF stores its sample rate. */
function extended(view: DataView, offset: number): number {
  const exponent = view.getUint16(offset) & 0x7fff;
  const mantissa = view.getUint32(offset + 2) * 2 ** 32 + view.getUint32(offset + 6);
  return mantissa * 2 ** (exponent - 16383 - 63);
}

/** How samples are stored, by compression type; `null` when not plain samples. */
function encodingOf(compression: string, bits: number): SampleEncoding | null {
  const stored = Math.ceil(bits / 8) * 8;
  const integer = (bigEndian: boolean): SampleEncoding | null =>
    stored === 8 || stored === 16 || stored === 24 || stored === 32
      ? { kind: 'signed', bits: stored, bigEndian }
      : null;
  switch (compression) {
    case 'NONE':
    case 'twos':
      return integer(true);
    case 'in24':
      return { kind: 'signed', bits: 24, bigEndian: true };
    case 'in32':
      return { kind: 'signed', bits: 32, bigEndian: true };
    case 'sowt':
      return integer(false);
    case 'raw ':
      return { kind: 'unsigned', bits: 8, bigEndian: true };
    case 'fl32':
    case 'FL32':
      return { kind: 'float', bits: 32, bigEndian: true };
    case 'fl64':
    case 'FL64':
      return { kind: 'float', bits: 64, bigEndian: true };
    default:
      return null;
  }
}

interface Common {
  readonly channels: number;
  readonly frames: number;
  readonly bits: number;
  readonly sampleRate: number;
  readonly compression: string;
}

function readCommon(bytes: Uint8Array, compressed: boolean): Common {
  if (bytes.length < (compressed ? 22 : 18)) {
    throw new AudioFileError('damagedHeader', 'The format part of the file is too short.', EXPORT_AGAIN);
  }
  const view = viewOf(bytes);
  return {
    channels: view.getUint16(0),
    frames: view.getUint32(2),
    bits: view.getUint16(6),
    sampleRate: Math.round(extended(view, 8)),
    compression: compressed ? fourCc(bytes, 18) : 'NONE',
  };
}

function readMarkers(bytes: Uint8Array): Marker[] {
  const markers: Marker[] = [];
  if (bytes.length < 2) return markers;
  const view = viewOf(bytes);
  const count = Math.min(view.getUint16(0), MOST_MARKERS);
  for (let i = 0, at = 2; i < count && at + 7 <= bytes.length; i++) {
    const length = bytes[at + 6]!;
    const label = textIn(bytes, at + 7, length);
    markers.push({ frame: view.getUint32(at + 2), label: label ?? `Marker ${view.getUint16(at)}` });
    // The name is a counted string, padded to an even length with its count.
    at += 7 + length + ((length + 1) % 2);
  }
  return markers.sort((a, b) => a.frame - b.frame);
}

/**
 * Reads the header of an AIFF or AIFF-C file.
 * @throws AudioFileError when the file is damaged beyond use, or holds something not read
 * Source: Audio Interchange File Format, and its extension AIFF-C.
 */
export async function readAiffHeader(source: ByteSource): Promise<{ format: AudioFormat; place: PcmPlace }> {
  const compressed = fourCc(await source.read(8, 4), 0) === 'AIFC';
  let common: Common | null = null;
  let sound: { offset: number; size: number } | null = null;
  let metadata = NO_METADATA;
  const more: IntegrityFault[] = [];
  const end = await walkChunks(
    source,
    12,
    { bigEndian: true, padded: true, wide: false },
    async ({ id, offset, size }) => {
      if (id === 'COMM') common = readCommon(await source.read(offset, Math.min(size, 64)), compressed);
      else if (id === 'SSND' && !sound) {
        const head = await source.read(offset, 8);
        const skip = head.length === 8 ? viewOf(head).getUint32(0) : 0;
        sound = { offset: offset + 8 + skip, size: Math.max(0, size - 8 - skip) };
      } else if (id === 'SSND') {
        more.push(secondSound(Math.min(size, source.size - offset)));
      } else if (id === 'MARK') {
        metadata = { ...metadata, markers: readMarkers(await source.read(offset, Math.min(size, 1 << 20))) };
      } else if (id === 'NAME' || id === 'ANNO' || id === 'AUTH') {
        const text = textIn(await source.read(offset, Math.min(size, 4096)), 0, 4096);
        metadata =
          id === 'AUTH'
            ? { ...metadata, originator: text }
            : { ...metadata, description: metadata.description ?? text };
      }
      return size;
    },
  );
  const said = common as Common | null;
  const there = sound as { offset: number; size: number } | null;
  if (!said)
    throw new AudioFileError('damagedHeader', 'The file does not say how its sound is stored.', EXPORT_AGAIN);
  if (!there) throw new AudioFileError('noSound', 'The file has a header but no sound in it.', EXPORT_AGAIN);
  const encoding = encodingOf(said.compression, said.bits);
  if (!encoding) {
    const what =
      said.compression === 'NONE' ? `${said.bits}-bit samples` : `the codec “${said.compression.trim()}”`;
    throw new AudioFileError('unsupportedCodec', `The file holds ${what}, which is not read.`, CONVERT);
  }
  checkSound(said.channels, said.sampleRate);
  const stride = said.channels * bytesPerSample(encoding);
  // Writers that stream leave the counts at zero.
  const unknown = said.frames === 0 || there.size === 0;
  const rest = source.size - there.offset;
  const stated = said.frames * stride;
  const { frames, faults } = framesThere(unknown ? rest : stated, rest, stride, said.sampleRate);
  // The sound is as long as its frames; what the chunk holds besides is padding at most.
  if (!unknown && there.size !== stated && there.size !== stated + (stated % 2))
    more.push({
      kind: 'lengthUncertain',
      sentence: `The file contradicts itself: ${said.frames.toLocaleString('en')} frames are ${stated.toLocaleString('en')} bytes, and its sound is said to have ${there.size.toLocaleString('en')}.`,
    });
  const layout = fileLayout(said.channels);
  const validBits =
    encoding.kind === 'float' ? encoding.bits : Math.min(said.bits || encoding.bits, encoding.bits);
  return {
    format: {
      container: compressed ? 'AIFF-C' : 'AIFF',
      codec: encodingName(encoding, validBits),
      bitDepth: validBits,
      sampleRate: said.sampleRate,
      layout: layout.layout,
      frames,
      metadata: metadataOrNull(metadata),
      ...withFaults([
        ...(unknown ? [LENGTH_NOT_STATED] : []),
        ...faults,
        ...more,
        ...(unknown ? [] : endFaults(end, source.size, there.offset + Math.max(stated, there.size))),
        ...(layout.assumed === null ? [] : [layoutFault(layout.assumed)]),
      ]),
    },
    place: { encoding, dataOffset: there.offset },
  };
}
