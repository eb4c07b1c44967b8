import { describe, expect, it } from 'vitest';
import { folderOf } from './folderOf';

const file = (paths: { webkitRelativePath?: string; relativePath?: string }): File =>
  Object.defineProperties(
    new File([], 'take.wav'),
    Object.fromEntries(Object.entries(paths).map(([key, value]) => [key, { value }])),
  );

describe('the folder of a file', () => {
  it.each([
    [{ webkitRelativePath: 'day one/hut/take.wav' }, 'day one/hut'],
    [{ webkitRelativePath: '', relativePath: '/day one/take.wav' }, 'day one'],
    [{ webkitRelativePath: '', relativePath: './take.wav' }, ''],
    [{ webkitRelativePath: '' }, ''],
    [{}, ''],
  ])('of %o is “%s”', (paths, folder) => {
    expect(folderOf(file(paths))).toBe(folder);
  });
});
