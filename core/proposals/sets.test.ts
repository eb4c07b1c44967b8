import { describe, expect, it } from 'vitest';
import { putInSet, setNames } from '@/core/programme/edits/sets';
import { testClip, testProject } from '@/core/testing/projects';
import { nameHolds, readNames, setByName, setsOf } from './sets';

const project = {
  ...testProject([
    testClip({ id: 'a', name: 'Kettle', sourceId: 's0' }),
    testClip({ id: 'b', name: 'Roof', sourceId: 's1', trackId: 't1' }),
    testClip({ id: 'c', name: 'Kettle again', sourceId: 's1' }),
  ]),
};
const sets = (kind: Parameters<typeof setsOf>[1], typed?: readonly string[]): string[] =>
  project.clips.map(setsOf(project, kind, typed));
/** Which clips are in one set: the same digit for the same set. */
const pattern = (of: readonly string[]): string => of.map((set) => of.indexOf(set)).join('');

describe('sets of clips', () => {
  it('are made by what the programme says of clips', () => {
    expect(pattern(sets('all'))).toBe('000');
    expect(pattern(sets('source'))).toBe('011');
    expect(pattern(sets('track'))).toBe('010');
    expect(pattern(sets('role'))).toBe('010');
    expect(pattern(sets('group'))).toBe('012');
    const folders = project.sources.map((source, i) => ({ ...source, folder: i === 0 ? 'day 1' : 'day 2' }));
    expect(pattern(project.clips.map(setsOf({ ...project, sources: folders }, 'folder')))).toBe('011');
  });

  it('are made by hand, and given up again', () => {
    const made = putInSet(putInSet(project, new Set(['a', 'c']), ' Inside '), new Set(['b']), 'Outside');
    expect(setNames(made)).toEqual(['Inside', 'Outside']);
    expect(pattern(made.clips.map(setsOf(made, 'hand')))).toBe('010');
    expect(setNames(putInSet(made, new Set(['a', 'b', 'c']), ''))).toEqual([]);
    expect(pattern(project.clips.map(setsOf(project, 'hand')))).toBe('012');
    expect(putInSet(made, new Set(['b']), 'Outside').clips).toEqual(made.clips);
  });

  it('are made by what names hold, of the clip or of its source', () => {
    expect(pattern(sets('name', ['kettle']))).toBe('010');
    expect(pattern(sets('name', ['source 1']))).toBe('011');
    expect(pattern(sets('name', ['nowhere']))).toBe('012');
    expect(setByName(['take 3'], ['take 4', 'take'], 'x')).toBe(
      setByName(['take 5'], ['take 4', 'take'], 'y'),
    );
    expect(setByName(['take 3'], ['scene'], 'x')).not.toBe(setByName(['take 3'], ['scene'], 'y'));
  });

  it.each([
    ['observer-indoors-1.wav', 'indoors', true],
    ['observer-indoors-1.wav', 'OBS*1', true],
    ['observer-indoors-1.wav', '1*obs', false],
    ['observer', 'outdoors', false],
    ['anything', '*', true],
  ])('%s holds %s: %s', (name, typed, holds) => {
    expect(nameHolds(name, typed)).toBe(holds);
  });

  it('are typed as names parted by commas', () => {
    expect(readNames(' indoors, outdoors ,')).toEqual(['indoors', 'outdoors']);
    for (const text of ['', ' , ', Array(51).fill('x').join()])
      expect(readNames(text)).toHaveProperty('error');
  });
});
