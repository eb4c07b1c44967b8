// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { noise } from '@/core/testing/signals';
import { realWorkers } from '@/engine/testing/threads';
import { SessionContext } from '../../session/SessionContext';
import type { Session } from '../../session/session';
import { LevelSources } from '../../sources/LevelSources';
import { measured, openSession, placeFiles, soundFile, toneFile } from '../../testing/openSession';
import { LevelSheet } from '../level/LevelSheet';
import { ShiftSheet } from '../level/ShiftSheet';
import { PlanSheet } from '../plan/PlanSheet';
import { PartsSheet } from '../sections/PartsSheet';

vi.mock('@/storage/stores', () => import('../../testing/memoryStores'));
await realWorkers();

// There is no layout here: every row of a list is in sight.
vi.mock('@tanstack/react-virtual', () => ({
  useVirtualizer: ({ count, getItemKey }: { count: number; getItemKey: (index: number) => string }) => ({
    getTotalSize: () => count * 30,
    getVirtualItems: () =>
      Array.from({ length: count }, (_, index) => ({ index, key: getItemKey(index), start: index * 30 })),
  }),
}));

let session: Session;
const onClose = vi.fn();

beforeEach(async () => {
  onClose.mockReset();
  session = await openSession();
});
afterEach(() => {
  cleanup();
  session.close();
});

const show = (sheet: ReactNode): void => {
  render(<SessionContext value={session}>{sheet}</SessionContext>);
};
const clipOf = (name: string) => session.project.clips.find((clip) => clip.name === name)!;
const gainOf = (name: string): number => clipOf(name).gain.db;
const row = (name: string): HTMLElement => document.querySelector<HTMLElement>(`[data-proposal="${name}"]`)!;
const button = (name: RegExp): HTMLElement => screen.getByRole('button', { name });

/** Types a gain over the one of a row. */
async function typeGain(name: string, text: string): Promise<void> {
  await userEvent.click(within(row(name)).getByRole('button', { name: /^Gain of/ }));
  const field = within(row(name)).getByRole('textbox');
  fireEvent.change(field, { target: { value: text } });
  fireEvent.keyDown(field, { key: 'Enter' });
}

describe('levelling clips', () => {
  beforeEach(() => placeFiles(session, toneFile('low.wav', -35), toneFile('high.wav', -15)));

  it('proposes a row a clip, applies what is picked, and says so in the step', async () => {
    show(<LevelSheet onClose={onClose} onFindParts={onClose} />);
    expect(row('low').textContent).toMatch(/−35\.0.*\+11\.99.*−23\.0.*\+12\.0 dB\.$/);
    await userEvent.click(screen.getByRole('checkbox', { name: 'Apply to high' }));
    await userEvent.click(button(/^Apply 1 gain/));
    expect(gainOf('low')).toBeCloseTo(12, 1);
    expect(gainOf('high')).toBe(0);
    expect(session.state.history.past.at(-1)?.name).toBe('Level 1 clip each to −23.0 LUFS');
    expect(onClose).toHaveBeenCalledOnce();
    session.undo();
    expect([gainOf('low'), gainOf('high')]).toEqual([0, 0]);
  });

  it('all rows are picked or none, by one box', async () => {
    show(<LevelSheet onClose={onClose} onFindParts={onClose} />);
    const all = screen.getByRole('checkbox', { name: 'Apply to all' });
    await userEvent.click(all);
    expect(button(/^Apply$/)).toHaveProperty('disabled', true);
    await userEvent.click(all);
    expect(button(/^Apply 2 gains/)).toHaveProperty('disabled', false);
  });

  it('a typed gain is kept to, and empty takes back the one proposed', async () => {
    show(<LevelSheet onClose={onClose} onFindParts={onClose} />);
    await typeGain('low', '-=4');
    expect(row('low').textContent).toMatch(/By hand: −4\.0 dB/);
    await typeGain('low', '');
    expect(row('low').textContent).not.toMatch(/By hand/);
    await typeGain('low', '99');
    expect((await screen.findByRole('tooltip')).textContent).toMatch(/number from −72 to \+48 dB/);
    fireEvent.keyDown(within(row('low')).getByRole('textbox'), { key: 'Escape' });
    await typeGain('low', '5,5');
    await userEvent.click(button(/^Apply 2 gains/));
    expect(gainOf('low')).toBe(5.5);
    expect(clipOf('low').gain.reason).toEqual({ kind: 'byHand' });
  });

  it('a preview shows and measures it, and goes with the sheet', async () => {
    show(<LevelSheet onClose={onClose} onFindParts={onClose} />);
    await userEvent.click(button(/^Preview/));
    await waitFor(() => expect(session.state.preview).not.toBeNull());
    await waitFor(() => expect(session.state.measuring).toBeNull());
    expect(session.state.programme!.figures.integratedLufs).toBeCloseTo(-23, 1);
    cleanup();
    expect([session.state.preview, session.state.ghosts.size]).toEqual([null, 0]);
  });

  it('a goal that is no number is refused, and nothing can be applied', () => {
    show(<LevelSheet onClose={onClose} onFindParts={onClose} />);
    fireEvent.change(screen.getByRole('textbox', { name: /Target level/ }), { target: { value: 'loud' } });
    expect(screen.getByText(/number from/)).toBeDefined();
    expect(document.querySelector('[data-proposal]')).toBeNull();
  });

  it('Enter in a field takes its figure, and applies nothing', async () => {
    show(<LevelSheet onClose={onClose} onFindParts={onClose} />);
    const field = screen.getByRole('textbox', { name: /Target level/ });
    await userEvent.clear(field);
    await userEvent.type(field, '-25{Enter}{Enter}');
    expect(document.activeElement).toBe(field);
    expect(button(/^Apply 2 gains/)).toBeTruthy();
    expect([gainOf('low'), gainOf('high')]).toEqual([0, 0]);
    expect(onClose).not.toHaveBeenCalled();
  });
});

describe('the other proposals', () => {
  it('the programme’s shift takes a typed change, and is worked out from the programme at rest', async () => {
    await placeFiles(session, toneFile('a.wav', -30), toneFile('b.wav', -30));
    show(<ShiftSheet onClose={onClose} />);
    expect(row('Programme').textContent).toMatch(/−30\.0\+6\.99−23\.0/);
    await userEvent.click(button(/^Preview/));
    await waitFor(() => expect(session.state.preview).not.toBeNull());
    await waitFor(() => expect(session.state.measuring).toBeNull());
    expect(row('Programme').textContent).toMatch(/−30\.0\+6\.99−23\.0/);
    await typeGain('Programme', '3');
    await userEvent.click(button(/^Apply \+3\.00 dB to all/));
    expect(session.project.tracks.map(({ gainDb }) => gainDb)).toEqual([3]);
    expect([gainOf('a'), gainOf('b')]).toEqual([0, 0]);
    expect(session.state.history.past.at(-1)?.name).toBe('Change every track’s gain by +3.00 dB');
  });

  it('a part that stands out is applied by itself, and then stands out no more', async () => {
    const sound = noise(12 * 48_000, 0.05, 5);
    for (let i = 5 * 48_000; i < 8 * 48_000; i++) sound[i]! *= 5;
    await placeFiles(session, soundFile('shout.wav', [sound]));
    show(<PartsSheet onClose={onClose} />);
    expect(row('shout').textContent).toMatch(/LU over the rest/);
    await userEvent.click(button(/^Apply shout at .* alone/));
    expect(session.state.history.past.at(-1)?.name).toBe('Level a part of shout to the rest');
    expect(onClose).not.toHaveBeenCalled();
    await measured(session);
    await waitFor(() => expect(screen.getByText(/Nothing stands out/)).toBeDefined(), { timeout: 5_000 });
  });

  it('the plan shows each clip, and leaves out those that are not picked', async () => {
    await placeFiles(session, toneFile('a.wav', -30), toneFile('b.wav', -36));
    show(<PlanSheet onClose={onClose} />);
    await userEvent.click(button(/^Clips$/));
    await userEvent.click(screen.getByRole('checkbox', { name: 'Apply to b' }));
    await waitFor(() => expect(button(/^Apply plan/)).toHaveProperty('disabled', false), { timeout: 10_000 });
    await userEvent.click(button(/^Apply plan/));
    expect(gainOf('a')).toBeCloseTo(7, 1);
    expect(gainOf('b')).toBe(0);
    expect(session.project.plan?.name).toBe('Speech first');
  });

  it('sources get trims, and their clips too when asked', async () => {
    await placeFiles(session, toneFile('a.wav', -30));
    show(<LevelSources sources={session.project.sources} onClose={onClose} />);
    await userEvent.click(screen.getByRole('checkbox', { name: /Also for the 1 clip/ }));
    await userEvent.click(button(/^Trim 1 source/));
    expect(session.project.sources[0]!.trimDb).toBeCloseTo(7, 1);
    expect(session.project.clips[0]!.trimDb).toBe(session.project.sources[0]!.trimDb);
    act(() => session.undo());
    expect(session.project.sources[0]!.trimDb).toBe(0);
  });
});
