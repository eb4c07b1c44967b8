import type { StatedLoudness } from '@/core/audio/metadata';
import { goalWords } from '@/core/check/deviationWords';
import { verdictOf, type Judged } from '@/core/check/verdict';
import type { Receipt } from '@/core/deliver/receipt';
import { withUnit } from '@/core/text/figures';
import type { Recipient, SetPart } from './recipient';

/** A file as it arrived, measured where it arrived. */
export interface Arrived {
  readonly name: string;
  /** What the sender says of all of it, and what it is; in hexadecimal. */
  readonly sentSha256: string;
  readonly sha256: string;
  readonly judged: Judged;
  /** What the file says of its loudness; `null` where it says nothing. */
  readonly stated: StatedLoudness | null;
}

/** What a file says of its loudness may be off by so much: it is written in hundredths, LU. */
const STATED_LU = 0.1;

function statedRequirement({ judged, stated }: Arrived): Receipt['requirements'][number] {
  const [said, is] = [stated?.integratedLufs ?? null, judged.integratedLufs];
  return {
    requirement: 'Loudness stated in the file',
    asked: withUnit(is, 'LUFS', 2),
    found: said === null ? 'nothing' : withUnit(said, 'LUFS', 2),
    meets: said !== null && is !== null && Math.abs(said - is) <= STATED_LU,
  };
}

/** Which part of a set a file is, by its name; `null` where it is none. */
export const partOf = (set: readonly SetPart[], fileName: string): SetPart | null =>
  set.find(({ pattern }) => new RegExp(pattern, 'u').test(fileName)) ?? null;

function partRequirement(set: readonly SetPart[], fileName: string): Receipt['requirements'][number] {
  const part = partOf(set, fileName);
  return {
    requirement: 'Part of the set',
    asked: set.map(({ name, example }) => `${name} (${example})`).join(' or '),
    found: part ? part.name : `${fileName}, which is none of these`,
    meets: part !== null,
  };
}

/** Holds a file against everything that a recipient asks, one by one. */
export function receiptFor(
  { name, target, naming, statesLoudness, set }: Recipient,
  arrived: Arrived,
  number: string,
  at: string,
): Receipt {
  const same = arrived.sentSha256 === arrived.sha256;
  const { figures, form } = verdictOf(arrived.judged, target);
  const judged = set === null || partOf(set, arrived.name)?.judged !== false;
  const requirements: Receipt['requirements'] = [
    {
      requirement: 'Checksum (SHA-256)',
      asked: 'as it was sent',
      found: same ? 'the same' : `${arrived.sha256}, sent was ${arrived.sentSha256}`,
      meets: same,
    },
    ...(naming
      ? [
          {
            ...{ requirement: 'Name', asked: `${naming.words} (${naming.example})`, found: arrived.name },
            meets: new RegExp(naming.pattern, 'u').test(arrived.name),
          },
        ]
      : []),
    ...(set ? [partRequirement(set, arrived.name)] : []),
    ...(arrived.judged.integrity ?? []).map(({ sentence }) => ({
      ...{ requirement: 'Whole and undamaged', asked: 'a whole file', found: sentence, meets: false },
    })),
    ...(judged ? figures : []).map((one) => ({
      ...{ requirement: one.label, asked: goalWords(one), found: withUnit(one.value, one.unit) },
      meets: one.state === 'within',
    })),
    ...form.map(({ label, value, wanted, meets }) => ({
      ...{ requirement: label, asked: wanted.join(' or '), found: value, meets },
    })),
    ...(statesLoudness ? [statedRequirement(arrived)] : []),
  ];
  const accepted = requirements.every(({ meets }) => meets);
  return { number, recipient: name, accepted, at, sha256: arrived.sha256, requirements };
}
