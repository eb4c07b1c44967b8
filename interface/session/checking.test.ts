import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { acceptFinding } from '@/core/programme/edits/check';
import { withFixes } from '@/core/proposals/fixes/fixProposal';
import { tones } from '@/core/testing/signals';
import { realWorkers } from '@/engine/testing/threads';
import { measured, openSession, placeFiles, soundFile, toneFile } from '../testing/openSession';
import type { CheckState } from './checking';
import type { Session } from './session';

vi.mock('@/storage/stores', () => import('../testing/memoryStores'));
await realWorkers();

let session: Session;
beforeEach(async () => {
  session = await openSession();
});
afterEach(() => session.close());

/** Waits until all of a check of the programme as it stands is done. */
const checked = (): Promise<CheckState> =>
  vi.waitFor(
    () => {
      const state = session.checking.store.getState();
      if (state.of !== session.project || state.work !== null || !state.checked) throw new Error('Not yet');
      if (state.checked.findings.some(({ id }) => !state.mends.has(id))) throw new Error('Not all yet');
      return state;
    },
    { timeout: 30_000, interval: 5 },
  );
const kinds = ({ checked: found }: CheckState) => found!.findings.map(({ kind }) => kind);

/** A tone with a place that is far louder. */
function bursting(): Float32Array[] {
  const samples = tones([{ dbfs: -23, seconds: 12 }], 48_000, 2);
  const own = samples.map((channel) => Float32Array.from(channel));
  for (const channel of own)
    for (let i = 0; i < 9_600; i++) {
      const edge = Math.min(1, i / 2_400, (9_600 - i) / 2_400);
      channel[6 * 48_000 + i]! *= 1 + 14 * edge;
    }
  return own;
}

describe('the check of a programme', () => {
  it('finds what breaks a limit, mends it by one step, and what was found is gone', async () => {
    await placeFiles(session, soundFile('burst.wav', bursting()));
    const end = session.checking.watch();
    const found = await checked();
    expect(kinds(found).filter((kind) => kind === 'truePeak')).toEqual(['truePeak']);
    const peak = found.checked!.findings.find(({ kind }) => kind === 'truePeak')!;
    expect(peak.from).toBeCloseTo(6, 1);
    const mend = found.mends.get(peak.id)!;
    if (!('fix' in mend)) throw new Error(mend.remedy);
    session.do('Mend', (project) => withFixes(project, [mend.fix]));
    await measured(session);
    expect(session.state.programme!.figures.truePeakDbtp).toBeCloseTo(mend.fix.truePeakDbtp!, 1);
    expect(session.state.programme!.figures.integratedLufs).toBeCloseTo(mend.fix.integratedLufs!, 2);
    expect(kinds(await checked())).not.toContain('truePeak');
    // Going back is at once: it is known what was found there.
    session.undo();
    await measured(session);
    expect(kinds(await checked())).toContain('truePeak');
    end();
  });

  it('mends all that breaks a limit as a proposal; what was accepted stays', async () => {
    await placeFiles(session, toneFile('loud.wav', -12, 5), soundFile('burst.wav', bursting()));
    const end = session.checking.watch();
    const { checked: result } = await checked();
    await session.checking.mendAll();
    const { mended } = session.checking.store.getState();
    expect(mended!.left).toEqual([]);
    expect(mended!.fixes[0]!.change.kind).toBe('shift');
    const loudness = result!.findings.find(({ kind }) => kind === 'integrated')!;
    session.do('Accept', (project) => acceptFinding(project, loudness, 'as asked'));
    await measured(session);
    await checked();
    await session.checking.mendAll();
    const again = session.checking.store.getState().mended;
    expect(again!.fixes.some(({ change }) => change.kind === 'shift')).toBe(false);
    end();
  });

  it('looked at again has it all at once: nothing is worked out anew', async () => {
    await placeFiles(session, soundFile('burst.wav', bursting()));
    const end = session.checking.watch();
    const found = await checked();
    end();
    const endAgain = session.checking.watch();
    const again = session.checking.store.getState();
    expect(again).toMatchObject({ of: session.project, work: null, failure: null });
    expect(again.checked).toBe(found.checked);
    expect(again.mends).toEqual(found.mends);
    endAgain();
  });

  it('cancelled half-way, goes on with what is missing once somebody looks again', async () => {
    await placeFiles(session, soundFile('burst.wav', bursting()));
    let end = session.checking.watch();
    const { store } = session.checking;
    await vi.waitUntil(() => store.getState().work === 'fixes', { timeout: 30_000, interval: 1 });
    session.checking.cancel();
    expect(store.getState().work).toBeNull();
    end();
    end = session.checking.watch();
    const found = await checked();
    expect(found.mends.size).toBe(found.checked!.findings.length);
    end();
  });

  it('works for nobody: without somebody who looks nothing is done', async () => {
    await placeFiles(session, toneFile('loud.wav', -12, 2));
    expect(session.checking.store.getState()).toMatchObject({ of: null, work: null });
    const end = session.checking.watch();
    await checked();
    end();
    session.undo();
    await measured(session);
    expect(session.checking.store.getState().of).not.toBe(session.project);
  });

  it('of an empty programme has nothing to say', async () => {
    await measured(session);
    const end = session.checking.watch();
    expect(session.checking.store.getState()).toMatchObject({
      of: session.project,
      checked: null,
      work: null,
    });
    end();
  });
});
