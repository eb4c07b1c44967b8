import { describe, expect, it } from 'vitest';
import { clippedNote, disagreement } from './agreement';

const figures = (integratedLufs: number | null, truePeakDbtp: number | null) => ({
  integratedLufs,
  truePeakDbtp,
});

describe('a written file against what was worked out', () => {
  it.each([
    [figures(-23, -1), figures(-23.015, -1.09), null],
    [figures(-23, -1), figures(-23.03, -1), /−23\.00 LUFS predicted, −23\.03 LUFS in the file/],
    [figures(-23, 2.1), figures(-23, 0), /2\.10 dBTP predicted, 0\.00 dBTP in the file/],
    [figures(-23, -1), figures(null, -1), /—/],
    [figures(-69.99, -60), figures(null, -60), null],
    [figures(null, null), figures(null, null), null],
    [figures(null, -140), figures(null, null), null],
  ] as const)('%o, %o', (predicted, written, message) => {
    const said = disagreement(predicted, written);
    if (message === null) expect(said).toBeNull();
    else expect(said).toMatch(message);
  });

  it('says how many samples were cut off', () => {
    expect(clippedNote(0)).toBeNull();
    expect(clippedNote(1)).toBe('One sample went past full scale and was cut off there.');
    expect(clippedNote(12_345)).toBe('12,345 samples went past full scale and were cut off there.');
  });
});
