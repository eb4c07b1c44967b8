import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nowAndThen } from './nowAndThen';

describe('telling now and then', () => {
  beforeEach(() => void vi.useFakeTimers({ toFake: ['performance'] }));
  afterEach(() => void vi.useRealTimers());

  it('is due once a time, however often it is asked, and not before the first has passed', () => {
    const due = nowAndThen(100);
    let told = 0;
    for (let ms = 0; ms < 1_000; ms++) {
      if (due()) told++;
      vi.advanceTimersByTime(1);
    }
    expect(told).toBe(9);
    expect(due()).toBe(true);
    expect(due()).toBe(false);
  });

  it('is due at once after a long silence, and then not again at once', () => {
    const due = nowAndThen(100);
    vi.advanceTimersByTime(5_000);
    expect([due(), due()]).toEqual([true, false]);
    vi.advanceTimersByTime(99);
    expect(due()).toBe(false);
    vi.advanceTimersByTime(1);
    expect(due()).toBe(true);
  });
});
