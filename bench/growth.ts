import { performance } from 'node:perf_hooks';
import { STEREO } from '@/core/audio/layout';
import type { AudioReader } from '@/core/audio/reader';
import { checkDetails } from '@/core/check/findings/details';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import { findingsOf, judgedOf } from '@/core/check/findings/findAll';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import { EBU_R128 } from '@/core/check/shipped';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { measuredClip } from '@/core/proposals/proposal';
import { ledgerRow } from '@/core/proposals/ledger';
import { propose } from '@/core/proposals/propose';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { changeGain } from '@/core/programme/edits/gain';
import { moveClips } from '@/core/programme/edits/clips';
import { doStep, startHistory, undoStep } from '@/core/programme/history';
import { PLAIN_CLIP, PLAIN_TRACK, type Clip, type Project } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { memoryReader, noise } from '@/core/testing/signals';
import { clipMeasurementOf } from '@/core/measuring/measureClip';
import { LoudnessMeter } from '@/core/loudness/meter';

const RATE = 48_000;
const TRACKS = 6;
const SECONDS = 10;
const CLIP_COUNTS = [100, 1_000, 10_000] as const;
const HOURS = [1, 4, 12] as const;

/** The least of several times, ms. */
function best(work: () => void, runs = 7): number {
  const took = Array.from({ length: runs }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
  return Math.min(...took);
}

/** How the cost grows with the size between the last two: 1 is with it, 0 not at all. */
const exponent = (sizes: readonly number[], costs: readonly number[]): number =>
  Math.log(costs.at(-1)! / costs.at(-2)!) / Math.log(sizes.at(-1)! / sizes.at(-2)!);

function row(what: string, sizes: readonly number[], costs: readonly number[]): string {
  const ratios = costs.map((cost) => `${(cost / costs[0]!).toFixed(1)} ×`.padStart(10));
  return `  ${what.padEnd(44)}${`${costs[0]!.toFixed(3)} ms`.padStart(12)}${ratios.slice(1).join('')}${exponent(sizes, costs).toFixed(2).padStart(10)}`;
}

const head = (what: string, sizes: readonly number[], unit: string): string =>
  `  ${what.padEnd(44)}${`at ${sizes[0]} ${unit}`.padStart(12)}${sizes
    .slice(1)
    .map((size) => `${size.toLocaleString('en')}`.padStart(10))
    .join('')}${'exponent'.padStart(10)}`;

/** A programme of so many clips, one after the other on six tracks. */
function programmeOf(count: number): Project {
  const tracks = Array.from({ length: TRACKS }, (_, i) => ({
    ...PLAIN_TRACK,
    ...{ id: `t${i}`, name: `Track ${i}`, role: 'dialogue' as const },
  }));
  const clips = Array.from({ length: count }, (_, i): Clip => ({
    ...PLAIN_CLIP,
    ...{ id: `c${i}`, trackId: `t${i % TRACKS}`, sourceId: 's', name: `clip ${i}` },
    ...{ start: Math.floor(i / TRACKS) * SECONDS * RATE, length: SECONDS * RATE, sourceStart: 0 },
  }));
  return { ...newProject('p', 'Growth', 'p'), tracks, clips };
}

async function byClips(): Promise<string[]> {
  const meter = new LoudnessMeter(STEREO, RATE);
  meter.push([noise(SECONDS * RATE, 0.1, 1), noise(SECONDS * RATE, 0.1, 2)]);
  const sound = clipMeasurementOf(meter.finish());
  const projects = CLIP_COUNTS.map(programmeOf);
  const one = new Set(['c50']);
  const all = projects.map(({ clips }) => new Set(clips.map(({ id }) => id)));
  const costs = (work: (project: Project, i: number) => () => void): number[] =>
    projects.map((project, i) => best(work(project, i)));
  const entries = projects.map(({ clips }) => clips.map((clip) => measuredClip(clip, sound)));
  const request = {
    ...({ measure: 'integrated', mode: 'each', goal: -23, ceilingDbtp: -1, policy: 'stop' } as const),
    ...{ spokenOnly: false, floorLufs: -50 },
  };
  const raise = { kind: 'change', db: 1 } as const;
  const edited = (project: Project): Project => changeGain(project, one, raise);
  const rows = [
    [
      'a gain of one clip, as a step',
      costs((project) => () => void doStep(startHistory(project), 'Gain', edited)),
    ],
    [
      'the same of all clips',
      costs(
        (project, i) => () =>
          void doStep(startHistory(project), 'Gain', (now) => changeGain(now, all[i]!, raise)),
      ),
    ],
    [
      'moving one clip',
      costs((project) => () => void doStep(startHistory(project), 'Move', (now) => moveClips(now, one, 480))),
    ],
    [
      'undoing a gain of one',
      costs((project) => {
        const history = doStep(startHistory(project), 'Gain', edited);
        return () => void undoStep(history);
      }),
    ],
    [
      'what an edit of one dirties',
      costs((project) => {
        const measurement = new ProgrammeMeasurement();
        measurement.update(project);
        let now = project;
        return () => {
          now = edited(now);
          measurement.update(now);
        };
      }),
    ],
    ['the project as it is stored', costs((project) => () => void JSON.stringify(project))],
    ['a proposal for all clips', costs((_, i) => () => void propose(entries[i]!, request))],
    [
      'the rows of the ledger',
      costs((_, i) => () => entries[i]!.forEach((entry) => ledgerRow(entry, EBU_R128))),
    ],
  ] as const;
  return [
    head('by clips of 10 s', CLIP_COUNTS, 'clips'),
    ...rows.map(([what, found]) => row(what, CLIP_COUNTS, found)),
  ];
}

/** Sound as long as one likes that takes no room: a minute of noise, over and over. */
function longReader(hours: number, rate: number): AudioReader {
  const minute = memoryReader([noise(60 * rate, 0.1, 3), noise(60 * rate, 0.1, 4)], rate);
  const frames = hours * 3_600 * rate;
  return {
    format: { ...minute.format, frames },
    async read(start, count) {
      const channels = [0, 1].map(() => new Float32Array(count));
      for (let done = 0; done < count;) {
        const from = (start + done) % minute.format.frames;
        const length = Math.min(count - done, minute.format.frames - from);
        const part = await minute.read(from, length);
        channels.forEach((channel, c) => channel.set(part[c]!, done));
        done += length;
      }
      return channels;
    },
  };
}

async function byHours(): Promise<string[]> {
  // Findings go by tenths and fiftieths of a second, whatever the rate: a low one is measured sooner.
  const rate = 8_000;
  const [figures, findings, details]: [number[], number[], number[]] = [[], [], []];
  for (const hours of HOURS) {
    const reader = longReader(hours, rate);
    const measured = (await measureReader(reader, () => true))!;
    const material = fileMaterial(measured, reader.format, null);
    figures.push(best(() => void figuresOf(measured.history), 2));
    findings.push(best(() => void findingsOf(material, judgedOf(material), EBU_R128, USUAL_THRESHOLDS), 2));
    details.push(best(() => void checkDetails(material), 2));
  }
  return [
    head('by hours', HOURS, 'h'),
    row('all figures', HOURS, figures),
    row('all findings', HOURS, findings),
    row('figures of the check with their places', HOURS, details),
  ];
}

/** How what an editor waits for grows with the programme. */
export async function benchGrowth(): Promise<string[]> {
  return ['Growth', ...(await byClips()), ...(await byHours())];
}
