import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { changeGain } from '@/core/programme/edits/gain';
import { startHistory } from '@/core/programme/history';
import { noise } from '@/core/testing/signals';
import { realWorkers } from '@/engine/testing/threads';
import { saveProject } from '@/storage/projects';
import { measured, openSession, placeFiles, soundFile, until } from '../testing/openSession';
import type { ComparingState } from './comparing';
import type { Session } from './session';

vi.mock('@/storage/stores', () => import('../testing/memoryStores'));
await realWorkers();

let session: Session;
let leave: () => void;

/** Swelling noise, both channels alike. */
const mix = (() => {
  const x = noise(48_000 * 8, 0.2, 5);
  for (let i = 0; i < x.length; i++)
    x[i]! *= 0.3 + 0.7 * Math.abs(Math.sin(i / 33_000) * Math.cos(i / 70_000));
  return x;
})();

const PATIENT = { timeout: 20_000, interval: 5 };

const state = (): ComparingState => session.comparing.store.getState();
const compared = (): Promise<unknown> =>
  vi.waitFor(() => {
    if (state().work !== null || (!state().difference && !state().failure)) throw new Error('Not yet');
  }, PATIENT);

beforeAll(async () => {
  session = await openSession();
  await placeFiles(session, soundFile('mix.wav', [mix, mix]));
  leave = session.comparing.watch();
});
afterAll(() => {
  leave();
  session.close();
});

describe('the programme, compared', () => {
  it('with how it was before a step differs by what the step did', async () => {
    session.do('Lower', (project) => changeGain(project, new Set(['c0']), { kind: 'change', db: -4 }));
    await measured(session);
    const { past } = session.state.history;
    await session.comparing.withStep(past.length - 1, 'before');
    await compared();
    const { difference, other, alignment, offsetSeconds } = state();
    expect([other!.kind, alignment, offsetSeconds]).toEqual(['step', null, 0]);
    expect(difference!.a.length).toBeGreaterThan(10);
    difference!.a.forEach((own, k) => expect(difference!.b[k]! - own).toBeCloseTo(4, 2));
  });

  it('follows the programme', async () => {
    session.undo();
    await measured(session);
    await vi.waitFor(() => {
      const { difference } = state();
      expect(difference!.b[20]! - difference!.a[20]!).toBeCloseTo(0, 2);
    }, PATIENT);
  });

  it('with a file is laid beside it by the sound, to the frame', async () => {
    // 0.7 s and three frames later, 6 dB down.
    const shift = 33_603;
    const later = new Float32Array(mix.length + shift);
    later.set(
      mix.map((x) => x / 2),
      shift,
    );
    await session.comparing.withFile(soundFile('later.wav', [later, later]));
    await compared();
    const { offsetSeconds, alignment, difference } = state();
    expect(Math.round(offsetSeconds * 48_000)).toBe(shift);
    expect(alignment!.alike).toBeGreaterThan(0.9);
    expect(difference!.b[20]! - difference!.a[20]!).toBeCloseTo(-6, 0);
    // By hand it lies elsewhere.
    session.comparing.setOffset(2);
    await compared();
    expect([state().offsetSeconds, state().byHand]).toEqual([2, true]);
    session.comparing.setOffset(null);
    await vi.waitFor(() => expect(Math.round(state().offsetSeconds * 48_000)).toBe(shift), PATIENT);
  });

  it('is heard in place of the other at matched loudness', () => {
    const { comparison } = session.listening;
    comparison.setMatched(true);
    comparison.choose('other');
    const { shiftDb, trouble } = comparison.store.getState();
    expect(trouble).toBeNull();
    expect(shiftDb).toBeCloseTo(6, 0);
    expect(comparison.heard(session.project).sources[0]!.name).toBe('later.wav');
    session.comparing.clear();
    expect(comparison.store.getState().compared).toBeNull();
    expect(comparison.heard(session.project)).toBe(session.project);
  });

  it('with another project, as with one that is gone', async () => {
    const copy = { ...session.project, id: 'copy', name: 'Second mix' };
    await saveProject(startHistory(changeGain(copy, new Set(['c0']), { kind: 'change', db: 3 })));
    await session.comparing.withProject('copy', 'Second mix');
    await compared();
    expect(state().other).toMatchObject({ kind: 'project', leftOut: 0 });
    expect(Math.round(state().offsetSeconds * 48_000)).toBe(0);
    expect(state().difference!.b[20]! - state().difference!.a[20]!).toBeCloseTo(3, 1);
    await session.comparing.withProject('nowhere', 'Lost mix');
    await compared();
    expect(state().failure!.message).toBe('“Lost mix” is not there any more.');
  });

  it('with what is no sound says so', async () => {
    await session.comparing.withFile(new File(['nothing'], 'bad.wav'));
    await compared();
    expect(state().failure).not.toBeNull();
    expect(state().other).toBeNull();
    await until(session, () => true);
  });
});
