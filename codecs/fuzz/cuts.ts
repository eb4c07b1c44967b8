import { CutError } from '@/core/timeline/cut';
import { readCut } from '@/core/timeline/readCut';
import { FRAME_RATES } from '@/core/text/timecode';
import { HANG_MS } from './attempt';
import { Dice, mutate } from './mutate';

const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
const range = (start: number, length: number) => ({ start_time: time(start), duration: time(length) });
const clip = (name: string) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  source_range: range(10, 50),
  media_references: { DEFAULT_MEDIA: { target_url: `hut/${name}.wav`, available_range: range(0, 200) } },
  effects: [{ effect_name: 'Gain', metadata: { gain_db: -3, dengung_points: [{ time: time(20), db: -6 }] } }],
});
const OTIO = JSON.stringify({
  OTIO_SCHEMA: 'Timeline.1',
  name: 'Reel',
  tracks: {
    OTIO_SCHEMA: 'Stack.1',
    children: [
      {
        OTIO_SCHEMA: 'Track.1',
        kind: 'Audio',
        children: [
          clip('door'),
          { OTIO_SCHEMA: 'Transition.1', in_offset: time(5), out_offset: time(5) },
          clip('wind'),
          { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 30) },
          { OTIO_SCHEMA: 'Stack.1', children: [clip('kettle')], source_range: range(0, 40) },
        ],
      },
    ],
  },
});
const EDL = `TITLE: Reel
FCM: NON-DROP FRAME
001  door A C        00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00
* FROM CLIP NAME: hut door.wav
002  wind A/A2 D 012 00:00:01:00 00:00:04:00 01:00:02:00 01:00:05:00
003  BL   A C        00:00:00:00 00:00:01:00 01:00:05:00 01:00:06:00
M2   wind 050.0 00:00:01:00
`;

/** A cut that did harm, and how to make it again. */
interface CutHarm {
  readonly cut: string;
  readonly seed: number;
  readonly error: unknown;
}

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** Damages cuts of both kinds: each is read, or refused with a reason, and takes no time to speak of. */
export function fuzzCuts(
  count: number,
  firstSeed: number,
): { readonly read: number; readonly refused: number; readonly harm: readonly CutHarm[] } {
  const cuts = [
    ['reel.otio', encoder.encode(OTIO)],
    ['reel.edl', encoder.encode(EDL)],
  ] as const;
  let [read, refused] = [0, 0];
  const harm: CutHarm[] = [];
  for (let n = 0; n < count; n++) {
    const [name, bytes] = cuts[n % cuts.length]!;
    const seed = firstSeed + n;
    const began = performance.now();
    try {
      const cut = readCut(decoder.decode(mutate(bytes, new Dice(seed))), name, FRAME_RATES[0]!);
      // What is kept of it passes between workers and into storage.
      structuredClone(cut);
      const times = cut.tracks.flatMap(({ clips }) => clips.flatMap(({ start, length }) => [start, length]));
      if (!times.every(Number.isFinite)) throw new Error('A time is no number');
      read++;
    } catch (error) {
      if (error instanceof CutError && /\S.*\.$/.test(error.message)) refused++;
      else harm.push({ cut: name, seed, error });
    }
    if (performance.now() - began > HANG_MS) harm.push({ cut: name, seed, error: new Error('It hung') });
  }
  return { read, refused, harm };
}
