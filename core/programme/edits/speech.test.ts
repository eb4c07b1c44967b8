import { describe, expect, it } from 'vitest';
import { dialogueRanges } from '@/core/programme/dialogue';
import type { Project } from '@/core/programme/model';
import { testClip, testProject } from '@/core/testing/projects';
import { changeSpeechRange, markSpeech, setSpeech } from './speech';

const RATE = 48_000;
/** From 10 s on, the second and third of four seconds of its source. */
const clip = testClip({ id: 'c', start: 10 * RATE, sourceStart: RATE, length: 2 * RATE });
const project = testProject([clip]);
const at = (from: number, to: number) => ({ from: from * RATE, to: to * RATE });
const speech = (of: Project) => of.sources[0]!.speech;

describe('speech of a source', () => {
  it('is what a hand marks, where nothing was known', () => {
    const marked = markSpeech(project, [clip], at(10.5, 11), true);
    expect(speech(marked)).toEqual({ from: 'hand', by: 'hand', ranges: [{ from: 1.5, to: 2 }] });
    expect(dialogueRanges(marked)).toEqual([{ from: 10.5, to: 11 }]);
  });

  it('is all but what a hand marks as not spoken, where all of it counted', () => {
    const marked = markSpeech(project, [clip], at(10.5, 11), false);
    expect(speech(marked)!.ranges).toEqual([
      { from: 0, to: 1.5 },
      { from: 2, to: 4 },
    ]);
  });

  it('keeps who found it when it is corrected', () => {
    const found = setSpeech(project, 's0', {
      from: 'the voice detector',
      by: 'detector',
      ranges: [{ from: 1, to: 3 }],
    });
    const cut = markSpeech(found, [clip], at(10.5, 10.75), false);
    expect(speech(cut)).toEqual({
      ...{ from: 'the voice detector', by: 'hand' },
      ranges: [
        { from: 1, to: 1.5 },
        { from: 1.75, to: 3 },
      ],
    });
    expect(speech(changeSpeechRange(cut, 's0', 0, { from: 0.5, to: 1.8 }))!.ranges).toEqual([
      { from: 0.5, to: 3 },
    ]);
    expect(speech(changeSpeechRange(cut, 's0', 1, null))!.ranges).toEqual([{ from: 1, to: 1.5 }]);
    expect(changeSpeechRange(cut, 's0', 7, null)).toBe(cut);
  });

  it('marks only what of the range lies in the clip', () => {
    expect(speech(markSpeech(project, [clip], at(0, 10.5), true))!.ranges).toEqual([{ from: 1, to: 1.5 }]);
    expect(markSpeech(project, [clip], at(0, 9), true)).toBe(project);
  });
});
