import { zipSync } from 'fflate';
import { bytesSource } from '@/core/audio/byteSource';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { readTargets, writeTargets } from '@/core/check/targetFile';
import { readRecords } from '@/core/deliver/handedRecords';
import { isReceipt } from '@/core/deliver/receipt';
import { readDeliveries, writeDeliveries } from '@/core/deliver/deliverySet';
import { AudioFileError } from '@/core/formats/errors';
import { speechFromSubtitles } from '@/core/formats/subtitles';
import { plainDelivery } from '@/core/programme/delivery';
import { clipEnd, programmeFrames } from '@/core/programme/model';
import { ProjectFormatError, readProject } from '@/core/programme/migrations';
import { MANIFEST, PackError, PROJECT } from '@/core/programme/pack';
import { SPEECH_FIRST } from '@/core/programme/plan';
import { parsePlace } from '@/core/programme/timeText';
import { readPlan, writePlan } from '@/core/proposals/planFile';
import { readRecipients, writeRecipients } from '@/core/recipients/recipient';
import { SHIPPED_RECIPIENTS } from '@/core/recipients/shipped';
import { doStep, startHistory } from '@/core/programme/history';
import { testClip, testProject } from '@/core/testing/projects';
import { readPack } from '../pack/readPack';
import { HANG_MS } from './attempt';
import { Dice, mutate } from './mutate';

type Fate = 'read' | 'refused';

/** Something that is read from outside, besides sound and cuts. */
interface TextReader {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** @throws what must not happen */
  readonly read: (bytes: Uint8Array) => Fate | Promise<Fate>;
}

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** A reader that answers with a sentence where it refuses. */
const answering = (name: string, text: string, read: (text: string) => unknown): TextReader => ({
  name,
  bytes: encoder.encode(text),
  read(bytes) {
    const found = read(decoder.decode(bytes)) as { readonly error?: unknown };
    // What is read passes between workers and into storage.
    structuredClone(found);
    if (typeof found === 'object' && 'error' in found) {
      if (typeof found.error !== 'string' || !/\S/.test(found.error))
        throw new Error('refused without a reason');
      return 'refused';
    }
    return 'read';
  },
});

const clips = [
  testClip({ id: 'a', start: 0, length: 48_000 }),
  testClip({ id: 'b', start: 60_000, length: 9_000 }),
];
const history = doStep(startHistory({ ...testProject(clips), name: 'Frostline' }), 'Rename', (project) => ({
  ...project,
  name: 'Frostline 2',
}));
const stored = { project: history.project, past: history.past, future: history.future };

/** All readers of what comes from outside, each with something whole. */
export const textReaders = (): readonly TextReader[] => [
  {
    name: 'project',
    bytes: encoder.encode(JSON.stringify(stored)),
    read(bytes) {
      try {
        const { project, past } = readProject(JSON.parse(decoder.decode(bytes)));
        structuredClone({ project, past });
        if (![programmeFrames(project), ...project.clips.map(clipEnd)].every(Number.isFinite))
          throw new Error('a time is no number');
        return 'read';
      } catch (error) {
        if (error instanceof SyntaxError || error instanceof ProjectFormatError) return 'refused';
        throw error;
      }
    },
  },
  {
    name: 'project file',
    bytes: zipSync(
      {
        [MANIFEST]: encoder.encode(
          JSON.stringify({
            ...{
              format: 'dengung-project-1',
              software: 'Dengung 1',
              made: '2026-01-31 21:04:00',
              name: 'Reel',
            },
            sounds: [
              { audioKey: 'k', name: 'a.wav', bytes: 9, sha256: '0'.repeat(64), path: 'sounds/0001 a.wav' },
            ],
          }),
        ),
        [PROJECT]: encoder.encode(JSON.stringify(stored)),
        'sounds/0001 a.wav': Uint8Array.from({ length: 9 }, (_, i) => i),
      },
      { level: 0 },
    ),
    async read(bytes) {
      try {
        await readPack(bytesSource(bytes));
        return 'read';
      } catch (error) {
        if (error instanceof PackError && /\S/.test(error.hint)) return 'refused';
        throw error;
      }
    },
  },
  answering('plan', writePlan(SPEECH_FIRST), readPlan),
  answering('targets', writeTargets(SHIPPED_TARGETS.slice(0, 3)), readTargets),
  answering(
    'deliveries',
    writeDeliveries({ name: 'All', deliveries: [plainDelivery('d', EBU_R128)] }),
    readDeliveries,
  ),
  answering('recipients', writeRecipients(SHIPPED_RECIPIENTS), readRecipients),
  {
    name: 'what was handed over',
    bytes: encoder.encode(
      JSON.stringify({
        format: 'dengung-handover-1',
        states: [history.project],
        files: [{ state: 0, file: {} }],
      }),
    ),
    read(bytes) {
      try {
        readRecords(JSON.parse(decoder.decode(bytes)));
        return 'read';
      } catch (error) {
        if (error instanceof SyntaxError) return 'refused';
        throw error;
      }
    },
  },
  {
    name: 'receipt',
    bytes: encoder.encode(
      JSON.stringify({
        ...{
          number: 'R-1',
          recipient: 'Hut',
          accepted: true,
          at: '2026-01-31 21:04:00',
          sha256: '0'.repeat(64),
        },
        requirements: [{ requirement: 'Name', asked: 'x', found: 'x', meets: true }],
      }),
    ),
    read(bytes) {
      try {
        return isReceipt(JSON.parse(decoder.decode(bytes))) ? 'read' : 'refused';
      } catch (error) {
        if (error instanceof SyntaxError) return 'refused';
        throw error;
      }
    },
  },
  {
    name: 'subtitles',
    bytes: encoder.encode(
      'WEBVTT\n\n00:01.000 --> 00:02.000\nGood evening.\n\n01:00:00.500 --> 01:00:01.000\nStill here.\n',
    ),
    read(bytes) {
      try {
        const ranges = speechFromSubtitles(decoder.decode(bytes));
        if (!ranges.every(({ from, to }) => Number.isFinite(from) && Number.isFinite(to) && to >= from))
          throw new Error('a range is none');
        return 'read';
      } catch (error) {
        if (error instanceof AudioFileError && /\S/.test(error.hint)) return 'refused';
        throw error;
      }
    },
  },
  {
    name: 'place',
    bytes: encoder.encode('1:12.5'),
    read(bytes) {
      const found = parsePlace(history.project, decoder.decode(bytes));
      if (typeof found !== 'number') return 'refused';
      if (!Number.isFinite(found)) throw new Error('a place is no number');
      return 'read';
    },
  },
];

const HOSTILE: readonly unknown[] = [
  ...[
    null,
    true,
    0,
    -1,
    1e308,
    -1e308,
    2 ** 53,
    0.1,
    '',
    'x'.repeat(3_000),
    '\u0000',
    '__proto__',
    '../../etc',
  ],
  ...[
    [],
    {},
    [[[[[[]]]]]],
    { length: 1e9 },
    { toString: 1 },
    '<img src=x onerror=alert(1)>',
    '=1+1',
    '\ud800',
  ],
];

/** Damages data where it lies: a value becomes another, goes, or comes twice. */
function damaged(value: unknown, dice: Dice): unknown {
  if (value === null || typeof value !== 'object' || dice.roll(5) === 0)
    return HOSTILE[dice.roll(HOSTILE.length)];
  if (Array.isArray(value)) {
    if (value.length === 0) return [HOSTILE[dice.roll(HOSTILE.length)]];
    const at = dice.roll(value.length);
    const way = dice.roll(4);
    if (way === 0) return value.toSpliced(at, 1);
    if (way === 1) return [...value, value[at] as unknown];
    return value.with(at, damaged(value[at], dice));
  }
  const entries = Object.entries(value);
  if (entries.length === 0) return { [String(HOSTILE[dice.roll(HOSTILE.length)])]: 1 };
  const at = dice.roll(entries.length);
  const [key, inner] = entries[at]!;
  const way = dice.roll(6);
  if (way === 0) return Object.fromEntries(entries.toSpliced(at, 1));
  if (way === 1) return { ...value, [`${key} `]: inner as unknown };
  return { ...value, [key]: damaged(inner, dice) };
}

/** Half of the damage is done to the data, where there are any; half to the bytes. */
function damage(bytes: Uint8Array, dice: Dice): Uint8Array {
  if (dice.roll(2) === 0) return mutate(bytes, dice);
  try {
    return encoder.encode(JSON.stringify(damaged(JSON.parse(decoder.decode(bytes)), dice)));
  } catch {
    return mutate(bytes, dice);
  }
}

export interface TextFates {
  readonly read: number;
  readonly refused: number;
  readonly harm: readonly { readonly reader: string; readonly seed: number; readonly error: unknown }[];
}

/** Damages what each reader reads: it reads it, or refuses it with a reason, and takes no time to speak of. */
export async function fuzzTexts(
  readers: readonly TextReader[],
  count: number,
  firstSeed: number,
): Promise<TextFates> {
  let [read, refused] = [0, 0];
  const harm: TextFates['harm'][number][] = [];
  for (let n = 0; n < count; n++) {
    const reader = readers[n % readers.length]!;
    const seed = firstSeed + n;
    const began = performance.now();
    try {
      if ((await reader.read(damage(reader.bytes, new Dice(seed)))) === 'read') read++;
      else refused++;
    } catch (error) {
      harm.push({ reader: reader.name, seed, error });
    }
    if (performance.now() - began > HANG_MS)
      harm.push({ reader: reader.name, seed, error: new Error('It hung') });
  }
  return { read, refused, harm };
}
