import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { STEREO, SURROUND_5_1 } from '@/core/audio/layout';
import type { SoundWriter } from '@/core/audio/soundWriter';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { changeGain } from '@/core/programme/edits/gain';
import { plainDelivery, WAV_24, type Delivery } from '@/core/programme/delivery';
import { readProject, SCHEMA_VERSION } from '@/core/programme/migrations';
import { programmeFrames, type Limiter, type Project } from '@/core/programme/model';
import { projectFault } from '@/core/programme/projectSchema';
import type { ReadSound } from '@/core/signal/limiter/limitedReader';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { EVERYTHING, renderRange } from '@/core/signal/mix';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { memoryReader, noise, tones } from '@/core/testing/signals';
import { correctMix, measureMix } from './correctMix';
import { deliveredSound, shaped } from './deliveredSound';
import { deliveryFault, filesOf, sameNames } from './deliveryFiles';
import { readDeliveries, writeDeliveries } from './deliverySet';
import { deliveryWords } from './deliveryWords';
import { asKind, becomesRf64, formatWords } from './fileKinds';
import { nameBy, patternFault } from './fileNames';
import { fileSaid } from './fileSaid';
import { hearingOf, mixSounds, WHOLE_MIX } from './mixSounds';
import { produceFiles, type FileTask } from './produce';
import { staleReason } from './staleness';
import { StemSum, stemSets, stemSumWords } from './stemSum';

const TODAY = '2026-01-31';
const PLAIN = { layoutId: null, sampleRate: null, headSeconds: 0, tailSeconds: 0 };
const always = (): boolean => true;
const HARD: Limiter = { ...SPEECH_AND_MUSIC, ceilingDbtp: -18, inputDb: 6 };

/** The largest difference of a sample between a sound and the sum of others. */
async function furthestApart(whole: ReadSound, parts: readonly ReadSound[]): Promise<number> {
  const { frames } = whole.format;
  const all = await whole.read(0, frames);
  const read = await Promise.all(parts.map((part) => part.read(0, frames)));
  let most = 0;
  all.forEach((channel, c) =>
    channel.forEach((x, i) => {
      most = Math.max(most, Math.abs(read.reduce((total, part) => total + part[c]![i]!, 0) - x));
    }),
  );
  return most;
}

/** Two tracks, dialogue and music, over 9 s; a marker at 2 and at 5 s. */
const project: Project = {
  ...testProject([
    testClip({ id: 'a' }),
    testClip({ id: 'b', sourceId: 's1', start: 240_000 }),
    testClip({ id: 'm', sourceId: 's3', trackId: 't1', start: 48_000 }),
  ]),
  name: 'Reel',
  markers: [
    { id: 'm1', at: 96_000, name: 'Cold' },
    { id: 'm2', at: 240_000, name: 'Warm' },
  ],
};
const delivery = (change: Partial<Delivery> = {}): Delivery => ({
  ...plainDelivery('d', EBU_R128),
  ...change,
});
const named = (change: Partial<Delivery>): readonly string[] =>
  filesOf(project, delivery(change), TODAY).map(({ name }) => name);

describe('names of files', () => {
  it('have fields, and leave nothing behind where one has no value', () => {
    expect(nameBy('{project} {target} {date}', { project: 'Reel', target: 'EBU R 128', date: TODAY })).toBe(
      'Reel EBU R 128 2026-01-31',
    );
    expect(nameBy('{project} - {role}_{version}', { project: 'Reel', version: 'v2' })).toBe('Reel_v2');
    expect(nameBy('{project}', { project: 'a/b:c\u202e' })).toBe('a b c');
    expect(nameBy('{role}', {})).toBe('Untitled');
    expect(nameBy('con', {})).toBe('con_');
  });

  it('say what is wrong with a pattern', () => {
    expect(patternFault('{project} {reel}')).toMatch(/\{reel\} is no field\. There are: \{project\}/);
    expect(patternFault('{project')).toMatch(/brace/);
    expect(patternFault('  ')).toMatch(/Give the files a name/);
    expect(patternFault('{project} final')).toBeNull();
  });

  it('never lead out of a folder, whatever a project is called', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (name) => {
        const made = nameBy('{project}', { project: name });
        expect(made).not.toMatch(/[\\/\u0000-\u001f]/);
        expect(made.replace(/\./g, '')).not.toBe('');
        expect(made.length).toBeLessThanOrEqual(181);
      }),
    );
  });

  it('that would be the same are told', () => {
    const files = [delivery(), delivery({ id: 'e', format: { ...WAV_24, kind: 'bwf' } })].flatMap((one) =>
      filesOf(project, one, TODAY),
    );
    expect(sameNames(files)).toEqual(['Reel.wav']);
  });
});

describe('the files of a delivery', () => {
  it('are one for the programme, one for each role, track or span between markers', () => {
    expect(named({})).toEqual(['Reel.wav']);
    expect(named({ pattern: '{project} {role}', what: { kind: 'roles' } })).toEqual([
      'Reel dialogue.wav',
      'Reel music.wav',
    ]);
    expect(named({ pattern: '{track}', what: { kind: 'tracks', trackIds: ['t1'] } })).toEqual(['Music.wav']);
    expect(named({ pattern: '{number} {marker}', range: { kind: 'markers' } })).toEqual([
      '1 Cold.wav',
      '2 Warm.wav',
    ]);
    expect(named({ pattern: '{project} {role}', what: { kind: 'without', roles: ['dialogue'] } })).toEqual([
      'Reel without dialogue.wav',
    ]);
    expect(named({ format: asKind(WAV_24, 'mkv') })).toEqual(['Reel.mka']);
  });

  it('begin and end where they should, handles included', () => {
    const spans = filesOf(project, delivery({ range: { kind: 'markers' }, handleSeconds: 1 }), TODAY);
    expect(spans.map(({ from, to }) => [from, to])).toEqual([
      [48_000, 288_000],
      [192_000, programmeFrames(project) + 48_000],
    ]);
  });

  it('are none, with the reason, where nothing of it sounds or it cannot be written so', () => {
    const fault = (change: Partial<Delivery>, of = project): string | null =>
      deliveryFault(of, delivery(change));
    expect(fault({})).toBeNull();
    expect(fault({}, testProject())).toMatch(/nothing to render yet/);
    expect(fault({ what: { kind: 'clips', clipIds: [] } })).toMatch(/None of what it asks for sounds/);
    expect(fault({ range: { kind: 'markers' } }, { ...project, markers: [] })).toMatch(/no markers/);
    expect(fault({ format: asKind(WAV_24, 'opus'), sampleRate: 44_100 })).toMatch(/44,100 Hz/);
    const wide = { ...project, layoutId: '5.1' };
    expect(fault({ format: asKind(WAV_24, 'mp3') }, wide)).toMatch(/stereo at most here/);
    expect(fault({ format: asKind(WAV_24, 'mp3'), layoutId: 'stereo' }, wide)).toBeNull();
    const long = testProject([testClip({ id: 'x', start: 48_000 * 9 * 3_600 })]);
    expect(fault({ format: asKind(WAV_24, 'aiff') }, long)).toMatch(/at most 4 GB/);
    expect(becomesRf64(long, delivery(), programmeFrames(long))).toBe(true);
    expect(becomesRf64(project, delivery(), programmeFrames(project))).toBe(false);
  });

  it('are told in one line', () => {
    expect(
      deliveryWords(
        project,
        delivery({
          what: { kind: 'roles' },
          range: { kind: 'range', from: 0, to: 96_000 },
          ...{ handleSeconds: 2, correction: 'gain', format: { ...WAV_24, depth: 's16' } },
        }),
      ),
    ).toBe(
      'A stem for each role · 0:00.0 to 0:02.0 · handles of 2 s · WAV, 16-bit, dithered · corrected by gain',
    );
    expect(formatWords(asKind(WAV_24, 'opus'))).toBe('Opus, 192 kbit/s');
  });
});

describe('a mix heard by several taps', () => {
  it('is the same, frame by frame, as rendered by itself; outside it is silent', async () => {
    const taps = [EVERYTHING, ({ trackId }: { readonly trackId: string }) => trackId === 't1'];
    const [from, to] = [-24_000, programmeFrames(project) + 24_000];
    const sounds = mixSounds(
      project,
      openTestSource,
      from,
      to,
      taps.map((tap) => ({ tap, stem: false })),
    );
    for (const [i, sound] of sounds.entries()) {
      for (const [start, count] of [
        [0, 100_000],
        [190_000, 50_011],
        [to - from - 1_000, 3_000],
      ] as const) {
        const [got, expected] = [
          await sound.read(start, count),
          await renderRange(project, openTestSource, from + start, count, taps[i]),
        ];
        const within = Math.min(count, to - from - start);
        got.forEach((channel, c) => {
          expect(channel.subarray(0, within)).toEqual(expected[c]!.subarray(0, within));
          expect(channel.subarray(within).every((x) => x === 0)).toBe(true);
        });
      }
    }
  });

  it.each([
    ['without limiters', {}],
    ['with a limiter on the programme that works hard', { limiter: { ...HARD, lfeApart: false } }],
    [
      'with limiters on a track and on the programme, and curves',
      {
        limiter: HARD,
        curve: [
          { at: 48_000, db: 0 },
          { at: 96_000, db: -6 },
        ],
        tracks: project.tracks.map((track, i) => (i === 0 ? { ...track, limiter: HARD } : track)),
      },
    ],
  ] satisfies readonly [string, Partial<Project>][])('stems add up to it %s', async (_, change) => {
    const of = { ...project, ...change };
    for (const what of [{ kind: 'roles' }, { kind: 'tracks', trackIds: [] }] as const) {
      const files = filesOf(of, delivery({ pattern: '{role}{track}', what }), TODAY);
      const frames = programmeFrames(of);
      const hearings = [WHOLE_MIX, ...files.map(({ clipIds }) => hearingOf(clipIds))];
      const [whole, ...stems] = mixSounds(of, openTestSource, 0, frames, hearings);
      // Rendered without a tap of the whole, a stem is the same.
      const [alone] = mixSounds(of, openTestSource, 0, frames, hearings.slice(1, 2));
      expect(await alone!.read(0, frames)).toEqual(await stems[0]!.read(0, frames));
      expect(stems).toHaveLength(2);
      expect(await furthestApart(whole!, stems)).toBeLessThanOrEqual(2 ** -22);
    }
  });

  it('a limiter of the delivery takes off the stems what it takes off the mix', async () => {
    const frames = programmeFrames(project);
    const files = filesOf(project, delivery({ pattern: '{role}', what: { kind: 'roles' } }), TODAY);
    const hearings = [WHOLE_MIX, ...files.map(({ clipIds }) => hearingOf(clipIds))];
    const [mix, ...parts] = mixSounds(project, openTestSource, 0, frames, hearings);
    const given = { gainDb: 9, limiter: { ...HARD, inputDb: 0 } };
    const treatment = { ...PLAIN, sampleRate: 44_100, headSeconds: 0.5 };
    const whole = deliveredSound(mix!, treatment, given);
    const stems = parts.map((part) => deliveredSound(part, treatment, given, mix!));
    expect(await furthestApart(whole, stems)).toBeLessThanOrEqual(2 ** -21);
    // Each through the limiter by itself does not: that is what went out before.
    const apart = parts.map((part) => deliveredSound(part, treatment, given));
    expect(await furthestApart(whole, apart)).toBeGreaterThan(0.01);
  });

  it('is held against the sum of its stems while they are made; a stem that is missing leaves it open', async () => {
    const files = filesOf(project, delivery({ pattern: '{role}', what: { kind: 'roles' } }), TODAY);
    const [set] = stemSets(project, files);
    expect(set!.keys).toEqual(new Set(files.map(({ key }) => key)));
    // One track of two, and everything but dialogue, are not the whole mix.
    for (const what of [
      { kind: 'tracks', trackIds: ['t1'] },
      { kind: 'without', roles: ['dialogue'] },
    ] as const)
      expect(stemSets(project, filesOf(project, delivery({ what }), TODAY))).toEqual([]);
    const frames = programmeFrames(project);
    const [mix, a, b] = mixSounds(project, openTestSource, 0, frames, [
      WHOLE_MIX,
      ...files.map(({ clipIds }) => hearingOf(clipIds)),
    ]);
    const made = async (stems: readonly ReadSound[], change = 0) => {
      const sum = new StemSum(mix!, 2);
      // In step, as they are made.
      for (let at = 0; at < frames; at += 96_000)
        for (const stem of stems) {
          const piece = await stem.read(at, Math.min(96_000, frames - at));
          if (change !== 0) piece[0]![10] = piece[0]![10]! + change;
          await sum.take(piece, at);
        }
      return sum.result;
    };
    expect((await made([a!, b!]))!.largest).toBeLessThanOrEqual(2 ** -22);
    expect(await made([a!])).toBeNull();
    // However long it is, nothing is kept for a stem that is no longer made.
    let read = 0;
    const long = {
      format: mix!.format,
      read: (_: number, n: number) => (read++, Promise.resolve([new Float32Array(n)])),
    };
    const alone = new StemSum(long, 2);
    for (let k = 0; k < 50; k++) await alone.take([new Float32Array(10)], k * 10);
    expect([alone.result, read < 10]).toEqual([null, true]);
    expect(stemSumWords((await made([a!, b!], NaN))!, delivery()).addsUp).toBe(false);
    const wrong = (await made([a!, b!], 0.25))!;
    expect(wrong.largest).toBeCloseTo(0.5, 5);
    expect(stemSumWords(wrong, delivery())).toEqual({
      addsUp: false,
      sentence: 'The 2 stems do not add up to the mix: samples differ by up to −6.0 dBFS.',
    });
    expect(stemSumWords({ stems: 2, largest: 2 ** -24 }, delivery()).sentence).toBe(
      'The 2 stems add up to the mix: no sample differs by more than −144.5 dBFS, before they are encoded.',
    );
  });
});

describe('the sound of a file', () => {
  const surround = memoryReader(
    SURROUND_5_1.labels.map((_, c) => noise(48_000, 0.2, c + 1)),
    48_000,
    SURROUND_5_1,
  );

  it('is folded down as ITU-R BS.775 says', async () => {
    const [left] = await shaped(surround, { ...PLAIN, layoutId: 'stereo' }).read(100, 500);
    const [l, , c, , ls] = await surround.read(100, 500);
    left!.forEach((x, i) => expect(x).toBeCloseTo(l![i]! + Math.SQRT1_2 * (c![i]! + ls![i]!), 6));
  });

  it('has its rate, and silence before and behind, to the frame', async () => {
    const [tone] = tones([{ dbfs: -20, seconds: 1 }], 48_000, 1);
    const sound = deliveredSound(
      memoryReader([tone!, tone!], 48_000, STEREO),
      { ...PLAIN, sampleRate: 96_000, headSeconds: 0.5, tailSeconds: 0.25 },
      { gainDb: -6, limiter: null },
    );
    expect(sound.format).toMatchObject({ sampleRate: 96_000, frames: 96_000 * 1.75 });
    const [all] = await sound.read(0, sound.format.frames);
    expect(all!.subarray(0, 48_000).every((x) => x === 0)).toBe(true);
    expect(all!.subarray(144_000).every((x) => x === 0)).toBe(true);
    const peak = all!.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(20 * Math.log10(peak)).toBeCloseTo(-26, 1);
    const [piece] = await sound.read(40_000, 20_000);
    expect(piece).toEqual(all!.subarray(40_000, 60_000));
  });
});

describe('a correction', () => {
  const mix = memoryReader(tones([{ dbfs: -30, seconds: 12 }], 48_000), 48_000);
  const lufs = async (sound: ReturnType<typeof deliveredSound>): Promise<number> => {
    const reader = { ...mix, format: { ...mix.format, ...sound.format }, read: sound.read };
    return figuresOf((await measureReader(reader, always))!.history).integratedLufs!;
  };

  it('brings it to each target, and leaves alone what meets it', async () => {
    const measured = (await measureMix(mix, PLAIN, always))!;
    for (const target of SHIPPED_TARGETS.filter(({ anchor }) => anchor === undefined)) {
      const correction = await correctMix(mix, PLAIN, measured, target, 'gain', [], always);
      if (typeof correction === 'string' || !correction) throw new Error(`${target.name}: ${correction}`);
      const after = await lufs(deliveredSound(mix, PLAIN, { ...correction, limiter: null }));
      expect(after).toBeCloseTo(target.integratedLufs, 2);
      expect(correction.predicted.integratedLufs).toBeCloseTo(after, 3);
    }
    const near = { ...EBU_R128, integratedLufs: measured.figures.integratedLufs! + 0.3 };
    expect(await correctMix(mix, PLAIN, measured, near, 'gain', [], always)).toMatch(/left alone/);
  });

  it('takes a limiter only where gain alone does not do it, and where that is wanted', async () => {
    const peaky = memoryReader(
      tones([{ dbfs: -30, seconds: 12 }], 48_000).map((channel) =>
        channel.map((x, i) => (i % 96_000 === 0 ? 0.8 : x)),
      ),
      48_000,
    );
    const measured = (await measureMix(peaky, PLAIN, always))!;
    const target = { ...EBU_R128, integratedLufs: -20 };
    expect(await correctMix(peaky, PLAIN, measured, target, 'gain', [], always)).toMatch(
      /Gain alone cannot fix it/,
    );
    const limited = await correctMix(peaky, PLAIN, measured, target, 'limiter', [], always);
    if (typeof limited === 'string' || !limited) throw new Error(String(limited));
    expect(limited.limiter).not.toBeNull();
    expect(limited.predicted.integratedLufs).toBeCloseTo(-20, 1);
    expect(limited.predicted.truePeakDbtp!).toBeLessThanOrEqual(target.maxTruePeakDbtp + 0.02);
  });
});

describe('files made side by side', () => {
  const sound = memoryReader(tones([{ dbfs: -20, seconds: 9 }], 48_000), 48_000);
  const task = (key: string, write: SoundWriter['write'] = () => Promise.resolve()): FileTask => ({
    ...{ key, sound },
    open: () => Promise.resolve({ write, finish: () => Promise.resolve({ clippedSamples: 0 }) }),
  });

  it('stand by themselves: one that fails and one that is dropped leave the others alone', async () => {
    let pieces = 0;
    const full = (): Promise<void> =>
      ++pieces > 2 ? Promise.reject(new Error('no room')) : Promise.resolve();
    let asked = 0;
    const fates = await produceFiles(
      [task('a'), task('full', full), task('dropped')],
      (key) => key !== 'dropped' || ++asked < 3,
      always,
    );
    expect(fates!.get('a')).toMatchObject({ ok: { clippedSamples: 0 } });
    expect(fates!.get('full')).toEqual({ error: new Error('no room') });
    expect(fates!.get('dropped')).toEqual({ dropped: true });
    const { ok } = fates!.get('a') as { readonly ok: { readonly predicted: { integratedLufs: number } } };
    const measured = figuresOf((await measureReader(sound, always))!.history);
    expect(ok.predicted.integratedLufs).toBeCloseTo(measured.integratedLufs!, 6);
  });

  it('are given up together', async () => {
    let steps = 0;
    expect(await produceFiles([task('a'), task('b')], always, () => ++steps < 2)).toBeNull();
  });
});

describe('a file that was delivered', () => {
  const files = (of: Project, change: Partial<Delivery> = {}) => filesOf(of, delivery(change), TODAY);
  const [whole] = files(project);
  const [opening] = files(project, { range: { kind: 'range', from: 0, to: 40_000 } });
  const later = changeGain(project, new Set(['b']), { kind: 'change', db: -3 });

  it('is stale once the mix within it, its settings or its name change', () => {
    expect(staleReason(whole!, project, project, files(project))).toBeNull();
    expect(staleReason(whole!, project, later, files(later))).toMatch(/mix has changed/);
    expect(
      staleReason(opening!, project, later, files(later, { range: { kind: 'range', from: 0, to: 40_000 } })),
    ).toBeNull();
    expect(staleReason(whole!, project, project, files(project, { headSeconds: 1 }))).toMatch(/settings/);
    expect(staleReason(whole!, project, project, [])).toMatch(/no longer among/);
    const renamed = { ...project, name: 'Reel 2' };
    expect(staleReason(whole!, project, renamed, files(renamed))).toMatch(/Reel 2\.wav now/);
    const longer = { ...project, clips: [...project.clips, testClip({ id: 'z', start: 900_000 })] };
    expect(staleReason(whole!, project, longer, files(longer))).toMatch(/begins or ends elsewhere/);
  });

  it('says when it begins, and where the markers are', () => {
    const timed = { ...project, time: { frameRateId: null, startSeconds: 3_600 } };
    const [marked] = files(timed, {
      range: { kind: 'range', from: 48_000, to: 300_000 },
      ...{ headSeconds: 2, sampleRate: 96_000 },
    });
    const said = fileSaid(timed, marked!, '2026-01-31 21:04:00');
    expect(said.timeReference).toBe((3_600 + 1 - 2) * 96_000);
    expect(said.markers).toEqual([
      { frame: (2 - 1 + 2) * 96_000, label: 'Cold' },
      { frame: (5 - 1 + 2) * 96_000, label: 'Warm' },
    ]);
  });
});

describe('deliveries that are kept', () => {
  const all: readonly Delivery[] = [
    delivery(),
    delivery({ id: 'e', target: null, what: { kind: 'roles' }, range: { kind: 'markers' } }),
    delivery({ id: 'f', what: { kind: 'tracks', trackIds: ['t1'] }, format: asKind(WAV_24, 'opus') }),
    delivery({
      id: 'g',
      what: { kind: 'without', roles: ['music'] },
      range: { kind: 'range', from: 0, to: 9 },
    }),
  ];

  it('are read from a project and from a file as they were', () => {
    expect(projectFault({ ...project, deliveries: all })).toBeNull();
    expect(readDeliveries(writeDeliveries({ name: 'Set', deliveries: all }))).toEqual({
      name: 'Set',
      deliveries: all,
    });
  });

  it('are refused with a reason where they make no sense', () => {
    const broken = { ...all[0]!, correction: 'magic' };
    expect(projectFault({ ...project, deliveries: [broken] })).toMatch(/correction/);
    const foreign = JSON.stringify({ format: 'other', name: 'x', deliveries: all });
    expect(readDeliveries(foreign)).toMatchObject({ error: expect.stringMatching(/format/) as string });
    expect(readDeliveries('what')).toMatchObject({ error: expect.stringMatching(/not JSON/) as string });
  });

  it('come to an older project as the programme in one file', () => {
    const older = Object.fromEntries(Object.entries(project).filter(([key]) => key !== 'deliveries'));
    const { project: read } = readProject({ project: { ...older, schema: 9 }, past: [], future: [] });
    expect(read.schema).toBe(SCHEMA_VERSION);
    expect(read.deliveries).toEqual([plainDelivery('whole', EBU_R128)]);
  });
});
