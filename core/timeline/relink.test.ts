import { describe, expect, it } from 'vitest';
import { testProject } from '@/core/testing/projects';
import type { Source } from '@/core/programme/model';
import type { Cut, CutClip } from './cut';
import { relinkCandidates } from './relink';

const [model] = testProject().sources as [Source];
const source = (name: string, seconds: number, timeReference: number | null = null): Source => ({
  ...model,
  id: name,
  name,
  frames: seconds * model.sampleRate,
  timeReference,
});

const clip = (change: Partial<CutClip>): CutClip => ({
  name: 'hut',
  media: { name: 'hut.wav', url: null },
  start: 0,
  length: 2,
  sourceStart: 1,
  sourceIsTimecode: false,
  gainDb: 0,
  fadeIn: 0,
  fadeOut: 0,
  curve: [],
  passthrough: null,
  ...change,
});

const cut = (...clips: CutClip[]): Cut => ({
  name: 'Reel',
  tracks: [{ name: 'A1', clips, passthrough: null }],
  warnings: [],
  faults: [],
  passthrough: null,
});

const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
/** What a file says of a medium of ten seconds. */
const tenSeconds = {
  media_reference: { available_range: { start_time: time(0), duration: time(250) } },
};

describe('sources for media that are not found', () => {
  it('are those that hold all that is used, as long as the cut says first', () => {
    const sources = [source('long.wav', 30), source('short.wav', 2.5), source('same.wav', 10.04)];
    const found = relinkCandidates(cut(clip({ passthrough: tenSeconds })), 'hut.wav', sources);
    expect(found.map(({ source: { name }, sameLength }) => [name, sameLength])).toEqual([
      ['same.wav', true],
      ['long.wav', false],
    ]);
  });

  it('are looked at by every clip of the medium, and by no other', () => {
    const all = cut(
      clip({}),
      clip({ sourceStart: 20 }),
      clip({ media: { name: 'other.wav', url: null }, sourceStart: 90 }),
    );
    const sources = [source('ten.wav', 10), source('thirty.wav', 30)];
    expect(relinkCandidates(all, 'hut.wav', sources).map(({ source: { name } }) => name)).toEqual([
      'thirty.wav',
    ]);
  });

  it('count from their own timecode where the cut does', () => {
    const all = cut(clip({ sourceIsTimecode: true, sourceStart: 36_004 }));
    const at = (hours: number): number => hours * 3600 * model.sampleRate;
    const sources = [
      source('ten hours.wav', 10, at(10)),
      source('eleven.wav', 10, at(11)),
      source('none.wav', 10),
    ];
    expect(relinkCandidates(all, 'hut.wav', sources).map(({ source: { name } }) => name)).toEqual([
      'ten hours.wav',
    ]);
  });
});
