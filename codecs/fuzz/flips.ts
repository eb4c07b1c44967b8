import { bytesSource } from '@/core/audio/byteSource';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { AudioFileError } from '@/core/formats/errors';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { beginSound } from '../measureSound';
import type { Specimen } from './corpus';
import { Dice } from './mutate';

/** What a sound measures, and whether it is said not to be whole. */
interface Read {
  readonly partial: boolean;
  readonly figures: LoudnessFigures;
  readonly frames: number;
}

/** @returns `null` when the file is refused with a reason */
async function readWhole(bytes: Uint8Array): Promise<Read | null> {
  try {
    const begun = (await beginSound(bytesSource(bytes), WHOLE_FIRST_SOUND, () => true))!;
    if (begun.kind !== 'done') throw new Error('Only short files are flipped');
    const { format, measured } = begun;
    return {
      partial: format.partial || format.warnings.length > 0,
      figures: figuresOf(measured.history),
      frames: format.frames,
    };
  } catch (error) {
    if (error instanceof AudioFileError) return null;
    throw error;
  }
}

/** A copy with one bit turned. */
function flipped(bytes: Uint8Array, seed: number): Uint8Array {
  const dice = new Dice(seed);
  const copy = Uint8Array.from(bytes);
  copy[dice.roll(copy.length)]! ^= 1 << dice.roll(8);
  return copy;
}

/** How far apart two readings of the same sound lie when nothing is the matter: not at all. */
const SAME = (a: LoudnessFigures, b: LoudnessFigures): boolean => JSON.stringify(a) === JSON.stringify(b);

export interface FlipResult {
  readonly flagged: number;
  readonly refused: number;
  readonly unchanged: number;
  /** Figures changed, and nothing was said: by which seeds. */
  readonly silent: readonly string[];
}

/** Turns single bits of files whose format has checksums: each is said to be damaged, or measures what it did. */
export async function flipBits(
  specimens: readonly Specimen[],
  count: number,
  firstSeed: number,
): Promise<FlipResult> {
  const whole = await Promise.all(specimens.map(({ bytes }) => readWhole(bytes)));
  let [flagged, refused, unchanged] = [0, 0, 0];
  const silent: string[] = [];
  for (let n = 0; n < count; n++) {
    const which = n % specimens.length;
    const { name, bytes } = specimens[which]!;
    const seed = firstSeed + n;
    const read = await readWhole(flipped(bytes, seed));
    if (!read) refused++;
    else if (read.partial) flagged++;
    else if (SAME(read.figures, whole[which]!.figures) && read.frames === whole[which]!.frames) unchanged++;
    else silent.push(`${name}, seed ${seed}`);
  }
  return { flagged, refused, unchanged, silent };
}
