import { describe, expect, it } from 'vitest';
import { curveReasonOf } from '@/core/programme/curveReason';
import type { Project } from '@/core/programme/model';
import { SPEECH_FIRST } from '@/core/programme/plan';
import { measuresOf, musicUnderSpeech, renderedLoudness } from '@/core/testing/musicUnderSpeech';
import { measuredClips } from './measuredClips';
import { ledgerRow } from './ledger';
import { carriedOut, planProposal, planSteps } from './plan';

async function planned(project: Project) {
  const { of, bare } = await measuresOf(project);
  const entries = measuredClips(project, project.clips, of);
  const steps = planSteps(project, SPEECH_FIRST, entries, {
    bare,
    release: new Set(['theme', 'pad', 'voice']),
  });
  const proposal = planProposal(SPEECH_FIRST, steps, entries);
  return { steps, done: proposal.edit(project, proposal.rows) };
}

/** Of one music clip only. */
const withTheme = (db: number): Project => {
  const project = musicUnderSpeech(db);
  return { ...project, clips: project.clips.filter(({ id }) => id !== 'pad') };
};

describe('music in a plan', () => {
  it('has a level alone and one under speech, within one clip', async () => {
    for (const db of [6, -12]) {
      const { done, steps } = await planned(withTheme(db));
      const { integratedLufs } = done.target;
      expect(await renderedLoudness(done, ['theme'], { from: 0, to: 9 })).toBeCloseTo(integratedLufs - 4, 1);
      for (const span of [
        { from: 10, to: 20 },
        { from: 30, to: 36 },
      ])
        expect(await renderedLoudness(done, ['theme'], span)).toBeCloseTo(integratedLufs - 18, 1);
      expect(curveReasonOf(done.clips[1]!)?.kind).toBe('ducked');
      const row = steps.find(({ part }) => part === 'musicAlone')!.rows[0]!;
      expect(row.sentence).toMatch(
        /^Alone: .* Under speech \(2 places\): −1\d\.\d.* dB more, to −41\.0 LUFS\.$/,
      );
    }
  });

  it('carried out again, changes nothing, and nothing is called stale', async () => {
    const { done } = await planned(withTheme(0));
    const again = await planned(done);
    expect(again.done).toBe(done);
    const { of } = await measuresOf(done);
    for (const entry of measuredClips(done, done.clips, of))
      expect(ledgerRow(entry, done.target).state).not.toMatch(/stale|off/);
  });

  it('moved as a whole with everything else, it stands right still', async () => {
    const { done } = await planned(withTheme(3));
    for (const db of [0.23, -4.71]) {
      const moved = carriedOut(done, SPEECH_FIRST, db);
      expect((await planned(moved)).done).toBe(moved);
    }
  });

  it('loses its curve once nobody speaks over it', async () => {
    const { done } = await planned(withTheme(0));
    const alone = { ...done, clips: done.clips.filter(({ id }) => id !== 'voice') };
    const { of } = await measuresOf(alone);
    expect(measuredClips(alone, alone.clips, of)[0]!.curveStale).toBe(true);
    expect((await planned(alone)).done.clips[0]!.curve).toEqual([]);
  });
});
