import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { AGAIN_MS, sendFile, SendError, type Line, type SendProgress } from './sending';

const receipt = {
  ...{ number: 'N-1', recipient: 'Ridgeline Radio', accepted: true, at: '2026-01-31 21:09:00' },
  ...{ sha256: '0'.repeat(64), requirements: [] },
};
const BYTES = 10_000_000;
const now = (): Promise<void> => Promise.resolve();

/** A recipient that keeps what arrives, on a line that breaks at given calls, before or in the middle of what is sent. */
function station(breaks: readonly number[]) {
  const taken: (readonly [from: number, to: number])[] = [];
  let received = 0;
  let calls = 0;
  const line: Line<readonly [number, number]> = (method, path, body) => {
    const trouble = breaks[calls++ % Math.max(1, breaks.length)] ?? 0;
    if (trouble === 1) return Promise.reject(new TypeError('the line broke'));
    const state = () => ({ id: 'd', received, bytes: BYTES, receipt: received === BYTES ? receipt : null });
    if (method === 'POST') return Promise.resolve({ status: 201, data: state() });
    if (method === 'PUT') {
      const [from, to] = body as readonly [number, number];
      const offset = Number(path.split('offset=')[1]);
      if (offset !== received) return Promise.resolve({ status: 409, data: { code: 'offset' } });
      const end = trouble === 2 ? from + Math.floor((to - from) / 2) : to;
      taken.push([from, end]);
      received = end;
      // The answer is lost after all of it arrived, or the line breaks half-way.
      if (trouble >= 2) return Promise.reject(new TypeError('the line broke'));
    }
    return Promise.resolve({ status: 200, data: state() });
  };
  return { line, taken };
}

const file = {
  ...{ name: 'a.wav', bytes: BYTES, sha256: '0'.repeat(64) },
  piece: (from: number, to: number) => [from, to] as const,
};

describe('a file on its way to a recipient', () => {
  it('arrives whole and in order however the line breaks, as long as it holds now and then', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom(0, 1, 2, 3), { minLength: 1, maxLength: 9 }),
        async (breaks) => {
          const { line, taken } = station([...breaks, 0, 0]);
          const told: SendProgress[] = [];
          const proceed = (progress: SendProgress): boolean => told.push(progress) > 0;
          expect(await sendFile(line, 'r', file, proceed, now)).toEqual(receipt);
          let at = 0;
          for (const [from, to] of taken) {
            expect(from).toBe(at);
            at = to;
          }
          expect(at).toBe(BYTES);
          // Progress never goes back.
          for (let i = 1; i < told.length; i++)
            expect(told[i]!.sent).toBeGreaterThanOrEqual(told[i - 1]!.sent);
        },
      ),
    );
  });

  it('is given up where the line stays broken, is refused, or somebody says so', async () => {
    let waited = 0;
    const dead = station([1]);
    const patience = (ms: number): Promise<void> => {
      waited += ms;
      return Promise.resolve();
    };
    await expect(sendFile(dead.line, 'r', file, () => true, patience)).rejects.toThrow(SendError);
    expect(waited).toBe(AGAIN_MS.reduce((a, b) => a + b, 0));
    const full: Line<unknown> = () =>
      Promise.resolve({ status: 507, data: { code: 'full', message: 'No room.', hint: 'Later.' } });
    await expect(sendFile(full, 'r', file, () => true, now)).rejects.toMatchObject({
      code: 'full',
      hint: 'Later.',
    });
    const odd: Line<unknown> = () => Promise.resolve({ status: 201, data: '<html>' });
    await expect(sendFile(odd, 'r', file, () => true, now)).rejects.toMatchObject({ code: 'badAnswer' });
    const { line, taken } = station([]);
    let pieces = 0;
    expect(await sendFile(line, 'r', file, () => ++pieces < 2, now)).toBeNull();
    expect(taken).toHaveLength(1);
  });
});
