import Ajv2020 from 'ajv/dist/2020';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkFile } from '@/core/check/fileCheck';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { everyHop, shortTermWindows } from '@/core/loudness/windows';
import { plainDelivery } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { renderRange } from '@/core/signal/mix';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { memoryReader } from '@/core/testing/signals';
import { figure } from '@/core/text/figures';
import { filesOf } from '../deliveryFiles';
import type { HandedOver } from '../handoverReport';
import { fileReport } from './fileReport';
import { reportBlocks } from './document';
import { reportHtml } from './html';
import schema from './report.schema.json';
import { programmeReport, type ReportMaterial } from './report';

const project: Project = {
  ...testProject([testClip({ id: 'a' }), testClip({ id: 'b', sourceId: 's1', start: 240_000 })]),
  name: 'Frostline',
  otherTargets: [SHIPPED_TARGETS[1]!],
};
const FRAMES = 240_000 + 4 * 48_000;

async function measured() {
  const samples = await renderRange(project, openTestSource, 0, FRAMES);
  const { history } = (await measureReader(memoryReader(samples, 48_000), () => true))!;
  const shortTerm = everyHop(shortTermWindows(weightedEnergy(history), 48_000));
  return { figures: figuresOf(history), shortTerm: Float64Array.from(shortTerm) };
}
const { figures, shortTerm } = await measured();

const [file] = filesOf(project, plainDelivery('d', EBU_R128), '2026-01-31');
const handed = (change: Partial<HandedOver> = {}): HandedOver => ({
  ...{ file: file!, name: file!.name, savedAs: null, at: '2026-01-31 21:04:00', bytes: 1_234_567 },
  ...{ sha256: 'ab12', project, predicted: figures, figures, verdict: verdictOf(figures, EBU_R128) },
  ...{
    gainDb: 0,
    corrected: null,
    wrong: [],
    codecOver: null,
    sum: null,
    stale: null,
    receipts: [],
    ...change,
  },
});
const material = (change: Partial<ReportMaterial> = {}): ReportMaterial => ({
  ...{ project, figures, shortTerm, checked: null, files: [handed()] },
  ...{ version: '9.9', made: '2026-01-31 21:05:00', ...change },
});

describe('a report', () => {
  it('says what was measured and judged, and nothing else', () => {
    const report = programmeReport(material());
    expect(report.figures).toBe(figures);
    expect(report.targets.map(({ id }) => id)).toEqual([EBU_R128.id, SHIPPED_TARGETS[1]!.id]);
    expect(report.targets[0]).toMatchObject({
      meets: verdictOf(figures, EBU_R128).meets,
      figures: verdictOf(figures, EBU_R128).figures,
    });
    expect(report.files[0]!.figures).toBe(figures);
    expect(report.findings).toBeNull();
    expect(report.clips.map(({ name, from, to }) => [name, from, to])).toEqual([
      ['a', 0, 4],
      ['b', 5, 9],
    ]);
    // It can be kept as data.
    expect(JSON.parse(JSON.stringify(report))).toEqual(report);
  });

  it('names every process that works on clips, tracks and the programme', () => {
    const limiter = { ...SPEECH_AND_MUSIC, ceilingDbtp: -2 };
    const [a, b] = project.clips;
    const busy: Project = {
      ...project,
      limiter,
      tracks: project.tracks.map((track, i) => (i === 0 ? { ...track, curve: [{ at: 0, db: -1 }] } : track)),
      clips: [
        { ...a!, trimDb: 1.5, fadeIn: 24_000, balance: -0.2, limiter: { ...limiter, bypassed: true } },
        { ...b!, fadeOut: 48_000, curve: [{ at: 0, db: -3 }], limiter },
      ],
    };
    const { clips, processing } = programmeReport(material({ project: busy }));
    expect(clips.map((clip) => clip.processing)).toEqual([
      ['trim of +1.50 dB', 'fade-in of 0.50 s', 'balance 20 % left'],
      ['gain over time (1 point)', 'fade-out of 1.00 s', 'limiter at −2.0 dBTP'],
    ]);
    expect(processing).toEqual([
      { track: project.tracks[0]!.name, steps: ['gain over time (1 point)'] },
      { track: null, steps: ['limiter at −2.0 dBTP'] },
    ]);
    expect(programmeReport(material()).processing).toEqual([]);
  });

  it('is headed by what was delivered, over the programme that it was made from', () => {
    const head = (files: readonly HandedOver[]) =>
      reportBlocks(programmeReport(material({ files })), false)
        .flatMap((block) => (block.kind === 'verdict' ? [block] : []))
        .map(({ outcome, text }) => [outcome, text]);
    const meets = { ...verdictOf(figures, EBU_R128), outcome: 'meets', meets: true } as const;
    const misses = { ...meets, outcome: 'misses', meets: false } as const;
    const whole = { ...meets, outcome: 'notWhole', meets: null } as const;
    const of = (...verdicts: HandedOver['verdict'][]) => head(verdicts.map((verdict) => handed({ verdict })));
    expect(of(meets)).toEqual([['meets', '1 delivered file, judged by its target']]);
    expect(of(meets, null, misses)).toEqual([['misses', '1 of 2 delivered files meets its target']]);
    expect(of(misses, whole)[0]![0]).toBe('notWhole');
    // Nothing was judged: the programme itself.
    expect(of(null)[0]![1]).toMatch(/^EBU R 128: /);
  });

  it('keeps the highest of a long course', () => {
    const long = new Float64Array(50_000).map((_, k) => 1e-4 + (k === 31_337 ? 1e-2 : 0));
    const { course } = programmeReport(material({ shortTerm: long }));
    expect(course.shortTermLufs.length).toBeLessThanOrEqual(1_200);
    expect(course.stepSeconds * course.shortTermLufs.length).toBeGreaterThanOrEqual(5_000);
    expect(Math.max(...course.shortTermLufs.map((value) => value ?? -99))).toBeCloseTo(-20.69, 1);
  });
});

describe('as data', () => {
  const validate = new Ajv2020({ strict: true, allowUnionTypes: true }).compile(schema);

  it('is what its published schema says, on a programme and on a finished file', async () => {
    const receipt = {
      ...{ number: 'N-1', recipient: 'Kestrel Radio', accepted: false, at: '2026-01-31 21:09:00' },
      sha256: '0'.repeat(64),
      requirements: [{ requirement: 'Depth', asked: '24-bit', found: '16-bit', meets: false }],
    };
    const samples = await renderRange(project, openTestSource, 0, FRAMES);
    const whole = (await measureReader(memoryReader(samples, 48_000), () => true))!;
    const sound = fileMaterial(whole, memoryReader(samples, 48_000).format, [{ from: 0, to: 4 }]);
    const check = checkFile(sound, SHIPPED_TARGETS, USUAL_THRESHOLDS);
    const facts = { container: 'WAV', codec: 'PCM', bytes: 12, sha256: '0'.repeat(64) };
    const ofFile = fileReport({
      ...{ name: 'a.wav', facts, material: sound, check, fixes: ['Mend it.'], version: '1', made: 'now' },
    });
    expect(ofFile.findings!.length).toBeGreaterThan(0);
    expect(ofFile.dialogue).not.toBeNull();
    for (const report of [
      programmeReport(material()),
      programmeReport(material({ files: [handed({ receipts: [receipt], verdict: null })] })),
      ofFile,
    ]) {
      validate(JSON.parse(JSON.stringify(report)));
      expect(validate.errors).toBeNull();
    }
    const html = reportHtml(programmeReport(material({ files: [handed({ receipts: [receipt] })] })), false);
    expect(html).toContain('Not accepted by Kestrel Radio, receipt N-1: depth is 16-bit, asked for: 24-bit.');
    expect(reportHtml(ofFile, true)).toContain('Findings: ');
    expect(reportHtml(ofFile, true)).not.toContain('No file was handed over');
  });

  it('with anything else in it is another', () => {
    expect(validate({ ...programmeReport(material()), more: 1 })).toBe(false);
    expect(validate({ ...programmeReport(material()), figures: {} })).toBe(false);
  });
});

describe('its page', () => {
  const report = programmeReport(material());

  it('has every figure that was judged, the files with their checksums, and a course', () => {
    for (const full of [false, true]) {
      const html = reportHtml(report, full);
      for (const { figures: told } of report.targets)
        for (const { value } of told) expect(html).toContain(figure(value));
      expect(html).toContain('ab12');
      expect(html).toContain('2026-01-31 21:05:00');
      expect(html).toContain('Dengung 9.9');
      expect(html).toMatch(/<path d="M[\d. ]+L/);
      expect(html).not.toMatch(/NaN|undefined|\[object/);
      expect(html.includes('Clips: 2')).toBe(full);
    }
  });

  it('is a page of silence where there is nothing', () => {
    const empty = { ...project, clips: [], sources: [] };
    const silent = { ...figures, integratedLufs: null, truePeakDbtp: null };
    const nothing = material({ project: empty, figures: silent, shortTerm: new Float64Array(), files: [] });
    const html = reportHtml(programmeReport(nothing), true);
    expect(html).toContain('No file was handed over yet');
    expect(html).not.toMatch(/NaN|undefined/);
  });

  it('shows names as they are, whatever they hold', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'binary', maxLength: 80 }),
          fc.constant('</title><script>alert(1)</script>'),
          fc.constant('"><img src=x onerror=alert(1)>'),
        ),
        (name) => {
          const hostile = {
            ...project,
            name,
            clips: project.clips.map((clip) => ({ ...clip, name })),
            target: { ...EBU_R128, name },
          };
          const html = reportHtml(
            programmeReport(material({ project: hostile, files: [handed({ name, corrected: name })] })),
            true,
          );
          const tags = html.match(/<[a-z!/][^>]*>/gi) ?? [];
          expect(tags.filter((tag) => /^<\/?(script|img|iframe|a|link)\b|\son\w+=/i.test(tag))).toEqual([]);
        },
      ),
    );
  });
});
