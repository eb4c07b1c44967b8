import { describe, expect, it, vi } from 'vitest';
import { AudioFileError } from '@/core/formats/errors';
import { answer, Jobs } from './answer';
import { Failed } from './failure';
import { throttled } from './progress';

describe('what became of a piece of work', () => {
  it('is its result, that it was given up, or why it failed', async () => {
    expect(await answer(() => Promise.resolve(7))).toEqual({ ok: 7 });
    expect(await answer(() => Promise.resolve(null))).toEqual({ cancelled: true });
    const bad = new AudioFileError('noSound', 'No sound.', 'Export it again.');
    expect(await answer(() => Promise.reject(bad))).toEqual({
      failure: { code: 'noSound', message: 'No sound.', hint: 'Export it again.' },
    });
    const told = { code: 'full', message: 'No room.', hint: 'Make some.' };
    expect(await answer(() => Promise.reject(new Failed(told)))).toEqual({ failure: told });
  });

  it('is told now and then, and never that it went back', () => {
    const now = vi.spyOn(performance, 'now');
    const seen: number[] = [];
    const report = throttled((done) => seen.push(done), 100);
    for (const [at, done] of [
      [0, 0.1],
      [50, 0.2],
      [99, 0.3],
      [100, 0.25],
      [150, 0.4],
      [260, 0.2],
      [261, 0.5],
    ] as const) {
      now.mockReturnValue(at);
      report(done);
    }
    now.mockRestore();
    expect(seen).toEqual([0.1, 0.25, 0.5]);
  });

  it('of a job tells how far it is, and ends as cancelled at the next step once it is called off', async () => {
    const jobs = new Jobs();
    const seen: number[] = [];
    const steps = (cancelAt: number) => (proceed: (done: number) => Promise<boolean>) =>
      (async () => {
        for (let i = 1; i <= 4; i++) {
          if (i === cancelAt) jobs.cancel(3);
          if (!(await proceed(i / 4))) return null;
        }
        return 'done';
      })();
    const onProgress = (done: number): void => void seen.push(done);
    expect(await jobs.answer(3, steps(2), { onProgress })).toEqual({ cancelled: true });
    expect(seen).toEqual([0.25]);
    // A job that ended is forgotten: the number may come again.
    expect(await jobs.answer(3, steps(9))).toEqual({ ok: 'done' });
    jobs.cancel(4);
    expect(await jobs.answer(5, steps(9))).toEqual({ ok: 'done' });
  });
});
