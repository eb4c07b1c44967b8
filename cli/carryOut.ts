import { figuresOf } from '@/core/loudness/figures';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import { exactClipPeak, measureClip, type ClipMeasurement } from '@/core/measuring/measureClip';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import {
  type Clip,
  type Id,
  type Limiter,
  type Project,
  type Role,
  type Source,
} from '@/core/programme/model';
import { PLAN_PART_NAMES, type Plan, type PlanPart } from '@/core/programme/plan';
import { withoutCurve } from '@/core/programme/curveReason';
import { clipKey } from '@/core/signal/clipKey';
import { solveLimited } from '@/core/proposals/limitedGain';
import { limitedProgramme } from '@/core/proposals/limitedProgramme';
import { ruledBlocks } from '@/core/proposals/programmeShift';
import { limitedShift, limitedShiftStart, limiterForTarget } from '@/core/proposals/limitedShift';
import { measuredClips, standingMeasurement } from '@/core/proposals/measuredClips';
import {
  carriedOut,
  planProposal,
  planShift,
  planSteps,
  shiftSentence,
  stepSentence,
  type PlanStep,
} from '@/core/proposals/plan';
import { clipSound } from '@/core/signal/clipSound';
import type { OpenSource } from '@/core/signal/source';
import { clock } from '@/core/text/figures';
import { FileError } from './files';
import type { LimiterReport } from './limiting';

/** What carrying out a plan did, as `render --json` says it. */
export interface PlanReport {
  readonly name: string;
  readonly target: string;
  readonly steps: readonly {
    readonly part: PlanPart;
    /** LUFS; `null` when the plan leaves it alone. */
    readonly goal: number | null;
    readonly sentence: string;
    readonly clips: readonly { readonly name: string; readonly gainDb: number; readonly sentence: string }[];
  }[];
  /** By how much every track was moved in the end, dB. */
  readonly shiftDb: number;
  readonly sentence: string;
  readonly limiter: LimiterReport | null;
}

/** Gives tracks their roles. @throws FileError for a track that the cut does not have */
export function withRoles(project: Project, roles: ReadonlyMap<string, Role>): Project {
  const names = new Set(project.tracks.map(({ name }) => name));
  const unknown = [...roles.keys()].find((name) => !names.has(name));
  if (unknown !== undefined)
    throw new FileError(
      'noTrackOfThatName',
      `The cut has no track “${unknown}”; it has ${[...names].map((name) => `“${name}”`).join(', ')}.`,
      'Name its tracks in --roles as the cut does.',
    );
  return {
    ...project,
    tracks: project.tracks.map((track) => ({ ...track, role: roles.get(track.name) ?? track.role })),
  };
}

const always = (): boolean => true;

/** What is measured of each clip, as it is and without its curve, worked out once. */
class Clips {
  private readonly known = new Map<string, ClipMeasurement>();
  private readonly sources: ReadonlyMap<Id, Source>;

  constructor(
    private readonly project: Project,
    private readonly openSource: OpenSource,
  ) {
    this.sources = new Map(project.sources.map((source) => [source.id, source]));
  }

  private open({ sourceId }: Clip) {
    return this.openSource(this.sources.get(sourceId)!);
  }

  async measureAll(onDone: (done: number) => void): Promise<void> {
    for (const [i, clip] of this.project.clips.entries()) {
      for (const one of new Set([clip, withoutCurve(clip)])) {
        const sound = clipSound(this.project, one)!;
        this.known.set(this.key(one), (await measureClip(await this.open(one), sound, always))!);
      }
      onDone((i + 1) / this.project.clips.length);
    }
  }

  private key(clip: Clip): string {
    return clipKey(this.project, clip)!;
  }

  async findExactPeaks(clips: readonly Clip[]): Promise<void> {
    for (const clip of clips.flatMap((one) => [...new Set([one, withoutCurve(one)])])) {
      const measurement = this.known.get(this.key(clip))!;
      const sound = clipSound(this.project, clip)!;
      const peak = await exactClipPeak(await this.open(clip), sound, measurement.truePeaks, always);
      this.known.set(this.key(clip), { ...measurement, exactTruePeakDbtp: peak!.exact });
    }
  }

  get measured() {
    return standingMeasurement(this.project, (clip) => this.known.get(this.key(clip)) ?? null);
  }

  get entries() {
    return measuredClips(this.project, this.project.clips, this.measured);
  }
}

/** The steps of a plan, with every true peak that they rest on known exactly. */
async function stepsOf(project: Project, plan: Plan, clips: Clips): Promise<readonly PlanStep[]> {
  const starts = new Map(project.clips.map(({ id, start }) => [id, start / project.sampleRate]));
  const place = (id: Id, seconds: number): string => clock((starts.get(id) ?? 0) + seconds);
  for (;;) {
    const { measured } = clips;
    const bare = (clip: Clip): ClipMeasurement | null => measured(withoutCurve(clip));
    const steps = planSteps(project, plan, clips.entries, { place, bare });
    const inexact = steps.flatMap((step) => step.inexact);
    if (inexact.length === 0) return steps;
    await clips.findExactPeaks(inexact);
  }
}

async function levelOf(project: Project, openSource: OpenSource) {
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  await measurement.measure(openSource, always);
  const history = measurement.history!;
  return {
    blocks: ruledBlocks(project, gatingBlocks(weightedEnergy(history), project.sampleRate)),
    truePeakDbtp: figuresOf(history).truePeakDbtp,
  };
}

/** The programme to its target by one shift, up to the ceiling or through a limiter. */
async function shifted(
  planned: Project,
  plan: Plan,
  limiter: Limiter | null,
  openSource: OpenSource,
): Promise<Pick<PlanReport, 'shiftDb' | 'sentence' | 'limiter'> & { readonly project: Project }> {
  const level = await levelOf({ ...planned, limiter: null }, openSource);
  const plain = planShift(level, planned);
  if (!plain)
    return {
      ...{ project: carriedOut(planned, plan, 0), shiftDb: 0, limiter: null },
      sentence: 'There is nothing over −70 LUFS in the programme.',
    };
  const start = limiter && limitedShiftStart(level, planned);
  if (!limiter || !start)
    return {
      project: carriedOut(planned, plan, plain.changeDb),
      ...{ shiftDb: plain.changeDb, sentence: shiftSentence(plain, planned), limiter: null },
    };
  const settings = limiterForTarget(planned, limiter);
  const at = limitedProgramme(planned, settings, openSource);
  const [startDb, mostDb] = start;
  const found = (await solveLimited(at, planned.target.integratedLufs, startDb, mostDb, always))!;
  const alone = plain.limitedBy === 'ceiling' ? plain.changeDb : null;
  const [row] = limitedShift(level, planned, settings, found, alone).rows;
  const { maxReductionDb, workingSeconds } = found.work;
  return {
    project: {
      ...carriedOut(planned, plan, found.gainDb),
      limiter: maxReductionDb > 0 ? settings : planned.limiter,
    },
    ...{ shiftDb: found.gainDb, sentence: row!.sentence },
    limiter: { ceilingDbtp: settings.ceilingDbtp, maxReductionDb, workingSeconds },
  };
}

/**
 * Carries out a plan on a programme: every role to its level, then all of it to the target.
 * @param limiter on the programme, for what gain alone cannot reach; `null`: the shift stops at the ceiling
 */
export async function carryOut(
  project: Project,
  plan: Plan,
  limiter: Limiter | null,
  openSource: OpenSource,
  onProgress: (done: number) => void,
): Promise<{ readonly project: Project; readonly report: PlanReport }> {
  const clips = new Clips(project, openSource);
  await clips.measureAll(onProgress);
  const steps = await stepsOf(project, plan, clips);
  const proposal = planProposal(plan, steps, clips.entries);
  const planned = proposal.edit(project, proposal.rows);
  const done = await shifted(planned, plan, limiter, openSource);
  return {
    project: done.project,
    report: {
      name: plan.name,
      target: project.target.id,
      steps: steps.map((step) => ({
        part: step.part,
        goal: step.goal,
        sentence: stepSentence(step),
        clips: step.rows.map(({ name, gainAfterDb, sentence }) => ({ name, gainDb: gainAfterDb, sentence })),
      })),
      ...{ shiftDb: done.shiftDb, sentence: done.sentence, limiter: done.limiter },
    },
  };
}

/** What a plan did, for people. */
export const planLines = ({ name, steps, sentence }: PlanReport): string[] => [
  `Plan ${name}`,
  ...steps.flatMap(({ part, clips, sentence: told }) => [
    `  ${PLAN_PART_NAMES[part]}: ${told}`,
    ...clips.map((clip) => `    ${clip.name}: ${clip.sentence}`),
  ]),
  `  ${sentence}`,
];
