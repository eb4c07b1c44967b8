import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Gathered } from './gathered';

describe('what is gathered', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('is told together, the latest of each key, and only once', () => {
    const told: (readonly [string, number])[][] = [];
    const gathered = new Gathered<number>(50, (values) => told.push([...values]));
    gathered.add('a', 1);
    vi.advanceTimersByTime(30);
    gathered.add('b', 2);
    gathered.add('a', 3);
    expect([gathered.has('a'), gathered.has('c'), told]).toEqual([true, false, []]);
    vi.advanceTimersByTime(20);
    expect(told).toEqual([
      [
        ['a', 3],
        ['b', 2],
      ],
    ]);
    expect(gathered.has('a')).toBe(false);
    gathered.add('c', 4);
    vi.advanceTimersByTime(500);
    expect(told[1]).toEqual([['c', 4]]);
    expect(told).toHaveLength(2);
  });

  it('is not told of one that was dropped', () => {
    const told: (readonly [string, number])[][] = [];
    const gathered = new Gathered<number>(50, (values) => told.push([...values]));
    gathered.add('a', 1);
    gathered.add('b', 2);
    gathered.drop('a');
    vi.advanceTimersByTime(50);
    expect(told).toEqual([[['b', 2]]]);
  });

  it('is never told once it is closed', () => {
    const tell = vi.fn();
    const gathered = new Gathered<number>(50, tell);
    gathered.add('a', 1);
    gathered.close();
    vi.advanceTimersByTime(500);
    expect(tell).not.toHaveBeenCalled();
  });
});
