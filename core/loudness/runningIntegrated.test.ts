import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { integrated } from './gating';
import { runningIntegrated } from './runningIntegrated';

describe('integrated loudness as it goes on', () => {
  it('is at every place the integrated loudness of what came before it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.double({ min: -90, max: 0, noNaN: true }), fc.constantFrom(-23, -33, -70)), {
          minLength: 1,
          maxLength: 120,
        }),
        fc.integer({ min: 1, max: 12 }),
        (levels, every) => {
          const blocks = Float64Array.from(levels, (level) => 10 ** ((level + 0.691) / 10));
          const running = runningIntegrated(blocks, every);
          expect(running).toHaveLength(Math.floor(blocks.length / every));
          running.forEach((value, i) => {
            const { integratedLufs } = integrated(blocks.slice(0, (i + 1) * every));
            if (integratedLufs === null) expect(value).toBeNaN();
            else expect(value).toBeCloseTo(integratedLufs, 9);
          });
        },
      ),
      { numRuns: 300 },
    );
  });
});
