import { programmeMaterial } from '@/core/check/findings/programmeMaterial';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';
import { subBlockCount } from '@/core/loudness/subBlocks';
import { measureEach } from '@/core/measuring/measureEach';
import { measureMoving } from '@/core/measuring/measureMoving';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { spokenClips } from '@/core/programme/dialogue';
import { programmeFrames, type Project } from '@/core/programme/model';
import { CLICK_LIMITS, findClicks } from '@/core/proposals/clicks';
import { makeWorkshop, type Hands } from '@/core/proposals/fixes/makeWorkshop';
import type { Workshop } from '@/core/proposals/fixes/workshop';
import type { OpenSource } from '@/core/signal/source';

const always = (): boolean => true;

/** A workshop over a programme, measured from its start. */
export async function workshopFor(project: Project, target: Target, open: OpenSource): Promise<Workshop> {
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  await measurement.measure(open, always);
  const hands: Hands = {
    finish: async (fork) => void (await fork.measure(open, always)),
    moving: async (state, moving, range) => (await measureMoving(state, moving, range, open, always))!,
    each: (state, range) => measureEach(state, range, open),
  };
  const spoken = new Set(spokenClips(project).map(({ id }) => id));
  const whole = { from: 0, to: subBlockCount(programmeFrames(project), project.sampleRate) };
  const sums = spoken.size > 0 ? await hands.moving(project, { kind: 'gain', ids: spoken }, whole) : null;
  const [rest, , speech] = sums?.energies ?? [];
  const apart = rest && speech ? { rest, speech } : null;
  const clicks = (await findClicks(project, CLICK_LIMITS, open, always))!;
  const none = { clipped: [], dropOuts: [], clicks: [] };
  const measured = { history: measurement.history!, signal: measurement.signal!, apart };
  return makeWorkshop(
    project,
    measurement,
    {
      ...{ target, thresholds: USUAL_THRESHOLDS, clicks },
      material: programmeMaterial(project, measured, none, clicks),
    },
    hands,
  );
}
