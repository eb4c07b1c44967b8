import { attempt, HANG_MS } from './attempt';
import type { Specimen } from './corpus';

/** What counts and sizes are set to: large, larger, and the largest. */
const VALUES = [0x0000ffff, 0x01000000, 0x7fffffff, 0xffffffff];

/** A field that did harm when it was changed. */
interface SweptHarm {
  readonly specimen: string;
  readonly at: number;
  readonly value: number;
  readonly error: unknown;
}

/**
 * Sets every field of four bytes of a file, one after the other, to numbers that no count and no size can have; each of
 * the files has to be measured or refused within the time that a hang is told by.
 * @param from first byte that is gone through
 * @param step bytes from one field to the next
 * @param most bytes from the start that are gone through
 */
export async function sweepFields(
  { name, bytes }: Specimen,
  {
    from = 0,
    step = 1,
    most = bytes.length,
    values = VALUES,
  }: { from?: number; step?: number; most?: number; values?: readonly number[] } = {},
): Promise<{ readonly tried: number; readonly harm: readonly SweptHarm[]; readonly slowestMs: number }> {
  const harm: SweptHarm[] = [];
  let [tried, slowestMs] = [0, 0];
  for (let at = Math.max(0, from); at + 4 <= Math.min(most, bytes.length); at += step)
    for (const value of values)
      for (const littleEndian of [false, true]) {
        const copy = Uint8Array.from(bytes);
        new DataView(copy.buffer).setUint32(at, value, littleEndian);
        const began = performance.now();
        try {
          await attempt(copy);
        } catch (error) {
          harm.push({ specimen: name, at, value, error });
        }
        const took = performance.now() - began;
        // A loop that gives nobody a turn is seen only when it has ended.
        if (took > HANG_MS) harm.push({ specimen: name, at, value, error: new Error('It hung') });
        slowestMs = Math.max(slowestMs, took);
        tried++;
      }
  return { tried, harm, slowestMs };
}
