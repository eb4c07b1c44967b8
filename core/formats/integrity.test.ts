import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bytesSource, type ByteSource } from '@/core/audio/byteSource';
import { fileLayout, STEREO } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import { checkFile } from '@/core/check/fileCheck';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import { EBU_R128 } from '@/core/check/shipped';
import { withNotFinite, type IntegrityKind } from '@/core/audio/integrity';
import { measureReader } from '@/core/loudness/measureReader';
import { tones } from '@/core/testing/signals';
import { writeAiff } from './testing/aiff';
import { openPcm } from './openPcm';
import { wavFrame } from './wav/write';

const RATE = 48_000;
const SECONDS = 2;
const FRAMES = RATE * SECONDS;
const sound = tones([{ dbfs: -23, seconds: SECONDS }], RATE);
const { bytes: samples } = encodePcm(sound, FRAMES, 's16');
const { header, trailer } = wavFrame({ sampleRate: RATE, layout: STEREO, format: 's16', frames: FRAMES });
const HEADER = header.length;
const wav = new Uint8Array([...header, ...samples, ...trailer]);

const join = (...parts: (Uint8Array | readonly number[])[]): Uint8Array => {
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
};
const chunk = (id: string, content: Uint8Array | readonly number[]): Uint8Array =>
  join(
    [...id].map((char) => char.charCodeAt(0)),
    [content.length & 255, (content.length >> 8) & 255, (content.length >> 16) & 255, content.length >>> 24],
    content,
    content.length % 2 ? [0] : [],
  );
/** The file with another size of its sound written into it. */
function saying(bytes: number, file = wav): Uint8Array {
  const copy = file.slice();
  new DataView(copy.buffer).setUint32(HEADER - 4, bytes, true);
  return copy;
}

const kindsOf = async (source: ByteSource): Promise<IntegrityKind[]> =>
  (await openPcm(source)).format.integrity.map(({ kind }) => kind);

/** What a check says of a file. */
async function checked(file: Uint8Array) {
  const reader = await openPcm(bytesSource(file));
  const measured = (await measureReader(reader, () => true))!;
  const format = withNotFinite(reader.format, measured.notFinite);
  return checkFile(fileMaterial(measured, format, null), [EBU_R128], USUAL_THRESHOLDS);
}

describe('a file of which something is missing, ignored or uncertain is not certified', () => {
  const withSample = (value: number): Uint8Array => {
    const float = tones([{ dbfs: -23, seconds: SECONDS }], RATE);
    float[0]![RATE] = value;
    const frame = wavFrame({ sampleRate: RATE, layout: STEREO, format: 'f32', frames: FRAMES });
    return join(frame.header, encodePcm(float, FRAMES, 'f32').bytes, frame.trailer);
  };
  it.each<[string, Uint8Array, IntegrityKind]>([
    ['cut off', wav.slice(0, HEADER + samples.length / 2), 'truncated'],
    ['said to be 50 times as long', saying(samples.length * 50), 'truncated'],
    ['with more sound than it says', saying(samples.length / 2), 'unread'],
    ['with a second part of sound', join(wav, chunk('data', samples)), 'unread'],
    ['with bytes behind its chunks', join(wav, [1, 2, 3, 4, 5, 6, 7, 8, 9, 10]), 'unread'],
    ['with a chunk that is cut off', join(wav, chunk('LIST', new Uint8Array(64)).slice(0, 40)), 'truncated'],
    ['that does not say how long it is', saying(0xffffffff), 'lengthUncertain'],
    ['with a sample that is not a number', withSample(NaN), 'notFinite'],
    ['with an infinite sample', withSample(-Infinity), 'notFinite'],
    ['with a sample beyond all bounds', withSample(1e38), 'notFinite'],
  ])('%s', async (_, file, kind) => {
    const { verdicts, findings } = await checked(file);
    expect(verdicts[0]).toMatchObject({ outcome: 'notWhole', meets: null });
    expect(verdicts[0]!.integrity.map((fault) => fault.kind)).toContain(kind);
    expect(findings.filter((one) => one.kind === 'integrity' && one.weight === 'breaks')).not.toEqual([]);
  });

  it('and one that is whole is, whatever chunks stand around its sound', async () => {
    const files = [wav, join(wav, chunk('LIST', [1, 2, 3])), join(wav, chunk('iXML', [32]))];
    // Without the pad byte of its last chunk, which some writers leave out.
    files.push(files[1]!.slice(0, -1));
    for (const file of files) expect((await checked(file)).verdicts[0]!.outcome).toBe('meets');
  });
});

describe('header, chunks and sound are the whole of a file, or what is left is said', () => {
  const whole = wav.slice(0, HEADER + 4_000);
  new DataView(whole.buffer).setUint32(HEADER - 4, 4_000, true);

  it('of WAV, however long the sound is said to be and whatever follows it', () =>
    fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 4, max: 9_000 }),
        fc.uint8Array({ maxLength: 40 }),
        fc.boolean(),
        async (said, rest, asChunk) => {
          const file = join(saying(said, whole), asChunk ? chunk('junk', rest) : rest);
          const { format } = await openPcm(bytesSource(file));
          const exact = said === 4_000 && (asChunk || rest.length === 0);
          if (exact) expect(format.integrity).toEqual([]);
          else if (said !== 4_000) expect(format.integrity.length).toBeGreaterThan(0);
        },
      ),
    ));

  it('of AIFF, where frames and bytes contradict each other, and where the file goes on', async () => {
    const aiff = writeAiff(sound, RATE);
    expect(await kindsOf(bytesSource(aiff.bytes))).toEqual([]);
    expect(await kindsOf(bytesSource(join(aiff.bytes, [1, 2, 3])))).toEqual(['unread']);
    const fewer = aiff.bytes.slice();
    new DataView(fewer.buffer).setUint32(aiff.framesAt, FRAMES / 2);
    expect(await kindsOf(bytesSource(fewer))).toContain('lengthUncertain');
    const more = aiff.bytes.slice();
    new DataView(more.buffer).setUint32(aiff.framesAt, FRAMES * 3);
    expect(await kindsOf(bytesSource(more))).toContain('truncated');
  });

  it('reads a WAV file whose 32-bit size has overflowed to its end, and says so', async () => {
    // 6 GB of which only the head and the tail are there; what lies between is silence.
    const size = 6e9 - (6e9 % 4);
    const head = saying(size % 2 ** 32);
    const source: ByteSource = {
      size: HEADER + size,
      read: (offset, length) => {
        const bytes = new Uint8Array(Math.max(0, Math.min(length, HEADER + size - offset)));
        if (offset < HEADER) bytes.set(head.subarray(offset, Math.min(HEADER, offset + bytes.length)));
        return Promise.resolve(bytes);
      },
    };
    const { format } = await openPcm(source);
    expect(format.frames).toBe(size / 4);
    expect(format.integrity.map(({ kind }) => kind)).toEqual(['lengthUncertain']);
  });
});

describe('what a file does not say of its channels is assumed, and that is said', () => {
  it.each([
    [1, 0, false],
    [2, 0, false],
    [6, 0, true],
    [6, 0x3f, false],
    [6, 0x60f, false],
    [6, 0x3, true],
    [8, 0x3, true],
    [2, 0x3f, true],
    [1, 0x4, false],
    [1, 0x8, true],
    [1, 0x10, true],
    [2, 0x80000003, true],
  ])('%i channels with mask %i', (channels, mask, assumed) => {
    expect(fileLayout(channels, mask).assumed !== null).toBe(assumed);
  });
});
