import { afterAll, describe, expect, it, vi } from 'vitest';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { addTarget, setThreshold } from '@/core/programme/edits/check';
import { noise, tones } from '@/core/testing/signals';
import { realWorkers } from '@/engine/testing/threads';
import { auditStore } from '../testing/memoryStores';
import { soundFile, toneFile } from '../testing/openSession';
import { Audit } from './audit';
import { auditRow } from './auditFile';
import { MendRun } from './mendRun';
import type { NamedBlob } from '../ui/saveMany';

vi.mock('@/storage/stores', () => import('../testing/memoryStores'));
await realWorkers();

const never = new AbortController().signal;
const audit = new Audit('visit');
afterAll(() => audit.close());

const settled = (of: Audit = audit): Promise<unknown> =>
  vi.waitFor(
    () => {
      if (of.store.getState().files.some(({ work }) => work !== null)) throw new Error('Not yet');
    },
    { timeout: 20_000, interval: 5 },
  );

const standings = (of: Audit = audit): string[] => {
  const { files, target, otherTargets } = of.store.getState();
  return files.map((file) => auditRow(file, [target, ...otherTargets]).standing);
};

/** Loud in one place: gain alone would go over. */
function withKnock(): globalThis.File {
  const x = noise(48_000 * 5, 0.05);
  for (let i = 100_000; i < 100_100; i++) x[i]! = 1;
  return soundFile('knock.wav', [x]);
}

describe('files under audit', () => {
  it('are measured and judged each by itself; a bad one stops no other', async () => {
    const bad = new File(['nothing of the kind'], 'bad.wav');
    const first = audit.add([toneFile('right.wav', -23), toneFile('loud.wav', -12), bad, withKnock()]);
    expect(first).toBe(audit.store.getState().files[0]!.id);
    await settled();
    expect(standings()).toEqual(['meets', 'misses', 'failed', 'misses']);
    expect(audit.store.getState().files[2]!.failure!.hint).toMatch(/\.$/);
    // What is large is kept aside.
    expect([...auditStore.items.keys()].filter((key) => key.startsWith('visit/'))).toHaveLength(3);
  });

  it('are on the list once', () => {
    const { file, id } = audit.store.getState().files[0]!;
    expect(audit.add([file])).toBe(id);
    expect(audit.store.getState().files).toHaveLength(4);
  });

  it('are held against other targets without being measured again', async () => {
    const video = SHIPPED_TARGETS.find(({ integratedLufs }) => integratedLufs === -14)!;
    audit.checkBy((by) => addTarget(by, video));
    await settled();
    const [file] = audit.store.getState().files;
    expect(auditRow(file!, [EBU_R128, video]).verdicts.map(({ meets }) => meets)).toEqual([true, false]);
    // Findings are those of all targets in force.
    expect(file!.checked!.breaks).toBeGreaterThan(0);
    audit.checkBy((by) => ({ ...by, otherTargets: [] }));
    await settled();
    expect(audit.store.getState().files[0]!.checked!.breaks).toBe(0);
  });

  it('are looked through by thresholds that can be changed', async () => {
    const knock = audit.store.getState().files[3]!;
    const before = knock.checked!.looks;
    expect(before).toBeGreaterThan(0);
    audit.checkBy((by) => setThreshold(by, 'clippedSamples', 200));
    await settled();
    expect(audit.file(knock.id)!.checked!.looks).toBeLessThan(before);
    audit.checkBy((by) => ({ ...by, thresholds: {} }));
    await settled();
  });

  it('are told when somebody speaks by hand, and judged by it', async () => {
    const { id } = audit.store.getState().files[1]!;
    audit.setSpeech(id, [
      { from: 1, to: 2 },
      { from: 1.5, to: 3 },
    ]);
    await settled();
    const { spoken } = audit.file(id)!.checked!.judged;
    expect(spoken!.lufs).toBeCloseTo(-12, 1);
    expect(spoken!.sharePercent).toBeCloseTo(50, 1);
    audit.setSpeech(id, null);
    await settled();
    expect(audit.file(id)!.checked!.judged.spoken).toBeNull();
  });

  it('are mended by gain, or with a limiter where that is allowed, and proved by what was written', async () => {
    const [right, loud, , knock] = audit.store.getState().files;
    const nothing = (): void => undefined;
    expect(await audit.mend(right!.id, 'gain', never, nothing)).toEqual({
      left: 'It meets the target as it is; it is left alone.',
    });
    const gained = await audit.mend(loud!.id, 'gain', never, nothing);
    expect('mended' in gained && gained.mended).toMatchObject({ wrong: [], limitedDb: null });
    expect('mended' in gained && gained.mended.verdict.meets).toBe(true);
    const left = await audit.mend(knock!.id, 'gain', never, nothing);
    expect('left' in left && left.left).toMatch(/Gain alone cannot fix it\./);
    const limited = await audit.mend(knock!.id, 'limiter', never, nothing);
    expect('mended' in limited && limited.mended.verdict.meets).toBe(true);
    expect('mended' in limited && limited.mended.limitedDb).toBeGreaterThan(0.5);
    expect('mended' in limited && limited.mended.name).toMatch(/ dB limited\.wav$/);
  });

  it('have their exact true peak worked out where the ceiling may depend on it, once', async () => {
    const [right, , , knock] = audit.store.getState().files;
    for (const { id } of [right!, knock!]) audit.findExact(id);
    await settled();
    expect(audit.file(right!.id)!.exactPeakDbtp).toBeNull();
    const { exactPeakDbtp, checked, turn } = audit.file(knock!.id)!;
    expect(exactPeakDbtp).toBeGreaterThan(checked!.judged.truePeakDbtp! - 0.3);
    audit.findExact(knock!.id);
    await settled();
    expect(audit.file(knock!.id)!.turn).toBe(turn);
  });

  it('are mended together, with a report; what fails or stays is told', async () => {
    const run = new MendRun(audit);
    const saved: NamedBlob[] = [];
    const ids = audit.store.getState().files.flatMap(({ id, checked }) => (checked ? [id] : []));
    await run.start(ids, 'gain', async (files) => {
      for await (const file of files) saved.push(file);
    });
    const { lines, running, failure } = run.store.getState();
    expect([running, failure]).toEqual([false, null]);
    expect(lines.map(({ state }) => state)).toEqual(['left', 'saved', 'left']);
    expect(saved.map(({ name }) => name)).toEqual([expect.stringMatching(/^loud −11/), 'report.csv']);
    expect(await saved[1]!.blob.text()).toMatch(/^file,savedAs,gainDb/);
    // It is not kept here any longer.
    expect(audit.store.getState().files[1]!.mended).toMatchObject({ blob: null });
  });

  it('say where they cannot be saved', async () => {
    const run = new MendRun(audit);
    await run.start([audit.store.getState().files[1]!.id], 'gain', () =>
      Promise.reject(new Error('No room')),
    );
    expect(run.store.getState().failure!.message).toBe('It could not be saved: No room');
  });

  it('can be stopped while they wait, and measured later', async () => {
    const own = new Audit('other');
    const long = soundFile('long.wav', tones([{ dbfs: -20, seconds: 60 }], 48_000, 2));
    own.add([long, toneFile('b.wav', -20), toneFile('c.wav', -20), toneFile('d.wav', -20)]);
    own.cancelAll();
    await settled(own);
    expect(standings(own)).toEqual(['waiting', 'waiting', 'waiting', 'waiting']);
    const { files } = own.store.getState();
    own.again(files[3]!.id);
    await settled(own);
    expect(standings(own)[3]).toBe('misses');
    own.remove(new Set([files[3]!.id]));
    expect(own.store.getState().files).toHaveLength(3);
    await vi.waitFor(() => expect(auditStore.items.has(`other/${files[3]!.id}`)).toBe(false), {
      timeout: 20_000,
    });
    own.close();
  });

  it('stay in memory where they cannot be kept aside', async () => {
    auditStore.full = true;
    const own = new Audit('full');
    own.add([toneFile('a.wav', -23)]);
    await settled(own);
    auditStore.full = false;
    expect(standings(own)).toEqual(['meets']);
    expect(await own.details(own.store.getState().files[0]!.id, never)).toHaveProperty('ok.levels');
    own.close();
  });
});
