import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { testProject } from '@/core/testing/projects';
import { addSources } from './project';

const [source] = testProject().sources;
const named = (id: string) => ({ ...source!, id });

describe('sources that come in one after the other', () => {
  it('stand in the order of their files whichever comes first, behind those that were there', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 12 }).chain((count) =>
          fc.shuffledSubarray(
            Array.from({ length: count }, (_, i) => i),
            { minLength: count, maxLength: count },
          ),
        ),
        (coming) => {
          const arrived: string[][] = coming.map(() => []);
          let project = { ...testProject(), sources: [named('before')] };
          for (const i of coming) {
            arrived[i] = [`file ${i}`];
            project = addSources(project, [named(`file ${i}`)], arrived.flat()) as typeof project;
          }
          expect(project.sources.map(({ id }) => id)).toEqual([
            'before',
            ...coming.map((_, i) => `file ${i}`),
          ]);
        },
      ),
    );
  });
});
