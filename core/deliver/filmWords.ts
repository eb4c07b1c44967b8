import { clippedNote } from '@/core/loudness/agreement';
import { withUnit } from '@/core/text/figures';

/** What came of a film whose sound was replaced. */
export interface FilmFacts {
  /** What the new sound is coded as, for people. */
  readonly codec: string;
  /** Packets of picture that were copied, and how long it is, seconds. */
  readonly packets: number;
  readonly pictureSeconds: number;
  /** Other sounds that were copied. */
  readonly others: number;
  /** What of the film is not in the copy, full sentences. */
  readonly lost: readonly string[];
  readonly clippedSamples: number;
  /** The ending of its name, where it is of another kind than the film. */
  readonly ending: string | null;
}

/** Sound and picture may differ so much in length without a word, seconds: a frame at 24 a second. */
const APART_SECONDS = 1 / 24;

/** What is to be said of it, full sentences. @param soundSeconds how long the new sound is */
export function filmWords(film: FilmFacts, soundSeconds: number): readonly string[] {
  const { packets, codec, others, lost, pictureSeconds, clippedSamples, ending } = film;
  const apart = soundSeconds - pictureSeconds;
  const clipped = clippedNote(clippedSamples);
  return [
    `The picture is copied as it is, ${packets.toLocaleString('en')} packets of it; the sound is ${codec} now${others > 0 ? `, ${others} more ${others === 1 ? 'is' : 'are'} copied` : ''}.`,
    ...(ending === null
      ? []
      : [
          'The copy is a MOV: many players play plain samples in MP4 as noise. For an MP4, deliver AC-3 in MP4.',
        ]),
    ...lost,
    ...(Math.abs(apart) > APART_SECONDS
      ? [
          `The sound is ${withUnit(Math.abs(apart), 's', 2)} ${apart > 0 ? 'longer' : 'shorter'} than the picture; both begin together.`,
        ]
      : []),
    ...(clipped ? [clipped] : []),
  ];
}
