import { afterEach, describe, expect, it, vi } from 'vitest';
import { verdictOf } from '@/core/check/verdict';
import { changeTrack } from '@/core/programme/edits/project';
import type { Source } from '@/core/programme/model';
import { realWorkers } from '@/engine/testing/threads';
import { audioStore, measurementStore, settingsStore } from '../testing/memoryStores';
import { measured, openSession, placeFiles, toneFile, until } from '../testing/openSession';
import { Session } from './session';
import { isAbsent, leftOut } from './sounds';

vi.mock('@/storage/stores', () => import('../testing/memoryStores'));

await realWorkers();

let session: Session;
afterEach(() => {
  audioStore.broken = false;
  session.close();
});

/** Opens the same project again after something happened to its sound. */
async function reopened(happens: (first: Source) => void): Promise<Source> {
  session = await openSession();
  await placeFiles(session, toneFile('a.wav', -23), toneFile('b.wav', -23));
  const { history } = session.state;
  await session.saving.settled();
  session.close();
  const first = history.project.sources.find(({ name }) => name === 'a.wav')!;
  happens(first);
  session = new Session(history);
  await session.open();
  await measured(session);
  return first;
}

function forget(source: Source): void {
  const audio = audioStore.items;
  for (const key of [...audio.keys()]) if (key.startsWith(source.audioKey)) audio.delete(key);
}

const lost = () => leftOut(session.project, (key) => !isAbsent(session.state.absent, key));
const notes = (): string[] => session.notes.store.getState().map(({ message }) => message);
const verdict = () =>
  verdictOf(session.state.programme!.figures, session.project.target, lost().clips.length);

describe('sound that is not there', () => {
  it('is told, left out by name, and never lets the programme meet its target', async () => {
    const gone = await reopened(forget);
    expect([...session.state.absent.missing]).toEqual([gone.audioKey]);
    expect(session.playable(session.project).clips).toHaveLength(1);
    expect(lost()).toMatchObject({ sources: ['a.wav'], clips: [{ name: 'a' }] });
    // What is there would meet it.
    expect(verdictOf(session.state.programme!.figures, session.project.target).meets).toBe(true);
    expect(verdict()).toMatchObject({ meets: null, leftOut: 1 });
    // Muted, nothing audible is left out.
    session.do('Mute', (project) => changeTrack(project, 'track', { muted: true }));
    expect(lost().clips).toEqual([]);
  });

  it('that cannot be read for now is not called missing, and comes back when it can', async () => {
    const unread = await reopened(() => (audioStore.broken = true));
    const { absent } = session.state;
    expect([absent.missing.size, absent.unread.get(unread.audioKey)?.message]).toEqual([
      0,
      expect.stringMatching(/Disk error/),
    ]);
    expect(lost().clips).toHaveLength(2);
    audioStore.broken = false;
    await session.open();
    await measured(session);
    expect([lost().clips, verdict().meets]).toEqual([[], true]);
  });

  it('comes back with the same file, whatever its name; clips, gains and undo stay', async () => {
    const gone = await reopened(forget);
    const { history } = session.state;
    await session.relinks.files([toneFile('elsewhere.wav', -40, 3)]);
    expect(notes().join()).toMatch(/elsewhere\.wav is none of the files whose sound is missing/);
    await session.relinks.one(gone, toneFile('renamed.wav', -23));
    await until(session, ({ absent }) => absent.missing.size === 0);
    await measured(session);
    expect(session.state.history).toBe(history);
    expect([verdict().meets, verdict().leftOut]).toEqual([true, 0]);
    expect(notes().join()).toMatch(/a\.wav has its sound again/);
  });

  it('another file is asked about, with what differs, and stands for it as a step', async () => {
    const gone = await reopened(forget);
    const done = session.relinks.files([toneFile('a.wav', -33, 3)]);
    const { imports } = await until(session, ({ imports }) => imports[0]?.phase === 'differs');
    expect(imports[0]!.differs).toEqual({
      of: 'a.wav',
      differences: ['0:03.000 long in place of 0:04.000', 'it sounds different'],
    });
    session.imports.choose(imports[0]!.id, [0]);
    await done;
    await measured(session);
    expect(session.state.history.past.at(-1)?.name).toBe('Relink a.wav to a.wav');
    expect(session.project.clips.map(({ sourceId }) => sourceId)).toContain(gone.id);
    expect(lost().clips).toEqual([]);
    session.undo();
    await until(session, () => lost().clips.length === 1);
  });
});

describe('what is told', () => {
  it('of several failures, each is', async () => {
    await reopened(() => undefined);
    const files = session.project.sources;
    session.close();
    measurementStore.items.clear();
    // Sound that is damaged in the browser's storage.
    for (const { audioKey } of files) {
      const key = `${audioKey}/0`;
      const { size } = audioStore.items.get(key) as Blob;
      audioStore.items.set(key, new Blob([new Uint8Array(size)]));
    }
    session = new Session(session.state.history);
    await session.open();
    await vi.waitFor(() => {
      for (const name of ['a.wav', 'b.wav'])
        expect(notes().filter((message) => message.startsWith(`${name}: `))).toHaveLength(1);
    });
  });

  it('files that were on their way in when the page was left are named', async () => {
    session = await openSession();
    const coming = session.addFiles([toneFile('long.wav', -20, 60)]);
    await until(session, ({ imports }) => imports.length === 1);
    expect(session.isBringingIn).toBe(true);
    const { history } = session.state;
    // The page goes without a word: nothing is cancelled first.
    const kept = new Map(settingsStore.items);
    session.close();
    await coming;
    settingsStore.items.clear();
    for (const [key, value] of kept) settingsStore.items.set(key, value);
    session = new Session(history);
    await vi.waitFor(() =>
      expect(notes()).toEqual(['The page was closed while these were importing: long.wav.']),
    );
    session.close();
    const left = (): unknown => settingsStore.items.get('preference-coming in p');
    await vi.waitFor(() => expect(left()).toEqual([]));
  });
});
