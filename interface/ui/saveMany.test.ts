import { describe, expect, it } from 'vitest';
import { csvOf } from '../ui/csv';
import { distinctNames } from './saveMany';

describe('names of files that are saved together', () => {
  it('differ, whatever their letters', () => {
    const name = distinctNames();
    expect(['mix.wav', 'Mix.wav', 'mix.wav', 'a/mix.wav'].map(name)).toEqual([
      'mix.wav',
      'Mix (2).wav',
      'mix (3).wav',
      'a/mix.wav',
    ]);
  });
});

describe('a report as a table', () => {
  it('keeps what looks like a formula as text', () => {
    expect(
      csvOf([
        ['file', 'gainDb'],
        ['=cmd().wav', -3.5],
      ]),
    ).toBe('file,gainDb\r\n"\'=cmd().wav",-3.5\n');
  });
});
