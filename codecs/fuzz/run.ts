import { attempt, type Fate } from './attempt';
import type { Specimen } from './corpus';
import { Dice, mutate } from './mutate';

/** A damaged file that did harm, and how to make it again. */
interface Harm {
  readonly specimen: string;
  readonly seed: number;
  readonly error: unknown;
}

export interface FuzzResult {
  readonly fates: Record<Fate, number>;
  readonly harm: readonly Harm[];
  /** Memory beyond what it was at the start, bytes. */
  readonly growth: number;
}

/** Damages specimens in turn and tries each; case `n` is made from seed `firstSeed + n` alone. */
export async function fuzz(
  specimens: readonly Specimen[],
  count: number,
  firstSeed: number,
  onCase: (done: number) => void = () => undefined,
): Promise<FuzzResult> {
  const fates: Record<Fate, number> = { measured: 0, partial: 0, refused: 0 };
  const harm: Harm[] = [];
  const before = process.memoryUsage().rss;
  let most = before;
  for (let n = 0; n < count; n++) {
    const seed = firstSeed + n;
    const specimen = specimens[n % specimens.length]!;
    try {
      fates[await attempt(mutate(specimen.bytes, new Dice(seed)))]++;
    } catch (error) {
      harm.push({ specimen: specimen.name, seed, error });
    }
    if (n % 64 === 0) most = Math.max(most, process.memoryUsage().rss);
    onCase(n + 1);
  }
  return { fates, harm, growth: most - before };
}
