import { describe, expect, it } from 'vitest';
import { AudioFileError } from '@/core/formats/errors';
import { toFailure } from './failure';
import { withProgress } from './progress';

describe('trouble between workers', () => {
  it('keeps code, message and hint', () => {
    expect(toFailure(new AudioFileError('empty', 'The file is empty.', 'Export it again.'))).toEqual({
      code: 'empty',
      message: 'The file is empty.',
      hint: 'Export it again.',
    });
  });

  it('knows a file that was taken away, and owns up to the unexpected', () => {
    expect(toFailure(new DOMException('gone', 'NotReadableError')).code).toBe('unreadable');
    expect(toFailure(new Error('odd'))).toMatchObject({
      code: 'unexpected',
      message: expect.stringContaining('odd') as string,
    });
  });
});

describe('progress', () => {
  it('that arrives after the result is dropped', async () => {
    const seen: number[] = [];
    let late: (done: number) => void = () => undefined;
    await withProgress(
      (done) => seen.push(done),
      (report) => {
        late = report;
        report(0.5);
        return Promise.resolve();
      },
    );
    late(0.9);
    expect(seen).toEqual([0.5]);
  });
});
