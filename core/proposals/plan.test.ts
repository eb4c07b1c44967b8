import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { programmeLayout } from '@/core/audio/layout';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { weightedEnergy, type SubBlockHistory } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import { baseDbOf, besidesDbOf } from '@/core/programme/clipGain';
import { trimClips } from '@/core/programme/edits/cutting';
import { changeGain } from '@/core/programme/edits/gain';
import { moveEverything } from '@/core/programme/edits/levels';
import { PLAIN_TRACK, programmeFrames, ROLES, type Project } from '@/core/programme/model';
import { SPEECH_FIRST } from '@/core/programme/plan';
import { clipKey } from '@/core/signal/clipKey';
import { clipSound } from '@/core/signal/clipSound';
import { measureClip, withBaseGain } from '@/core/measuring/measureClip';
import { renderRange } from '@/core/signal/mix';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { carriedOut, planPartOf, planProposal, planShift, planSteps, stepSentence } from './plan';
import { readPlan, writePlan } from './planFile';
import { ledgerRow } from './ledger';
import { levelProposal } from './levelProposal';
import { measuredClip, PLAIN_REQUEST, type MeasuredClip } from './proposal';
import { keepingEar } from './setByEar';
import { readAt } from '@/core/measuring/clipReading';

async function measured(project: Project): Promise<MeasuredClip[]> {
  const base = baseDbOf(project);
  const besides = besidesDbOf(project);
  return Promise.all(
    project.clips.map(async (clip) => {
      const source = project.sources.find(({ id }) => id === clip.sourceId)!;
      const sound = clipSound(project, clip)!;
      const measurement = (await measureClip(await openTestSource(source), sound, () => true))!;
      return measuredClip(clip, withBaseGain(measurement, base(clip)), {
        key: clipKey(project, clip),
        besidesDb: besides(clip),
      });
    }),
  );
}

async function programme(project: Project): Promise<SubBlockHistory> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project)));
  return meter.finish();
}

const levelOf = (history: SubBlockHistory) => ({
  blocks: gatingBlocks(weightedEnergy(history), history.sampleRate),
  truePeakDbtp: figuresOf(history).truePeakDbtp,
});

/** A plan from its first step to the shifted programme, as the product does it. */
async function carryOut(project: Project, release: ReadonlySet<string> = new Set()): Promise<Project> {
  const entries = await measured(project);
  const steps = planSteps(project, SPEECH_FIRST, entries, { release });
  const proposal = planProposal(SPEECH_FIRST, steps, entries);
  const planned = proposal.edit(project, proposal.rows);
  const shift = planShift(levelOf(await programme(planned)), project);
  return carriedOut(planned, SPEECH_FIRST, shift?.changeDb ?? 0);
}

/** A project with a track for every role. */
function withRoles(clips: Project['clips']): Project {
  const tracks = ROLES.map((role) => ({ id: role, name: role, role, ...PLAIN_TRACK }));
  return {
    ...testProject(),
    tracks,
    clips: clips.map((clip, i) => ({ ...clip, trackId: ROLES[i % ROLES.length]! })),
  };
}

describe('a plan', () => {
  it('carried out puts every part where it belongs and the programme at its target; again, it changes nothing', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, async (clips) => {
        // As they come: nothing was set by hand.
        const fresh = clips.map((clip) => ({
          ...clip,
          gain: { ...clip.gain, reason: { kind: 'asRecorded' } as const },
        }));
        const project = withRoles(fresh);
        const once = await carryOut(project);
        const figures = figuresOf(await programme(once));
        if (figures.integratedLufs !== null && figures.truePeakDbtp! < -1 - 0.01)
          expect(Math.abs(figures.integratedLufs + 23)).toBeLessThan(0.01);
        expect(figures.truePeakDbtp ?? -99).toBeLessThan(-1 + 0.001);
        const twice = await carryOut(once);
        expect(twice.clips).toEqual(once.clips);
        expect(twice.tracks).toEqual(once.tracks);
      }),
      { numRuns: 8 },
    );
  });

  it('does not take a move of the whole programme before it for its own, and follows another target after it', async () => {
    const clips = [
      testClip({ id: 'a', length: 96_000 }),
      testClip({ id: 'b', length: 96_000, start: 100_000 }),
    ];
    const raw = withRoles(clips);
    const moved = moveEverything(raw, -12.5);
    const goals = async (project: Project) =>
      planSteps(project, SPEECH_FIRST, await measured(project)).map(({ goal }) => goal);
    expect(await goals(moved)).toEqual(await goals(raw));
    expect((await goals(moved))[0]).toBe(-23);
    // Carried out at −23 LUFS and brought to a quieter target: no clip changes, the programme moves by the difference.
    const once = await carryOut(raw);
    const quieter = { ...once, target: { ...once.target, integratedLufs: -31 } };
    const twice = await carryOut(quieter);
    expect(twice.clips).toEqual(once.clips);
    expect(twice.tracks[0]!.gainDb - once.tracks[0]!.gainDb).toBeCloseTo(-8, 2);
    expect(figuresOf(await programme(twice)).integratedLufs).toBeCloseTo(-31, 2);
  });

  it('keeps the relation of the parts: music under speech, ambience further down', async () => {
    const long = { length: 96_000 };
    const project = withRoles([
      testClip({ id: 'a', ...long }),
      testClip({ id: 'b', ...long, start: 100_000 }),
      testClip({ id: 'c', sourceId: 's1', ...long }),
      testClip({ id: 'd', ...long, start: 250_000 }),
      testClip({ id: 'e', sourceId: 's3', ...long }),
    ]);
    const done = await carryOut(project);
    const entries = await measured(done);
    const lufs = entries.map(({ clip, measurement }) => readAt(measurement!, 'integrated', clip.gain.db)!);
    const [dialogue, narration, music, effects, ambience] = lufs as [number, number, number, number, number];
    expect(narration - dialogue).toBeCloseTo(0, 2);
    expect(music - dialogue).toBeCloseTo(-18, 2);
    expect(effects - dialogue).toBeCloseTo(-4, 2);
    expect(ambience - dialogue).toBeCloseTo(-20, 2);
    for (const { clip } of entries)
      expect(clip.gain.reason).toMatchObject({ kind: 'levelled', mode: 'plan' });
  });

  it('keeps gains set by hand unless they are released', async () => {
    const project = changeGain(
      withRoles([testClip({ id: 'a' }), testClip({ id: 'b', start: 200_000 })]),
      new Set(['a']),
      {
        kind: 'set',
        db: 3.25,
      },
    );
    const entries = await measured(project);
    const steps = planSteps(project, SPEECH_FIRST, entries);
    expect(steps[0]!.kept).toEqual(['a']);
    expect(stepSentence(steps[0]!)).toMatch(/no clips, 1 set by hand and left alone\.$/);
    expect((await carryOut(project)).clips[0]!.gain.db).toBe(3.25);
    expect((await carryOut(project, new Set(['a']))).clips[0]!.gain.db).not.toBe(3.25);
    expect((await carryOut(project, new Set(['b']))).clips[0]!.gain.db).toBe(3.25);
  });

  describe('and what was set by ear on a track or a group', () => {
    const byEar = { db: 2.5, lastChangeDb: 2.5, reason: { kind: 'byHand' } } as const;
    const clips = [
      testClip({ id: 'a', length: 96_000 }),
      testClip({ id: 'b', length: 96_000, start: 100_000 }),
      testClip({ id: 'c', sourceId: 's1', length: 96_000, start: 300_000 }),
      testClip({ id: 'd', length: 96_000, start: 400_000, groupId: 'g' }),
    ];
    const plain = withRoles(clips);
    const project: Project = {
      ...plain,
      groups: [{ id: 'g', name: 'Impacts', parentId: null, gain: byEar }],
      tracks: plain.tracks.map((track) => (track.role === 'music' ? { ...track, gainDb: 3 } : track)),
    };
    const lufsOf = async (state: Project): Promise<number[]> =>
      (await measured(state)).map(({ clip, measurement }) =>
        readAt(measurement!, 'integrated', clip.gain.db)!,
      );

    it('stays on top of the plan’s levels, is told, and is levelled when released', async () => {
      const done = await carryOut(project);
      const [dialogue, , music, effects] = (await lufsOf(done)) as [number, number, number, number];
      expect(music - dialogue).toBeCloseTo(-4 + 3, 2);
      expect(effects - dialogue).toBeCloseTo(-4 + 2.5, 2);
      expect(done.groups[0]!.gain).toEqual(byEar);
      const steps = planSteps(project, SPEECH_FIRST, await measured(project));
      expect(stepSentence(steps[3]!)).toMatch(/, the \+3\.0 dB of track music on top\.$/);
      expect(stepSentence(steps[4]!)).toMatch(/, the \+2\.5 dB of group Impacts on top\.$/);
      const [speech, , levelled] = await lufsOf(await carryOut(project, new Set(['music', 'g'])));
      expect(levelled! - speech!).toBeCloseTo(-4, 2);
    });

    it('carried out again, nothing changes; all stand right in the ledger too, whatever the shift', async () => {
      const once = await carryOut(project);
      expect(Math.abs(once.planAnchorLufs! - project.target.integratedLufs)).toBeGreaterThan(0.5);
      const twice = await carryOut(once);
      expect(twice.clips).toEqual(once.clips);
      const standings = (await measured(moveEverything(once, -2))).map(
        (entry) => ledgerRow(entry, project.target).state,
      );
      expect(standings).toEqual(['right', 'right', 'right', 'right']);
    });

    it('levelled each, gains set by hand and by ear stay; together they move along and stay by hand', async () => {
      const hand = changeGain(project, new Set(['b']), { kind: 'set', db: -1.5 });
      const entries = keepingEar(hand, await measured(hand), new Set());
      const request = { ...PLAIN_REQUEST, goal: -30, ceilingDbtp: -1 };
      const each = levelProposal(entries, request, {});
      expect(each.rows.map(({ skipped }) => skipped)).toEqual([null, 'byHand', null, null]);
      const after = await lufsOf(each.edit(hand, each.rows));
      expect(after[0]).toBeCloseTo(-30, 2);
      expect(after[2]).toBeCloseTo(-27, 2);
      expect(each.rows[2]!.sentence).toMatch(/set by ear, stay on top/);
      const together = levelProposal(entries, { ...request, mode: 'together' }, {});
      const moved = together.edit(hand, together.rows).clips;
      const changes = moved.map((clip, i) => clip.gain.db - hand.clips[i]!.gain.db);
      for (const change of changes) expect(change).toBeCloseTo(changes[0]!, 9);
      expect(moved[1]!.gain.reason).toEqual({ kind: 'byHand' });
    });
  });

  it('asked for what is new or stale only, leaves the rest to the bit', async () => {
    const done = await carryOut(withRoles([testClip({ id: 'a' }), testClip({ id: 'b', start: 200_000 })]));
    const cut = trimClips(done, new Set(['b']), 'end', 226_000);
    const entries = await measured(cut);
    const steps = planSteps(cut, SPEECH_FIRST, entries, { changedOnly: true });
    expect(steps.flatMap(({ rows }) => rows).map(({ id }) => id)).toEqual(['b']);
    const all = planSteps(cut, SPEECH_FIRST, entries).flatMap(({ rows }) => rows);
    expect(all.map(({ id }) => id)).toEqual(['a', 'b']);
  });

  it('levels sets made by hand together where a source would be', async () => {
    const clips = ['s0', 's1'].map((sourceId, i) =>
      testClip({ id: sourceId, sourceId, trackId: 'ambience', start: i * 300_000, setName: 'hut' }),
    );
    const project = { ...withRoles([]), clips };
    const [, , , , , ambience] = planSteps(project, SPEECH_FIRST, await measured(project));
    const changes = ambience!.rows.map((row) => row.gainAfterDb - row.gainBeforeDb);
    expect(changes).toHaveLength(2);
    expect(changes[0]).toBeCloseTo(changes[1]!, 9);
  });

  it('tells music under speech from music alone, and leaves alone what has no level', async () => {
    const project = withRoles([
      testClip({ id: 'a', start: 0, length: 100_000 }),
      testClip({ id: 'n', start: 900_000 }),
      testClip({ id: 'm', start: 20_000, length: 100_000 }),
    ]);
    const partOf = planPartOf(project);
    expect(project.clips.map(partOf)).toEqual(['dialogue', 'narration', 'musicUnder']);
    const alone = {
      ...project,
      clips: project.clips.map((clip) => (clip.id === 'm' ? { ...clip, start: 95_000 } : clip)),
    };
    expect(alone.clips.map(planPartOf(alone))[2]).toBe('musicAlone');
    const quiet = { ...SPEECH_FIRST, levels: { ...SPEECH_FIRST.levels, musicUnder: null } };
    const steps = planSteps(project, quiet, await measured(project));
    expect(steps[2]).toMatchObject({ part: 'musicUnder', goal: null, rows: [] });
    expect(stepSentence(steps[2]!)).toBe('Left as it is.');
  });

  it('is written and read as a file; what is none gets the reason', () => {
    expect(readPlan(writePlan(SPEECH_FIRST))).toEqual(SPEECH_FIRST);
    const wrong = (change: object): string =>
      JSON.stringify({ ...JSON.parse(writePlan(SPEECH_FIRST)), ...change });
    expect(readPlan('{')).toEqual({ error: 'This is not a plan: it is not JSON.' });
    for (const text of [
      wrong({ format: 'other' }),
      wrong({ name: '' }),
      wrong({ levels: {} }),
      wrong({
        levels: { ...SPEECH_FIRST.levels, dialogue: { ...SPEECH_FIRST.levels.dialogue, relativeLu: 99 } },
      }),
      '[]',
    ])
      expect(readPlan(text)).toEqual({ error: expect.stringMatching(/^This is not a plan: .+\.$/) });
  });
});
