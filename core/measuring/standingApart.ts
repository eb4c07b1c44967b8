import { subBlockCount } from '@/core/loudness/subBlocks';
import { spokenClips } from '@/core/programme/dialogue';
import { programmeFrames, type Id, type Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { areAlike, soundDifferences } from '@/core/signal/differences';
import { addRange, touchedBlocks, type SubBlockRange } from './dirtyRanges';
import { sameIds } from './moving';
import type { MovingSums } from './movingSums';

/** Speech and the rest of a programme by themselves, before limiters, kept up to date range by range. */
export class StandingApart {
  private of: Project | null = null;
  private ids: ReadonlySet<Id> = new Set();
  private dirty: readonly SubBlockRange[] = [];
  private energies = { speech: new Float64Array(0), rest: new Float64Array(0) };

  /** Takes over a state of the programme. @returns the ranges that have to be measured; `null` where nobody speaks */
  update(project: Project): readonly SubBlockRange[] | null {
    const linear = withoutLimiters(project);
    const ids = new Set(spokenClips(linear).map(({ id }) => id));
    if (ids.size === 0) return null;
    const { of } = this;
    const frames = programmeFrames(linear);
    const count = subBlockCount(frames, linear.sampleRate);
    const same =
      of !== null && areAlike(of, linear) && programmeFrames(of) === frames && sameIds(ids, this.ids);
    if (!same) {
      this.energies = { speech: new Float64Array(count), rest: new Float64Array(count) };
      this.dirty = addRange([], { from: 0, to: count });
    } else {
      for (const span of soundDifferences(of, linear))
        this.dirty = addRange(this.dirty, touchedBlocks(span, linear.sampleRate, frames));
    }
    this.of = linear;
    this.ids = ids;
    return this.dirty;
  }

  /** The clips that speak, in the state to be measured. */
  get moving(): { readonly project: Project; readonly ids: ReadonlySet<Id> } {
    return { project: this.of!, ids: this.ids };
  }

  /** Takes what was measured of ranges of that state. @param sums by gain of the clips that speak; of all that was dirty */
  put(sums: readonly MovingSums[]): void {
    const { speech, rest } = this.energies;
    const fit = (target: Float64Array, values: Float64Array, at: number): void =>
      target.set(values.subarray(0, Math.max(0, target.length - at)), at);
    for (const { from, energies } of sums) {
      fit(rest, energies[0]!, from);
      fit(speech, energies[2]!, from);
    }
    this.dirty = [];
  }

  /** Weighted energy of every sub-block, before limiters. */
  get levels(): { readonly speech: Float64Array; readonly rest: Float64Array } {
    return this.energies;
  }
}
