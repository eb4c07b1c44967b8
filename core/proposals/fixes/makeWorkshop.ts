import { PEAK_BLOCKS_PER_SECOND, PEAK_SUB_BLOCKS, subBlockCount } from '@/core/loudness/subBlocks';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import { gainMoved } from '@/core/measuring/gainMoved';
import { allMoving } from '@/core/measuring/measureMoving';
import type { ClipShare } from '@/core/measuring/measureEach';
import type { Moving } from '@/core/measuring/moving';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { spokenClips } from '@/core/programme/dialogue';
import { programmeFrames, type Id, type Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { heardClips, heardWithin } from '@/core/signal/audible';
import { TriedState, type ClipOver, type Workshop } from './workshop';

/** The hands that render and measure for a workshop. */
export interface Hands {
  /** Measures all that is dirty. */
  readonly finish: (measurement: ProgrammeMeasurement) => Promise<void>;
  readonly moving: (project: Project, moving: Moving, range: SubBlockRange) => Promise<MovingSums>;
  /** See `measureEach`. */
  readonly each: (project: Project, range: SubBlockRange) => Promise<ReadonlyMap<Id, ClipShare>>;
}

/** The sub-blocks of a range, in whole peak blocks. */
const blocksOf = (project: Project, { from, to }: TimeRange): SubBlockRange => ({
  from: Math.max(0, Math.floor(from * PEAK_BLOCKS_PER_SECOND)) * PEAK_SUB_BLOCKS,
  to: Math.min(
    subBlockCount(programmeFrames(project), project.sampleRate),
    Math.ceil(to * PEAK_BLOCKS_PER_SECOND) * PEAK_SUB_BLOCKS,
  ),
});

/** A workshop over a programme that stands measured. @param measurement all of it measured; it is left as it is */
export function makeWorkshop(
  project: Project,
  measurement: ProgrammeMeasurement,
  known: Omit<Workshop, 'project' | 'tryOut' | 'clipsOver' | 'apartWith'>,
  { finish, moving, each }: Hands,
): Workshop {
  const { sampleRate } = project;
  const linear = withoutLimiters(project);
  const own = new Map(project.clips.map((clip) => [clip.id, clip]));
  return {
    ...known,
    project,
    async tryOut(edited) {
      const fork = measurement.fork();
      const moved = gainMoved(project, edited);
      const sums =
        moved && moved.ids.size === heardClips(project).size ? allMoving(measurement.history!) : null;
      if (moved && sums) fork.updateByGain(edited, sums, moved.changeDb);
      else fork.update(edited);
      await finish(fork);
      return new TriedState(fork.history!);
    },
    async apartWith(edited, range) {
      const { apart } = known.material;
      if (!apart) return null;
      const state = withoutLimiters(edited);
      const ids = new Set(spokenClips(state).map(({ id }) => id));
      const { from, energies } = await moving(state, { kind: 'gain', ids }, blocksOf(project, range));
      const put = (whole: Float64Array, part: Float64Array): Float64Array => {
        const changed = whole.slice();
        changed.set(part.subarray(0, Math.max(0, changed.length - from)), from);
        return changed;
      };
      return { speech: put(apart.speech, energies[2]!), rest: put(apart.rest, energies[0]!) };
    },
    async clipsOver(range) {
      const { from, to } = range;
      const span = { from: Math.round(from * sampleRate), to: Math.round(to * sampleRate) };
      const shares = await each(linear, blocksOf(project, range));
      return heardWithin(linear, span)
        .flatMap(({ clip: { id } }): ClipOver[] => {
          const share = shares.get(id);
          return share ? [{ clip: own.get(id)!, ...share }] : [];
        })
        .sort((a, b) => b.energy - a.energy);
    },
  };
}
