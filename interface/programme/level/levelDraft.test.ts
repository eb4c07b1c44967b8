import { describe, expect, it } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import { measuredClip } from '@/core/proposals/proposal';
import { testClip } from '@/core/testing/projects';
import { errorOf, PLAIN_DRAFT, readDraft, spokenWords, textsOf, type LevelDraft } from './levelDraft';

const read = (change: Partial<LevelDraft>) => readDraft({ ...PLAIN_DRAFT, ...change }, EBU_R128);

describe('what is asked for when clips are levelled', () => {
  it('is the target where nothing was typed', () => {
    expect(read({}).request).toEqual({
      measure: 'integrated',
      mode: 'each',
      goal: EBU_R128.integratedLufs,
      ceilingDbtp: EBU_R128.maxTruePeakDbtp,
      policy: 'stop',
      spokenOnly: false,
      floorLufs: -50,
    });
    expect(textsOf({ ...PLAIN_DRAFT, measure: 'truePeak' }, EBU_R128).goal).toBe('−1');
    expect(read({ measure: 'truePeak' }).request!.goal).toBe(EBU_R128.maxTruePeakDbtp);
  });

  it.each([
    ['−18,5', -18.5],
    ['-18.5', -18.5],
    [' -70 ', -70],
    ['0', 0],
  ])('is read as people write numbers: %s', (goalText, goal) => {
    expect(read({ goalText }).request!.goal).toBe(goal);
  });

  it.each([
    [{ goalText: 'loud' }, 'goal', /Target level: a number from −70 to 0 LUFS/],
    [{ goalText: '1' }, 'goal', /Target level/],
    [{ goalText: '' }, 'goal', /Target level/],
    [{ ceilingText: '9' }, 'ceiling', /Ceiling: a number from −70 to 3 dBTP/],
    [{ floorText: 'x' }, 'floor', /Noise floor: a number/],
    [{ how: 'name', namesText: ' , ' }, 'names', /sets separated by commas/],
  ] as const)('says what is accepted instead of %o, and asks for nothing', (change, field, message) => {
    const found = read(change);
    expect(errorOf(found[field])).toMatch(message);
    expect(found.request).toBeNull();
  });

  it('is together for every kind of set, by names only where they are typed', () => {
    for (const how of ['all', 'source', 'folder', 'track', 'role', 'group', 'hand'] as const)
      expect(read({ how }).request!.mode).toBe('together');
    expect(read({ how: 'name', namesText: 'in, out' })).toMatchObject({
      names: ['in', 'out'],
      request: { mode: 'together' },
    });
    expect(errorOf(read({}).names)).toBeNull();
  });

  it('measured while somebody speaks only, it says where nothing tells that', () => {
    const entry = measuredClip(testClip({ id: 'a' }), null);
    const draft = { ...PLAIN_DRAFT, spokenOnly: true };
    expect(spokenWords(draft, [entry, { ...entry, speech: [] }])).toMatch(/^ Of 1 clip no subtitles say/);
    expect(spokenWords(draft, [{ ...entry, speech: [] }])).toBe('');
    expect(spokenWords(PLAIN_DRAFT, [entry])).toBe('');
  });
});
