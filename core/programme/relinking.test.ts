import { describe, expect, it } from 'vitest';
import { testClip, testProject } from '@/core/testing/projects';
import type { Source } from './model';
import { differencesOf, isTheSame, lostSourceFor, relinkSource } from './relinking';

const [lost, other] = testProject().sources as [Source, Source];

describe('relinking a lost source', () => {
  it('takes the same content for the same, whatever it is called', () => {
    expect(isTheSame(lost, { source: lost, sameContent: true })).toBe(true);
    expect(isTheSame(lost, { source: { ...lost, name: 'renamed.wav' }, sameContent: true })).toBe(true);
    // Of what nothing is known, the name has to be the same as well.
    expect(isTheSame(lost, { source: lost, sameContent: null })).toBe(true);
    expect(isTheSame(lost, { source: { ...lost, name: 'renamed.wav' }, sameContent: null })).toBe(false);
    expect(isTheSame(lost, { source: lost, sameContent: false })).toBe(false);
  });

  it('says in what another file differs', () => {
    const stereo = { ...lost, layout: other.layout, frames: lost.frames * 2, sampleRate: 96_000 };
    expect(differencesOf(lost, { source: { ...stereo, name: 'b.wav' }, sameContent: false })).toEqual([
      'it is called b.wav',
      '96000 Hz in place of 48000 Hz',
      'stereo in place of mono',
      'it sounds different',
    ]);
    expect(differencesOf(lost, { source: { ...lost, frames: 48_000 }, sameContent: null })).toEqual([
      '0:01.000 long in place of 0:04.000',
    ]);
  });

  it('finds which source a file is meant for: by name, of several of that name by size, else by size', () => {
    const a = { ...lost, byteLength: 100 };
    const b = { ...lost, id: 'b', byteLength: 200 };
    const c = { ...lost, id: 'c', name: 'else.wav', byteLength: 300 };
    expect(lostSourceFor({ name: lost.name.toUpperCase(), size: 200 }, [a, b, c])).toBe(b);
    expect(lostSourceFor({ name: lost.name, size: 1 }, [a, b, c])).toBe(a);
    expect(lostSourceFor({ name: 'new.wav', size: 300 }, [a, b, c])).toBe(c);
    expect(lostSourceFor({ name: 'new.wav', size: 1 }, [a, b, c])).toBeNull();
  });

  it('keeps clips, gains, trim and folder', () => {
    const clips = [testClip({ id: 'a', gain: { db: -3, lastChangeDb: -3, reason: { kind: 'byHand' } } })];
    const base = testProject(clips);
    const project = { ...base, sources: [{ ...lost, trimDb: 2, folder: 'day 1' }, ...base.sources.slice(1)] };
    const after = relinkSource(project, lost.id, { ...lost, id: 'x', audioKey: 'new', name: 'new.wav' });
    expect(after.clips).toBe(project.clips);
    expect(after.sources[0]).toMatchObject({ id: lost.id, audioKey: 'new', name: 'new.wav', trimDb: 2 });
    expect(after.sources[0]!.folder).toBe('day 1');
  });
});
