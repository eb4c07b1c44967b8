import { fourCc } from './chunks';

/** Kinds of file that are told apart by their first bytes; their names say nothing. */
export type FileKind =
  'wav' | 'rifx' | 'aiff' | 'caf' | 'flac' | 'ogg' | 'mp3' | 'aac' | 'mp4' | 'matroska' | 'mpegTs';

/** How each is called. */
export const KIND_NAMES: Readonly<Record<FileKind, string>> = {
  wav: 'WAV',
  rifx: 'big-endian WAV (RIFX)',
  aiff: 'AIFF',
  caf: 'CAF',
  flac: 'FLAC',
  ogg: 'Ogg',
  mp3: 'MP3',
  aac: 'AAC (ADTS)',
  mp4: 'MP4 or MOV',
  matroska: 'Matroska or WebM',
  mpegTs: 'MPEG transport stream',
};

/** Bytes that {@link probe} wants to see. */
export const PROBE_BYTES = 600;

const TS_PACKET = 188;

/** Boxes that an MP4 or MOV file can begin with. */
const MP4_STARTS = ['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip', 'pnot'];

/** Tells what kind of file these first bytes belong to; `null` when none that is known. */
export function probe(head: Uint8Array): FileKind | null {
  const start = fourCc(head, 0);
  const form = fourCc(head, 8);
  if (['RIFF', 'RF64', 'BW64'].includes(start) && form === 'WAVE') return 'wav';
  if (start === 'RIFX') return 'rifx';
  if (start === 'FORM' && (form === 'AIFF' || form === 'AIFC')) return 'aiff';
  if (start === 'caff') return 'caf';
  if (start === 'fLaC') return 'flac';
  if (start === 'OggS') return 'ogg';
  if (MP4_STARTS.includes(fourCc(head, 4))) return 'mp4';
  if (head[0] === 0x1a && head[1] === 0x45 && head[2] === 0xdf && head[3] === 0xa3) return 'matroska';
  for (const at of [0, 4]) {
    // Transport streams have a mark every 188 bytes; those of some cameras put 4 bytes before each packet.
    const step = TS_PACKET + at;
    if ([0, 1, 2].every((n) => head[at + n * step] === 0x47)) return 'mpegTs';
  }
  if (start.startsWith('ID3')) return 'mp3';
  if (head[0] === 0xff && ((head[1] ?? 0) & 0xf6) === 0xf0) return 'aac';
  // A frame header that could exist: layer, bit rate and sample rate not among the values kept free.
  const [, second = 0, third = 0] = head;
  if (head[0] === 0xff && (second & 0xe0) === 0xe0 && (second & 0x18) !== 0x08 && (second & 6) !== 0)
    if ((third & 0xf0) !== 0xf0 && (third & 0x0c) !== 0x0c) return 'mp3';
  return null;
}
