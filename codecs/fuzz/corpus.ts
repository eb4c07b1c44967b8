import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { layoutFor } from '@/core/audio/layout';
import { encodePcm, type WriteFormat } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';
import { noise } from '@/core/testing/signals';

/** A sound file to be damaged. */
export interface Specimen {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const RATE = 8_000;
const FRAMES = 1_200;

function wav(channels: number, format: WriteFormat): Uint8Array {
  const samples = Array.from({ length: channels }, (_, c) => noise(FRAMES, 0.4, c + 1));
  const { header, trailer } = wavFrame({
    sampleRate: RATE,
    layout: layoutFor(channels),
    format,
    frames: FRAMES,
  });
  return Uint8Array.from([...header, ...encodePcm(samples, FRAMES, format).bytes, ...trailer]);
}

const text = (value: string): number[] => [...value].map((char) => char.charCodeAt(0));
const little = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** i) % 256);
const big = (value: number, bytes: number): number[] => little(value, bytes).reverse();
const chunk = (id: string, body: readonly number[]): number[] => [
  ...text(id),
  ...little(body.length, 4),
  ...body,
  ...(body.length % 2 ? [0] : []),
];

/** A WAV file with chunks before and after its sound, of any of its sorts. */
function riff(
  id: string,
  format: readonly number[],
  data: readonly number[],
  ...others: number[][]
): Uint8Array {
  const body = [...text('WAVE'), ...others.flat(), ...chunk('fmt ', format), ...chunk('data', data)];
  return Uint8Array.from([...text(id), ...little(body.length, 4), ...body]);
}

const sound = (bytes: number): number[] => Array.from(noise(bytes, 100, 7), (x) => Math.round(x) & 255);

function wavFormat(tag: number, channels: number, bits: number): number[] {
  const block = (channels * bits) / 8;
  return [
    ...little(tag, 2),
    ...little(channels, 2),
    ...little(RATE, 4),
    ...little(RATE * block, 4),
    ...little(block, 2),
    ...little(bits, 2),
  ];
}

/** A broadcast description of version 2 with loudness. Source: EBU Tech 3285. */
const BEXT = [
  ...text('A night at the hut'.padEnd(256, '\0')),
  ...text('Frostline'.padEnd(32, '\0')),
  ...text('FL-1'.padEnd(32, '\0')),
  ...text('2026-01-3121:04:00'),
  ...little(48_000, 8),
  ...little(2, 2),
  ...Array.from({ length: 64 }, () => 0),
  ...little(63_236, 2),
  ...little(500, 2),
  ...little(65_436, 2),
  ...little(63_500, 2),
  ...little(63_300, 2),
  ...Array.from({ length: 180 }, () => 0),
  ...text('A=PCM,F=8000,W=16,M=mono\r\n'),
];
const CUE = [
  ...little(1, 4),
  ...little(1, 4),
  ...little(40, 4),
  ...text('data'),
  ...little(0, 8),
  ...little(40, 4),
];
const LABEL = [...text('adtl'), ...chunk('labl', [...little(1, 4), ...text('gust\0')])];
const IXML = text('<?xml version="1.0"?><BWFXML><NOTE>cold</NOTE></BWFXML>');

function rf64(): Uint8Array {
  const data = sound(2_000);
  const size64 = [
    ...little(2_100, 8),
    ...little(data.length, 8),
    ...little(data.length / 2, 8),
    ...little(0, 4),
  ];
  const file = riff('RF64', wavFormat(1, 1, 16), data, chunk('ds64', size64));
  file.fill(0xff, 4, 8);
  const at = file.length - data.length - 4;
  file.fill(0xff, at, at + 4);
  return file;
}

function aiff(kind: 'AIFF' | 'AIFC', compression: string, bits: number): Uint8Array {
  const data = sound((1_000 * bits) / 8);
  const rate = [0x40, 0x0b, 0xfa, 0, 0, 0, 0, 0, 0, 0];
  const common = [
    ...big(1, 2),
    ...big(1_000, 4),
    ...big(bits, 2),
    ...rate,
    ...(kind === 'AIFC' ? [...text(compression), 0, 0] : []),
  ];
  const part = (id: string, body: readonly number[]): number[] => [
    ...text(id),
    ...big(body.length, 4),
    ...body,
  ];
  const body = [...text(kind), ...part('COMM', common), ...part('SSND', [...big(0, 8), ...data])];
  return Uint8Array.from([...text('FORM'), ...big(body.length, 4), ...body]);
}

const fixture = (name: string): Specimen => ({
  name,
  bytes: readFileSync(join(import.meta.dirname, '../fixtures', name)),
});

/** Small files of every format. Those with plain samples take a thousandth of a second each. */
export function plainSpecimens(): Specimen[] {
  return [
    { name: 'mono 16-bit', bytes: wav(1, 's16') },
    { name: 'stereo 24-bit', bytes: wav(2, 's24') },
    { name: '5.1 float', bytes: wav(6, 'f32') },
    { name: '8-bit', bytes: riff('RIFF', wavFormat(1, 1, 8), sound(1_001)) },
    { name: 'float 64', bytes: riff('RIFF', wavFormat(3, 1, 64), sound(4_000)) },
    {
      name: 'broadcast',
      bytes: riff(
        'RIFF',
        wavFormat(1, 1, 16),
        sound(2_000),
        chunk('bext', BEXT),
        chunk('iXML', IXML),
        chunk('cue ', CUE),
        chunk('LIST', LABEL),
      ),
    },
    { name: 'RF64', bytes: rf64() },
    { name: 'AIFF', bytes: aiff('AIFF', '', 16) },
    { name: 'AIFF-C sowt', bytes: aiff('AIFC', 'sowt', 16) },
    { name: 'AIFF-C fl32', bytes: aiff('AIFC', 'fl32', 32) },
    fixture('blink.caf'),
  ];
}

/** Files in formats whose pages or frames have checksums. */
export const checkedSpecimens = (): Specimen[] =>
  ['pages.ogg', 'pages.opus', 'sound.flac', 'blink.ogg', 'blink.opus', 'blink.flac'].map(fixture);

export function compressedSpecimens(): Specimen[] {
  return [
    'blink.flac',
    'blink.mp3',
    'blink.ogg',
    'blink.opus',
    'blink.webm',
    'blink.mov',
    'blink.m4a',
    'blink.mp4',
    'blink.m2t',
    'blink.aac',
  ].map(fixture);
}
