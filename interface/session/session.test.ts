import { createHash } from 'node:crypto';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { setSampleRate } from '@/core/programme/edits/settings';
import { changeLevel } from '@/core/programme/edits/groups';
import { getSummary } from '@/storage/summaries';
import type { ProgrammeSummary } from '@/engine/protocol';
import { realWorkers } from '@/engine/testing/threads';
import { projectStore } from '../testing/memoryStores';
import { cutActions } from '../programme/cutActions';
import { measured, openSession, placeFiles, toneFile, until } from '../testing/openSession';
import type { FileLine } from './deliveries/fileLine';
import type { Session } from './session';

vi.mock('@/storage/stores', () => import('../testing/memoryStores'));

await realWorkers();
const RATE = 48_000;

let session: Session;
afterEach(() => session.close());

const open = async (): Promise<void> => void (session = await openSession());
const placed = (...files: File[]): Promise<void> => placeFiles(session, ...files);
const wav = toneFile;

describe('a session', () => {
  it('brings files in, measures them, and tells of each that it cannot read', async () => {
    await open();
    const bad = new File(['no sound at all'], 'notes.wav');
    await session.addFiles([wav('a.wav', -20), bad, wav('b.wav', -30)]);
    expect(session.project.sources.map(({ name }) => name).sort()).toEqual(['a.wav', 'b.wav']);
    expect(session.state.imports).toMatchObject([{ name: 'notes.wav', phase: 'failed' }]);
    session.imports.dismiss(session.state.imports[0]!.id);
    expect(session.state.imports).toEqual([]);
    const figures = [...session.state.sourceMeasurements.values()].map((one) => one.figures.integratedLufs!);
    expect(figures.sort((x, y) => x - y).map((lufs) => Math.round(lufs))).toEqual([-30, -20]);
    // One step for all of them, which undo takes back.
    session.undo();
    expect(session.project.sources).toEqual([]);
  });

  it('lists files as people count, whichever came in first', async () => {
    await open();
    await session.addFiles([wav('take-10.wav', -20), wav('take-2.wav', -30), wav('take-1.wav', -25)]);
    expect(session.project.sources.map(({ name }) => name)).toEqual([
      'take-1.wav',
      'take-2.wav',
      'take-10.wav',
    ]);
  });

  it('cancels what is on its way in', async () => {
    await open();
    const coming = session.addFiles([wav('long.wav', -20, 90)]);
    await until(session, ({ imports }) => imports.length === 1);
    session.imports.cancel(session.state.imports[0]!.id);
    await coming;
    expect([session.state.imports, session.project.sources]).toEqual([[], []]);
  });

  it('measures the programme after every step, undo among them, and saves it', async () => {
    await open();
    await placed(wav('a.wav', -20));
    const before = session.state.programme!.figures.integratedLufs!;
    expect(session.measurer.atRest(session.project)).toBe(session.state.programme);
    session.do('Lower', (project) => changeLevel(project, new Set(['c0']), { kind: 'change', db: -6 }));
    expect(session.measurer.atRest(session.project)).toBeNull();
    expect((await measured(session)).programme!.figures.integratedLufs).toBeCloseTo(before - 6, 4);
    session.undo();
    expect((await measured(session)).programme!.figures.integratedLufs).toBeCloseTo(before, 6);
    await session.saving.settled();
    expect(session.state.save).toBe('saved');
    expect([...projectStore.items.keys()]).toContain('p');
  });

  it('what comes of a measurement after another change is still of an older state', async () => {
    await open();
    await placed(wav('a.wav', -20));
    const { programme } = session.state;
    const before = programme!.figures.integratedLufs!;
    const lower = (): void =>
      session.do('Lower', (project) => changeLevel(project, new Set(['c0']), { kind: 'change', db: -6 }));
    let end: (outcome: { ok: ProgrammeSummary }) => void;
    const measure = vi
      .spyOn(session.engine, 'measure')
      .mockImplementationOnce(() => new Promise((resolve) => (end = resolve)));
    lower();
    await vi.waitFor(() => expect(measure).toHaveBeenCalledOnce());
    lower();
    end!({ ok: programme! });
    await Promise.resolve();
    await Promise.resolve();
    expect(measure).toHaveBeenCalledOnce();
    expect(session.state.measuring).toBe(0);
    expect((await measured(session)).programme!.figures.integratedLufs).toBeCloseTo(before - 12, 4);
  });

  it('says when it cannot be saved, and goes on', async () => {
    await open();
    projectStore.full = true;
    session.do('Rename', (project) => ({ ...project, name: 'Other' }));
    await session.saving.settled();
    expect(session.state.save).toMatchObject({ hint: expect.any(String) as string });
    projectStore.full = false;
    session.saving.save();
    await session.saving.settled();
    expect(session.state.save).toBe('saved');
  });

  it('while a gain moves, says at once what will be measured once it rests', async () => {
    await open();
    await placed(wav('a.wav', -20), wav('b.wav', -28));
    session.select(['c1']);
    session.prepare(new Set(['c1']));
    await vi.waitFor(() => {
      session.previewGain(new Set(['c1']), 5);
      if (!session.state.moved) throw new Error('No sums yet');
    }, 20_000);
    const predicted = session.state.moved!.integratedLufs!;
    expect(session.state.preview!.clips[1]!.gain.db).toBe(5);
    session.do('Raise', (project) => changeLevel(project, new Set(['c1']), { kind: 'change', db: 5 }));
    expect((await measured(session)).programme!.figures.integratedLufs).toBeCloseTo(predicted, 4);
  });

  it('a gain that is typed is told at once as well', async () => {
    await open();
    await placed(wav('a.wav', -20), wav('b.wav', -28));
    const before = session.state.programme!.figures.integratedLufs!;
    session.select(['c1']);
    await vi.waitFor(() => {
      session.previewGain(new Set(['c1']), 1);
      if (!session.state.moved) throw new Error('No sums yet');
    }, 20_000);
    session.setPreview(null);
    await measured(session);
    session.do('Lower', (project) => changeLevel(project, new Set(['c1']), { kind: 'set', db: -4 }));
    const told = session.state.moved!.integratedLufs!;
    expect(told).not.toBeCloseTo(before, 1);
    expect((await measured(session)).programme!.figures.integratedLufs).toBeCloseTo(told, 4);
    expect(session.state.moved).toBeNull();
  });

  it('a preview that is taken back leaves everything as it was', async () => {
    await open();
    await placed(wav('a.wav', -20));
    const { project } = session;
    session.setPreview(changeLevel(project, new Set(['c0']), { kind: 'change', db: -9 }));
    await until(session, ({ measuring }) => measuring === null);
    session.setPreview(null);
    const { programme } = await measured(session);
    expect(session.project).toBe(project);
    expect(programme!.figures.integratedLufs).toBeCloseTo(-20, 1);
  });

  it('works out exact true peaks of clips and of sources when they are wanted', async () => {
    await open();
    await placed(wav('a.wav', -3, 0.5));
    await until(session, ({ clipMeasurements }) => clipMeasurements.size > 0);
    session.findExactPeaks(session.project.clips);
    const { clipMeasurements } = await until(session, ({ clipMeasurements: all }) =>
      [...all.values()].some(({ exactTruePeakDbtp }) => exactTruePeakDbtp !== undefined),
    );
    const exact = [...clipMeasurements.values()].find((one) => one.exactTruePeakDbtp !== undefined)!;
    expect(exact.exactTruePeakDbtp).toBeCloseTo(exact.figures.truePeakDbtp!, 0);
    session.findExactSourcePeaks(session.project.sources);
    const { exactSourcePeaks } = await until(session, ({ exactSourcePeaks: all }) => all.size === 1);
    expect([...exactSourcePeaks.values()][0]).toBeCloseTo(exact.exactTruePeakDbtp!, 3);
  });

  it('renders a file and measures it as it was predicted; meanwhile another run is not begun', async () => {
    await open();
    await placed(wav('a.wav', -23));
    const { figures } = session.state.programme!;
    const { handover, project } = session;
    const seen: FileLine[] = [];
    handover.store.subscribe(({ lines: now }) => seen.push(...now.values()));
    const first = handover.run(project, figures, project.deliveries, null);
    await handover.run(project, figures, [], null);
    await first;
    const { running, lines, failure } = handover.store.getState();
    const [line] = [...lines.values()];
    expect([running, failure, line?.failure, line?.state]).toEqual([false, null, null, 'done']);
    expect(line!.result!.figures.integratedLufs).toBeCloseTo(figures.integratedLufs!, 3);
    expect(line!.result!.verdict?.meets).toBe(true);
    // How it stands is known while its checksum is still on the way.
    const early = seen.find(({ measured }) => measured)!;
    expect(early.result).toBeNull();
    expect(early.measured).toMatchObject({
      ...{ figures: line!.result!.figures, verdict: line!.result!.verdict },
    });
    expect(seen.map(({ state }) => state)).toContain('hashing');
    const bytes = new Uint8Array(await line!.result!.blob!.arrayBuffer());
    expect(line!.result!.sha256).toBe(createHash('sha256').update(bytes).digest('hex'));
  });

  it('opens a cut, and tells of one that is none', async () => {
    await open();
    const cut = new File(
      [
        'TITLE: X\nFCM: NON-DROP FRAME\n001  HUT01  A  C  00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\n* FROM CLIP NAME: a.wav\n',
      ],
      'reel.edl',
    );
    await session.addFiles([cut, new File(['{'], 'torn.otio')]);
    await until(session, ({ cuts }) => cuts.length === 2 && cuts.every((one) => one.cut ?? one.failure));
    const [good, torn] = session.state.cuts;
    expect(good!.cut!.tracks.flatMap(({ clips }) => clips)).toHaveLength(1);
    expect(torn!.failure).toMatchObject({ hint: expect.any(String) as string });
  });

  it('compares with what it was, as loud as it is', async () => {
    await open();
    await placed(wav('a.wav', -20));
    session.do('Lower', (project) => changeLevel(project, new Set(['c0']), { kind: 'change', db: -8 }));
    await measured(session);
    const { comparison } = session.listening;
    comparison.setMatched(true);
    comparison.choose('lastStep');
    await vi.waitFor(() => expect(comparison.store.getState().shiftDb).toBeCloseTo(-8, 3));
    comparison.toggle();
    expect(comparison.heard(session.project)).toBe(session.project);
  });

  it('has a range that takes its ends in any order, and none that is a slip', async () => {
    await open();
    await placed(wav('a.wav', -20));
    const { listening } = session;
    listening.setRange(96_000, 48_000.4);
    expect(session.state.range).toEqual({ from: 48_000, to: 96_000 });
    listening.toggleLoop();
    const before = session.state;
    listening.setRange(10, 12);
    expect([session.state.range, session.state.looping]).toEqual([null, false]);
    listening.restoreRange(before);
    expect([session.state.range, session.state.looping]).toEqual([{ from: 48_000, to: 96_000 }, true]);
    listening.seek(9e9);
    expect(session.state.playhead).toBe(4 * RATE);
  });

  it('at another rate, everything stays where it is in time, and what plays goes on from there', async () => {
    await open();
    await placed(wav('a.wav', -20));
    const { listening } = session;
    listening.setRange(48_000, 96_000);
    listening.seek(24_000);
    cutActions.copy(session, new Set(['c0']));
    session.do('Rate', (project) => setSampleRate(project, 96_000));
    expect(session.state).toMatchObject({ playhead: 48_000, range: { from: 96_000, to: 192_000 } });
    listening.seek(0);
    cutActions.paste(session);
    expect(session.project.clips.map(({ length }) => length)).toEqual([384_000, 384_000]);
    session.undo();
    const play = vi.spyOn(listening.playback, 'play').mockResolvedValue();
    vi.spyOn(listening.playback, 'position').mockReturnValue(96_000);
    session.store.setState({ playing: true });
    session.undo();
    expect(play.mock.calls[0]!.slice(1, 2)).toEqual([48_000]);
    expect(play.mock.calls[0]![0].sampleRate).toBe(48_000);
    expect(session.state.range).toEqual({ from: 48_000, to: 96_000 });
  });

  it('tells the shelf how the programme stands', async () => {
    await open();
    await placed(wav('a.wav', -23));
    const summary = await vi.waitFor(async () => {
      const found = await getSummary('p');
      if (!found) throw new Error('Not yet');
      return found;
    });
    expect(summary.outcome).toBe('meets');
    expect(summary.integratedLufs).toBeCloseTo(session.state.programme!.figures.integratedLufs!, 9);
    expect(Math.max(...summary.skyline.map((lu) => lu ?? -99))).toBeCloseTo(0, 0);
    session.do('Raise', (project) => changeLevel(project, new Set(['c0']), { kind: 'change', db: 9 }));
    await vi.waitFor(async () => expect((await getSummary('p'))!.outcome).toBe('misses'), 5_000);
  });
});
